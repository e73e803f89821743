"""Times rounded to the frames of a picture."""

from __future__ import annotations

from math import ceil, floor

import numpy as np
from numpy.typing import NDArray

Times = NDArray[np.float64]


def floored(time: float, rate: float | None) -> int:
    """Return the time (ms) of the last frame not after ``time``; the time itself without a rate.

    A frame's time is rounded to whole ms, and such a time is its own frame.
    """
    if rate is None:
        return floor(time)
    return round(floor((time + 0.5) * rate / 1000 + 1e-9) * 1000 / rate)


def ceiled(time: float, rate: float | None) -> int:
    """Return the time (ms) of the first frame not before ``time``."""
    if rate is None:
        return ceil(time)
    return round(ceil((time - 0.5) * rate / 1000 - 1e-9) * 1000 / rate)


def all_floored(times: Times, rate: float | None) -> Times:
    """``floored`` for an array of times (ms, any shape)."""
    if rate is None:
        return np.floor(times)
    return np.asarray(np.rint(np.floor((times + 0.5) * rate / 1000 + 1e-9) * 1000 / rate))


def is_on_frame(time: int, rate: float | None) -> bool:
    """Whether a time (ms) is that of a frame, allowing for whole milliseconds."""
    return rate is None or abs(round(time * rate / 1000) * 1000 / rate - time) <= 0.5 + 1e-9
