"""Which parts of a recording a person has listened to, as time spans in order."""

from __future__ import annotations

from collections.abc import Sequence

Spans = tuple[tuple[int, int], ...]

JOINED_MS = 400
"""Spans that are no further apart than this become one."""


def with_span(spans: Sequence[tuple[int, int]], start: int, end: int) -> Spans:
    """Return the spans with another one, from ``start`` to ``end`` (ms); those that touch become
    one."""
    if end <= start:
        return tuple(spans)
    before = tuple(span for span in spans if span[1] < start - JOINED_MS)
    after = tuple(span for span in spans if span[0] > end + JOINED_MS)
    touched = spans[len(before) : len(spans) - len(after)]
    first = min([start, *(span[0] for span in touched)])
    last = max([end, *(span[1] for span in touched)])
    return (*before, (first, last), *after)


def share(spans: Sequence[tuple[int, int]], start: int, end: int) -> float:
    """Return the share (0 to 1) of the time from ``start`` to ``end`` that has been listened to."""
    heard = sum(max(min(last, end) - max(first, start), 0) for first, last in spans)
    return min(heard / max(end - start, 1), 1.0)
