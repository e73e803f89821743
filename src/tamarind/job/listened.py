"""What of a recording a person has listened to, as spans of time in order."""

from __future__ import annotations

from collections.abc import Sequence

Spans = tuple[tuple[int, int], ...]

JOINED_MS = 400
"""Spans that are no further apart than this become one."""


def with_span(spans: Sequence[tuple[int, int]], start: int, end: int) -> Spans:
    """The spans with another one, from ``start`` to ``end`` (ms); what touches becomes one."""
    if end <= start:
        return tuple(spans)
    before = tuple(span for span in spans if span[1] < start - JOINED_MS)
    after = tuple(span for span in spans if span[0] > end + JOINED_MS)
    touched = spans[len(before) : len(spans) - len(after)]
    first = min([start, *(span[0] for span in touched)])
    last = max([end, *(span[1] for span in touched)])
    return (*before, (first, last), *after)


def share(spans: Sequence[tuple[int, int]], start: int, end: int) -> float:
    """How much of the time from ``start`` to ``end`` has been listened to, 0 to 1."""
    heard = sum(max(min(last, end) - max(first, start), 0) for first, last in spans)
    return min(heard / max(end - start, 1), 1.0)
