"""Combine captions in two languages: the lines of one above those of the other."""

from __future__ import annotations

from dataclasses import replace

from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import SHORTEST_MS, held, shares


def stacked(upper: Transcript, lower: Transcript) -> Transcript:
    """Return one text whose cues have the lines of both; both must have the same cues."""
    pairs = zip(upper.cues, lower.cues, strict=True)
    return replace(upper, cues=tuple(_both(one, other) for one, other in pairs))


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
