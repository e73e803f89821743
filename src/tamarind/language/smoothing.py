"""Propose cuts that make an excerpt sound smooth: fillers, false starts, repetitions, long
pauses."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from itertools import pairwise

from tamarind.language.clean import disfluencies
from tamarind.transcript.excerpts import Excerpt, Span, words_of
from tamarind.transcript.model import Transcript, text_of

LONG_PAUSE_MS = 1_000
KEPT_PAUSE_MS = 500
"""What is left of a pause that is cut: a breath."""

AROUND = 3
"""So many words on each side of a cut are told."""


@dataclass(frozen=True, slots=True)
class ProposedCut:
    """A cut between two times (ms): of words, or of a pause where ``words`` is empty. ``kind`` says
    what it is; ``before`` and ``after`` are the words around it."""

    span: Span
    kind: str
    words: str = ""
    before: str = ""
    after: str = ""


def proposed_cuts(
    text: Transcript, excerpt: Excerpt, fillers: Collection[str]
) -> list[ProposedCut]:
    """Return all possible cuts of an excerpt, in order. Pauses are between words that are kept; if
    another voice speaks there, it is none."""
    said = [word for _, word in words_of(text, excerpt)]

    def proposed(span: Span, kind: str, first: int, last: int) -> ProposedCut:
        """Propose to cut the words [first, last), or a pause if there are none."""
        before, after = said[max(first - AROUND, 0) : first], said[last : last + AROUND]
        return ProposedCut(span, kind, text_of(said[first:last]), text_of(before), text_of(after))

    found = [
        proposed(
            (said[one.first].start, said[one.last - 1].end), one.kind.value, one.first, one.last
        )
        for one in disfluencies([word.text for word in said], fillers)
        if one.last - one.first < len(said)
    ]
    for place, (before, after) in enumerate(pairwise(said), 1):
        cut = any(before.end <= a and b <= after.start for a, b in excerpt.cuts)
        pause = after.start - before.end
        if pause > LONG_PAUSE_MS and not cut:
            half = KEPT_PAUSE_MS // 2
            span = before.end + half, after.start - half
            found.append(proposed(span, f"{pause / 1000:.1f} s of silence", place, place))
    return sorted(found, key=lambda one: one.span)
