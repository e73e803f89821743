"""Estimate the progress and the remaining time of work, in figures and in words."""

from __future__ import annotations

import heapq
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from tamarind.audio.peaks import PEAK_MS, Peaks
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.system.later import Later

if TYPE_CHECKING:
    from tamarind.speech.recognisers import catalogue, offered, slowness
else:
    catalogue = Later("tamarind.speech.recognisers.catalogue")
    offered = Later("tamarind.speech.recognisers.offered")
    slowness = Later("tamarind.speech.recognisers.slowness")

TYPICAL_SPEED = 30.0
"""Recorded seconds heard in a second on two ordinary cores, before there is a measurement."""

HEARD_AGAIN = {Care.QUICK: 0.0, Care.THOROUGH: 0.35, Care.DOUBLE: 1.0}
"""The share of a recording that is heard again, about."""

OTHERWISE = 3.0
"""The same recogniser takes so many times as long when it hears in another way."""

SPEED_OF_VOICES = 120.0
"""Recorded seconds gone through for voices in a second."""

QUIET_COST = 0.08
"""What a quiet second costs of what a second with somebody speaking costs."""

AHEAD = 0.5
"""So much of the work on the next stretch, its recognition, is done when one is told."""

NEWER = 0.8
"""What the speed so far counts for beside that of the latest stretch."""

_LOUD = 4.0
"""So many times as loud as the quietest tenth is loud enough to be speech."""

_SECOND = 1000 // PEAK_MS


@dataclass(frozen=True, slots=True)
class Work:
    """Progress of a transcription that ``begun``: loud seconds done, of ``whole``; the seconds that
    took; the recorded seconds in them; and the seconds left, None if only the speed so far
    tells."""

    done: float
    whole: float
    begun: float
    seconds: float
    recorded: float = 0.0
    still: float | None = None

    @property
    def share(self) -> float:
        """The share that is done, 0 to 1."""
        return min(self.done / self.whole, 1.0) if self.whole > 0 else 1.0

    @property
    def left(self) -> float:
        """The seconds left."""
        if self.still is not None:
            return self.still
        pace = max(self.done - self.begun, 1e-3) / max(self.seconds, 1e-3)
        return max(self.whole - self.done, 0.0) / pace


class Outlook:
    """How much work lies where in a recording, found from its peaks before anything is recognised.

    Long quiet is passed over quickly, so that time is no measure of work.
    """

    def __init__(self, peaks: Peaks, part: tuple[int, int]) -> None:
        own = peaks[part[0] // PEAK_MS : -(-part[1] // PEAK_MS)].astype(np.float32)
        self._start = part[0]
        floor = max(float(np.quantile(own, 0.1)), 1e-3) if len(own) else 1.0
        top = float(np.quantile(own, 0.9)) if len(own) else 1.0
        # Where all is about as loud, as with music or hum all along, nothing counts as quiet.
        loud = own >= min(floor * _LOUD, top)
        count = -(-len(own) // _SECOND) * _SECOND
        seconds = np.zeros(count, np.float32)
        seconds[: len(own)] = np.where(loud, 1.0, QUIET_COST)
        # A breath between words costs as much as the words.
        busy = seconds.reshape(-1, _SECOND)
        cost = np.where(busy.max(axis=1) >= 1, 1.0, busy.mean(axis=1)) if count else np.zeros(0)
        self._done = np.concatenate([[0.0], np.cumsum(cost)])

    @property
    def whole(self) -> float:
        """The loud seconds in all."""
        return float(self._done[-1])

    def until(self, moment: int) -> float:
        """Return the loud seconds up to a time in the recording (ms)."""
        place = max(moment - self._start, 0) / 1000
        return float(np.interp(place, np.arange(len(self._done)), self._done))


class Stopwatch:
    """Estimates how long the rest of a transcription takes, by the speed of its latest stretches.

    A stretch is told when the one after it has been recognised already: what the first one took
    was spent on two.
    """

    def __init__(self, outlook: Outlook, start: int) -> None:
        self._outlook = outlook
        self._start = start
        self._done = self._before = outlook.until(start)
        self._began = self._last = time.monotonic()
        self._recent = (0.0, 0.0)
        self._told = 0

    def work(self, until: int, following: int, is_last: bool) -> Work:
        """Note that the transcription has come to ``until``, and that the next stretch ends at
        about ``following`` (ms)."""
        now = time.monotonic()
        done = self._outlook.whole if is_last else self._outlook.until(until)
        ahead = self._outlook.until(following)
        new = (ahead if self._told == 0 else done) - self._done, now - self._last
        weight = 0.0 if self._told == 1 else NEWER
        self._recent = (weight * self._recent[0] + new[0], weight * self._recent[1] + new[1])
        self._done, self._last = done, now
        self._told += 1
        pace = max(self._recent[0], 1e-3) / max(self._recent[1], 1e-3)
        return Work(
            done,
            self._outlook.whole,
            self._before,
            seconds=now - self._began,
            recorded=(until - self._start) / 1000,
            still=0.0
            if is_last
            else max(self._outlook.whole - done - AHEAD * (ahead - done), 0.0) / pace,
        )


def expected_seconds(length: float, how: HearingOptions) -> float:
    """Estimate how long transcribing a recording of ``length`` seconds takes."""
    first, second = catalogue.best_for(how), catalogue.second_for(how)
    slowness = _slowness(first)
    if second:
        again = OTHERWISE if second == first else 1.0
        slowness += HEARD_AGAIN[how.care] * again * _slowness(second)
    slowness += sum(map(_slowness, catalogue.more_for(how)))
    hearing = length / TYPICAL_SPEED * slowness
    return hearing + length / SPEED_OF_VOICES * how.voices.wanted


def _slowness(recogniser: str) -> float:
    """Return how many times slower than the built-in recogniser one is, measured or guessed from
    its size."""
    known = catalogue.slowness_of(recogniser)
    if known is not None:
        return known
    folder = Path(recogniser)
    offer = offered.offer_for(folder.name)
    return slowness.measured(folder) or (offer.slowness if offer else offered.base_slowness())


def human(seconds: float) -> str:
    """Return a duration in words: "about 20 s", "about 3 min", "about 2 h 10 min"."""
    if seconds < 5:
        return "a few seconds"
    if seconds < 55:
        return f"about {round(seconds / 5) * 5} s"
    minutes = max(round(seconds / 60), 1)
    if minutes < 60:
        return f"about {minutes} min"
    return f"about {minutes // 60} h {minutes % 60:02} min"


def seconds_in_queue(begun: Sequence[float], waiting: Sequence[float], places: int) -> float:
    """Return when all is done if each in the queue is taken by the first worker that is free.

    ``begun`` and ``waiting`` are seconds of work (list scheduling, Graham 1966).
    """
    ends = sorted([*begun, *[0.0] * max(places - len(begun), 0)])
    for seconds in waiting:
        heapq.heapreplace(ends, ends[0] + seconds)
    return max(ends, default=0.0)
