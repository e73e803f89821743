"""Match the voices of two recordings."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.diarisation.voiceprint import Voiceprint

Floats = NDArray[np.float32]

SAME_PERSON = 0.89
"""Voices of two recordings whose middles are at least this alike (cosine) may be one person's.
Of people, in one kind of sound: one person 0.82 to 0.93 (a tenth below and above), two in 99.5 of
100 pairs below 0.88."""

CLEARLY = 0.05
"""By so much a voice must be more like the one that it is taken for than like any other."""


def voiceprint_of(speaker: int, middle: Floats) -> Voiceprint:
    """Return the voiceprint of a vector (WIDTH,) of length 1."""
    return Voiceprint.of(speaker, middle.astype("<f2").tobytes())


def same_voices(mine: Sequence[Voiceprint], theirs: Sequence[Voiceprint]) -> dict[int, int]:
    """Return which speakers of a recording are which of another, one to one."""
    mine = [voice for voice in mine if voice.can_be_compared]
    theirs = [voice for voice in theirs if voice.can_be_compared]
    if not mine or not theirs:
        return {}
    likeness = _middles(mine) @ _middles(theirs).T
    found: dict[int, int] = {}
    for row, column in np.argwhere(likeness >= SAME_PERSON):
        beside, below = np.delete(likeness[row], column), np.delete(likeness[:, column], row)
        rival = max(beside.max(initial=-1.0), below.max(initial=-1.0))
        if likeness[row, column] - rival >= CLEARLY:
            found[mine[row].speaker] = theirs[column].speaker
    return found


def _middles(voices: Sequence[Voiceprint]) -> Floats:
    return np.stack([np.frombuffer(voice.data, "<f2").astype(np.float32) for voice in voices])
