"""How far work is and how long it will take, in words."""

from __future__ import annotations

from tamarind.batch.messages import Heard
from tamarind.speech.howtohear import Care, HowToHear

TYPICAL_SPEEDS = {Care.QUICK: 25.0, Care.THOROUGH: 14.0}
TYPICAL_SPEED_OF_VOICES = 7.0
"""Recorded seconds heard in a second on two ordinary cores, before there is a measurement; telling
voices apart goes on beside hearing and takes longer."""


def expected_seconds(length: float, how: HowToHear) -> float:
    """How long a recording of ``length`` seconds may take."""
    speed = TYPICAL_SPEEDS[how.care]
    return length / (min(speed, TYPICAL_SPEED_OF_VOICES) if how.voices.wanted else speed)


def seconds_left(event: Heard, start: int = 0) -> tuple[float, float]:
    """The share that is done (0..1) and the seconds still to go, at the speed so far.

    ``start`` is where hearing began, in ms.
    """
    done = max(event.until - start, 1)
    whole = max(event.end - start, done)
    return done / whole, event.seconds * (whole - done) / done


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
