"""Find sounds that matter: loud stretches without speech, and which of them are music.

What is loud is held against the quiet of the same recording (short-time energy). Music is told by
tones that stand for a while: of its spectrum little is flat, and the same peaks go on from frame to
frame (after E. Scheirer and M. Slaney, "Construction and evaluation of a robust multifeature
speech/music discriminator", 1997, whose features these two are kin to).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE

FRAME_MS = 50
ABOVE_QUIET_DB = 15.0
"""How much louder than the quiet of the recording a sound is that is noticed."""

BELOW_SPEECH_DB = 24.0
"""What is so much softer than speech is no sound that matters."""

SHORTEST_MS = 350
JOINED_MS = 400
AROUND_SPEECH_MS = 250
"""Breath, and what a word's end leaves in the room."""

MUSIC_MS = 2_500
FLAT = 0.12
"""Geometric by arithmetic mean of a spectrum: noise has some 0.5, tones next to nothing."""

STEADY = 0.4
"""Share of the strongest peaks that go on into the next frame."""

Span = tuple[int, int]


class SoundKind(StrEnum):
    """The kind of a sound, as far as it can be told."""

    MUSIC = "music"
    SOUND = "sound"


@dataclass(frozen=True, slots=True)
class SoundEvent:
    """A sound from ``start`` to ``end`` (ms); ``level`` is how far it is above the background
    (dB)."""

    start: int
    end: int
    kind: SoundKind
    level: float


def sound_events(samples: Samples, speech: Sequence[Span]) -> list[SoundEvent]:
    """Return the loud stretches of a sound (mono, 16 kHz) in order, outside ``speech`` (from, to;
    ms)."""
    levels = _levels(samples)
    if not len(levels):
        return []
    spoken = np.zeros(len(levels), bool)
    for start, end in speech:
        first = max((start - AROUND_SPEECH_MS) // FRAME_MS, 0)
        spoken[first : -(-(end + AROUND_SPEECH_MS) // FRAME_MS)] = True
    free = levels[~spoken]
    if not len(free):
        return []
    quiet = float(np.quantile(levels, 0.05))
    voiced = float(np.median(levels[spoken])) if spoken.any() else quiet + BELOW_SPEECH_DB
    least = max(quiet + ABOVE_QUIET_DB, voiced - BELOW_SPEECH_DB)
    loud = (levels > least) & ~spoken
    found = []
    for first, last in _runs(loud, JOINED_MS // FRAME_MS):
        # What lies between two sounds may be speech.
        if spoken[first:last].any():
            continue
        start, end = first * FRAME_MS, last * FRAME_MS
        if end - start < SHORTEST_MS:
            continue
        part = np.asarray(samples[start * SAMPLE_RATE // 1000 : end * SAMPLE_RATE // 1000])
        above = float(np.median(levels[first:last][loud[first:last]])) - quiet
        found.append(SoundEvent(start, end, _kind(part, end - start), above))
    return found


def _levels(samples: Samples) -> NDArray[np.float64]:
    """Return the level (dB) of each frame, computed in pieces, since the sound may be long."""
    size = SAMPLE_RATE * FRAME_MS // 1000
    count = len(samples) // size
    levels = np.empty(count)
    for first in range(0, count, 10_000):
        last = min(first + 10_000, count)
        block = np.asarray(samples[first * size : last * size], np.float64).reshape(-1, size)
        levels[first:last] = 10 * np.log10(np.mean(block**2, axis=1) + 1e-10)
    return levels


def _runs(loud: NDArray[np.bool_], joined: int) -> list[Span]:
    """Return stretches of frames, joining those near each other."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], loud.astype(np.int8), [0]))))
    runs: list[Span] = []
    for first, last in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        if runs and first - runs[-1][1] <= joined:
            runs[-1] = runs[-1][0], last
        else:
            runs.append((first, last))
    return runs


def _kind(part: Samples, length: int) -> SoundKind:
    if length < MUSIC_MS:
        return SoundKind.SOUND
    size = 2_048
    count = len(part) // size
    frames = part[: count * size].reshape(count, size) * np.hanning(size)
    power = np.abs(np.fft.rfft(frames, axis=1))[:, 8:800] ** 2 + 1e-12
    flat = np.exp(np.mean(np.log(power), axis=1)) / np.mean(power, axis=1)
    peaks = np.argsort(power, axis=1)[:, -6:]
    steady = [
        float(np.mean([np.min(np.abs(after - peak)) <= 1 for peak in before]))
        for before, after in pairwise(peaks)
    ]
    tonal = float(np.median(flat)) < FLAT and float(np.mean(steady or [0.0])) > STEADY
    return SoundKind.MUSIC if tonal else SoundKind.SOUND
