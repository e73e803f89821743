"""Measure where somebody speaks: a probability of speech and a level for every 32 ms of sound."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.detector import FRAME, Memory, SpeechDetector
from tamarind.speech.hearingoptions import Sensitivity

FRAME_MS = FRAME * 1000 / SAMPLE_RATE

SILENCE_DB = -100.0


@dataclass(frozen=True, slots=True)
class Activity:
    """For each frame of 32 ms the probability of speech (0 to 1) and the level (dB below full
    scale)."""

    probability: NDArray[np.float32]
    level: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.probability)

    def joined(self, later: Activity) -> Activity:
        """Return this activity followed by another."""
        return Activity(
            np.concatenate([self.probability, later.probability]),
            np.concatenate([self.level, later.level]),
        )

    def since(self, frame: int) -> Activity:
        """Return the part from ``frame`` on."""
        return Activity(self.probability[frame:], self.level[frame:])


NO_ACTIVITY = Activity(np.zeros(0, np.float32), np.zeros(0, np.float32))


class ActivityMeter:
    """Measures sound block by block; the network keeps its state between blocks."""

    def __init__(self, memory: Memory | None = None) -> None:
        """``memory`` is the state of a meter of the sound before."""
        self._detector = SpeechDetector()
        if memory is not None:
            self._detector.remember(memory)

    @property
    def memory(self) -> Memory:
        """The network's state."""
        return self._detector.memory

    def measure(self, samples: Samples) -> Activity:
        """Return the activity of the next samples; a last, shorter frame is padded with silence."""
        frames = _frames(samples)
        return Activity(self._detector.probabilities(frames), _levels(frames))


@dataclass(frozen=True, slots=True)
class SpeechRules:
    """When frames count as speech; times in milliseconds."""

    begins_at: float = 0.5
    goes_on_at: float = 0.3
    shortest_speech: int = 90
    shortest_pause: int = 160
    margin: int = 96


RULES = {
    Sensitivity.CLEAR: SpeechRules(begins_at=0.75, goes_on_at=0.5, shortest_speech=190),
    Sensitivity.ORDINARY: SpeechRules(),
    Sensitivity.FAINT: SpeechRules(begins_at=0.2, goes_on_at=0.1, margin=160),
}


def find_speech(
    activity: Activity, sensitivity: Sensitivity | SpeechRules = Sensitivity.ORDINARY
) -> list[tuple[int, int]]:
    """Return stretches of speech as [first, last) frames, in order, not touching.

    Two thresholds keep a stretch open over weak frames (hysteresis thresholding, Canny 1986); short
    pauses are bridged and each stretch is widened by a margin.
    """
    rules = RULES[sensitivity] if isinstance(sensitivity, Sensitivity) else sensitivity
    stretches: list[tuple[int, int]] = []
    start: int | None = None
    for index, value in enumerate(activity.probability):
        if start is None:
            if value >= rules.begins_at:
                start = index
        elif value < rules.goes_on_at:
            stretches.append((start, index))
            start = None
    if start is not None:
        stretches.append((start, len(activity)))

    bridged: list[tuple[int, int]] = []
    pause = rules.shortest_pause / FRAME_MS
    for first, last in stretches:
        if bridged and first - bridged[-1][1] < pause:
            bridged[-1] = (bridged[-1][0], last)
        else:
            bridged.append((first, last))
    kept = [(a, b) for a, b in bridged if (b - a) * FRAME_MS >= rules.shortest_speech]
    return _widened(kept, round(rules.margin / FRAME_MS), len(activity))


def speech_of(samples: Samples) -> list[tuple[int, int]]:
    """Return where somebody speaks in a sound (16 kHz, mono), (from, to) in ms; faster than a
    meter, and up to a frame off."""
    frames = _frames(samples)
    probability = SpeechDetector().probabilities_in_pieces(frames)
    return in_ms(find_speech(Activity(probability, _levels(frames))))


def in_ms(stretches: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Convert stretches of frames to (from, to) in ms."""
    return [(round(first * FRAME_MS), round(last * FRAME_MS)) for first, last in stretches]


def _frames(samples: Samples) -> NDArray[np.float32]:
    count = -(-len(samples) // FRAME)
    frames = np.zeros((count, FRAME), np.float32)
    frames.reshape(-1)[: len(samples)] = samples
    return frames


def _levels(frames: NDArray[np.float32]) -> NDArray[np.float32]:
    power = np.mean(np.square(frames), axis=1)
    return np.asarray(10 * np.log10(np.maximum(power, 10 ** (SILENCE_DB / 10))), np.float32)


def _widened(stretches: list[tuple[int, int]], margin: int, end: int) -> list[tuple[int, int]]:
    result: list[tuple[int, int]] = []
    for first, last in stretches:
        first, last = max(first - margin, 0), min(last + margin, end)
        if result and first <= result[-1][1]:
            result[-1] = (result[-1][0], last)
        else:
            result.append((first, last))
    return result
