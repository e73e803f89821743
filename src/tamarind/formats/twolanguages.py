"""Combine captions in two languages: the lines of one above those of the other."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import replace
from itertools import accumulate

from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import SHORTEST_MS, held, shares


def stacked(upper: Transcript, lower: Transcript) -> Transcript:
    """Return one text whose cues have the lines of both; both must have the same cues."""
    pairs = zip(upper.cues, lower.cues, strict=True)
    return replace(upper, cues=tuple(_both(one, other) for one, other in pairs))


def matched(upper: Transcript, lower: Transcript) -> tuple[Transcript, Transcript]:
    """Return two texts with cues at the same places, made of two that were cut differently.

    A lower cue goes to the upper one that it shares most time with; where there is none it gets an
    empty cue of its own, so that nothing is lost.
    """
    found: list[tuple[Cue, list[Cue]]] = [(cue, []) for cue in upper.cues]
    alone: list[Cue] = []
    free = max((cue.id for cue in upper.cues), default=0) + 1
    for cue, place in zip(lower.cues, _places(upper, lower), strict=True):
        if place is None:
            alone.append(replace(cue, id=free + len(alone)))
        else:
            found[place][1].append(cue)
    pairs = [(cue, _joined(cue, others)) for cue, others in found]
    pairs += [(replace(cue, words=(), breaks=None), cue) for cue in alone]
    pairs.sort(key=lambda pair: pair[0].start)
    return (
        replace(upper, cues=tuple(cue for cue, _ in pairs)),
        replace(lower, cues=tuple(cue for _, cue in pairs)),
    )


def beside(text: Transcript, other: Transcript) -> list[str | None]:
    """Return what stands of another text beside each cue of a text for reading. What shares no time
    with any cue goes to the nearest one; raises ValueError if there is none."""
    texts: list[list[str]] = [[] for _ in text.cues]
    for cue, place in zip(other.cues, _places(text, other), strict=True):
        if place is None:
            gaps = (-_shared(one, cue) for one in text.cues)
            place = min(enumerate(gaps), key=lambda pair: pair[1])[0]
        texts[place].append(" ".join(word.text for word in cue.words))
    return [" ".join(parts) or None for parts in texts]


def _places(upper: Transcript, lower: Transcript) -> list[int | None]:
    """Return for each lower cue the index of the upper one that it shares most time with."""
    starts = [cue.start for cue in upper.cues]
    latest = list(accumulate((cue.end for cue in upper.cues), max))
    places: list[int | None] = []
    for cue in lower.cues:
        near = range(bisect_right(latest, cue.start), bisect_left(starts, cue.end))
        most = max(near, key=lambda place: _shared(upper.cues[place], cue), default=None)
        there = most is not None and _shared(upper.cues[most], cue) > 0
        places.append(most if there else None)
    return places


def _shared(one: Cue, other: Cue) -> int:
    """Return the time that two cues share (ms); a gap between them is negative."""
    return min(one.end, other.end) - max(one.start, other.start)


def _joined(cue: Cue, others: Sequence[Cue]) -> Cue:
    """Return a cue with the words of others, at its own time."""
    words = [word for other in others for word in other.words]
    times = shares([word.text for word in words], cue.start, cue.end, SHORTEST_MS)
    timed = [
        Word(word.text, *span, None, (), word.spans)
        for word, span in zip(words, times, strict=True)
    ]
    return replace(cue, words=held(timed, cue.start, cue.end), breaks=None)


def _both(upper: Cue, lower: Cue) -> Cue:
    """Return a cue with the lower lines after the upper ones; their words share its time."""
    if not upper.words or not lower.words:
        return upper if upper.words else replace(lower, id=upper.id)
    first = len(upper.words)
    begins = (*(upper.breaks or ()), first, *(first + place for place in lower.breaks or ()))
    both = (*upper.words, *lower.words)
    end = max(upper.end, upper.start + len(both))
    times = shares([word.text for word in both], upper.start, end, SHORTEST_MS)
    timed = [
        Word(word.text, *span, None, (), word.spans) for word, span in zip(both, times, strict=True)
    ]
    words = held(timed, upper.start, end)
    return replace(upper, end=end, words=words, breaks=begins)
