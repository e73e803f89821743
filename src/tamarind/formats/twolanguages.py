"""Captions in two languages at a time: the lines of one above those of the other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import held, spread


def stacked(upper: Transcript, lower: Transcript) -> Transcript:
    """One text whose cues have the lines of both; they must be cut into the same cues."""
    pairs = zip(upper.cues, lower.cues, strict=True)
    return replace(upper, cues=tuple(_both(one, other) for one, other in pairs))


def _both(upper: Cue, lower: Cue) -> Cue:
    """The lower lines follow the upper ones; their words share the time of the cue."""
    if not upper.words or not lower.words:
        return upper if upper.words else replace(lower, id=upper.id)
    first = len(upper.words)
    begins = (*(upper.breaks or ()), first, *(first + place for place in lower.breaks or ()))
    tokens: Sequence[str] = [word.text for word in (*upper.words, *lower.words)]
    end = max(upper.end, upper.start + len(tokens))
    words = held(spread(tokens, upper.start, end), upper.start, end)
    return replace(upper, end=end, words=words, breaks=begins)
