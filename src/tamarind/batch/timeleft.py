"""How far work is and how long it will take, in figures and in words."""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tamarind.audio.peaks import PEAK_MS, Peaks
from tamarind.speech.howtohear import Care, HowToHear

TYPICAL_SPEEDS = {Care.QUICK: 25.0, Care.THOROUGH: 14.0}
TYPICAL_SPEED_OF_VOICES = 7.0
"""Recorded seconds heard in a second on two ordinary cores, before there is a measurement; telling
voices apart goes on beside hearing and takes longer."""

QUIET_COST = 0.08
"""What a quiet second costs of what a second with somebody speaking costs."""

_LOUD = 4.0
"""So many times as loud as the quietest tenth is loud enough to be speech."""

_SECOND = 1000 // PEAK_MS


@dataclass(frozen=True, slots=True)
class Work:
    """How far a hearing is: loud seconds that are done of ``whole``, since it was at ``begun``,
    the seconds that this has taken, and the recorded seconds that were heard in them."""

    done: float
    whole: float
    begun: float
    seconds: float
    recorded: float = 0.0

    @property
    def share(self) -> float:
        """What is done of the whole, 0 to 1."""
        return min(self.done / self.whole, 1.0) if self.whole > 0 else 1.0

    @property
    def left(self) -> float:
        """The seconds still to go, at the speed so far."""
        pace = max(self.done - self.begun, 1e-3) / max(self.seconds, 1e-3)
        return max(self.whole - self.done, 0.0) / pace


class Outlook:
    """How much work lies where in a recording, told from its peaks before anything is heard.

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
        """Loud seconds in all."""
        return float(self._done[-1])

    def until(self, time: int) -> float:
        """Loud seconds up to a time in the recording (ms)."""
        place = max(time - self._start, 0) / 1000
        return float(np.interp(place, np.arange(len(self._done)), self._done))


def expected_seconds(length: float, how: HowToHear) -> float:
    """How long a recording of ``length`` seconds may take."""
    speed = TYPICAL_SPEEDS[how.care]
    return length / (min(speed, TYPICAL_SPEED_OF_VOICES) if how.voices.wanted else speed)


def human(seconds: float) -> str:
    """A duration as one says it: "about 20 s", "about 3 min", "about 2 h 10 min"."""
    if seconds < 5:
        return "a few seconds"
    if seconds < 55:
        return f"about {round(seconds / 5) * 5} s"
    minutes = max(round(seconds / 60), 1)
    if minutes < 60:
        return f"about {minutes} min"
    return f"about {minutes // 60} h {minutes % 60:02} min"


def seconds_in_line(begun: Sequence[float], waiting: Sequence[float], places: int) -> float:
    """When all is done, if each that waits is taken in order by the first place that is free.

    ``begun`` and ``waiting`` are seconds of work (list scheduling, Graham 1966).
    """
    ends = sorted([*begun, *[0.0] * max(places - len(begun), 0)])
    for seconds in waiting:
        heapq.heapreplace(ends, ends[0] + seconds)
    return max(ends, default=0.0)
