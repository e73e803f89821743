"""Place windows over all speech in a sound, and embed them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.activity import speech_of
from tamarind.speech.cores import side_by_side
from tamarind.speech.diarisation.encoder import BANDS, STEPS, VoiceEncoder, bands, gain_for
from tamarind.speech.diarisation.voiceprint import WIDTH

STEP_MS = 10
APART, FURTHEST, WINDOWS = 60, 120, 800
"""Steps from one window to the next where there are few (0.6 s), and at most; where there is more
speech than so many windows are needed for, they lie further apart."""

LEAST = 25
"""Speech of fewer steps says nothing about a voice."""

BRIDGED_MS = 250
"""A pause that is shorter does not end a saying."""

BATCH = 32


@dataclass(frozen=True, slots=True)
class EmbeddedSpans:
    """``vectors`` (n, WIDTH) of length 1, and the time ``spans`` (n, 2) in ms that they stand
    for."""

    vectors: NDArray[np.float32]
    spans: NDArray[np.int64]

    def __len__(self) -> int:
        return len(self.vectors)

    def within(self, start: int, end: int) -> EmbeddedSpans:
        """Return those whose spans reach between two times (ms)."""
        chosen = (self.spans[:, 0] < end) & (self.spans[:, 1] > start)
        return EmbeddedSpans(self.vectors[chosen], self.spans[chosen])


NO_POINTS = EmbeddedSpans(np.zeros((0, WIDTH), np.float32), np.zeros((0, 2), np.int64))


def points_of(
    sound: Samples, encoder: VoiceEncoder, threads: int
) -> Iterator[tuple[float, EmbeddedSpans]]:
    """Yield the progress (0 to 1) and the points of the next stretch.

    A saying shorter than a window is looked at as if it were said over and over.
    """
    speech = _sayings(speech_of(sound))
    places = _places(speech)
    if not len(places):
        return
    # The level is that of the speech: how much silence is around it must not matter.
    energy = sum(float(np.sum(np.square(s, dtype=np.float64))) for s in _cut(sound, speech))
    length = sum(len(s) for s in _cut(sound, speech))
    seen = bands(sound) * np.float32(gain_for(energy / max(length, 1)))
    at_once = BATCH * threads
    for first in range(0, len(places), at_once):
        own = places[first : first + at_once]
        batches = [own[at : at + BATCH] for at in range(0, len(own), BATCH)]
        vectors = side_by_side(lambda batch: encoder(_windows(seen, batch)), batches, threads)
        yield (
            min((first + at_once) / len(places), 1.0),
            EmbeddedSpans(np.concatenate(vectors), own * STEP_MS),
        )


def joined(parts: Sequence[EmbeddedSpans]) -> EmbeddedSpans:
    """Return the points of all parts in order."""
    if not parts:
        return NO_POINTS
    return EmbeddedSpans(
        np.concatenate([part.vectors for part in parts]),
        np.concatenate([part.spans for part in parts]),
    )


def _sayings(speech: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return stretches of speech (ms), including short pauses."""
    sayings: list[tuple[int, int]] = []
    for start, end in speech:
        if sayings and start - sayings[-1][1] < BRIDGED_MS:
            sayings[-1] = (sayings[-1][0], end)
        else:
            sayings.append((start, end))
    return sayings


def _places(sayings: Sequence[tuple[int, int]]) -> NDArray[np.int64]:
    """Return the steps of each window as [first, last), (n, 2)."""
    places: list[tuple[int, int]] = []
    spoken = sum(end - start for start, end in sayings) // STEP_MS
    apart = min(max(spoken // WINDOWS, APART), FURTHEST)
    for start, end in sayings:
        first, last = start // STEP_MS, end // STEP_MS
        if last - first < LEAST:
            continue
        if last - first <= STEPS:
            places.append((first, last))
            continue
        count = -(-(last - first - STEPS) // apart) + 1
        begins = np.linspace(first, last - STEPS, count).round().astype(int).tolist()
        places += [(begin, begin + STEPS) for begin in begins]
    return np.array(places, np.int64).reshape(-1, 2)


def _windows(seen: NDArray[np.float32], places: NDArray[np.int64]) -> NDArray[np.float32]:
    lengths = np.minimum(places[:, 1], len(seen)) - places[:, 0]
    within = np.arange(STEPS)[None] % np.maximum(lengths, 1)[:, None]
    chosen = seen[np.minimum(places[:, :1] + within, len(seen) - 1)]
    return np.asarray(chosen.reshape(-1, STEPS, BANDS), np.float32)


def _cut(sound: Samples, speech: Sequence[tuple[int, int]]) -> Iterator[Samples]:
    for start, end in speech:
        yield sound[start * SAMPLE_RATE // 1000 : end * SAMPLE_RATE // 1000]
