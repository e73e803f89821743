"""How far work is and how long it will take, in words."""

from __future__ import annotations

from tamarind.batch.messages import Heard

TYPICAL_SPEED = 18.0
"""Recorded seconds heard in a second on two ordinary cores, before there is a measurement."""


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
