"""Rotary positions: rotate queries and keys by angles that grow with their position.

Su et al. 2021, "RoFormer: Enhanced transformer with rotary position embedding".
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Turn = tuple[Floats, Floats]

BASE = 10_000.0
HEADS = 8
"""Parts of each attention that look by themselves, in encoder and decoder."""

ROTATED = 32
"""So many of the numbers of each head are turned, neighbours as pairs; the rest stay."""


def rotation(position: int | NDArray[np.int64]) -> Turn:
    """Return cosine and sine for each pair of numbers, (..., pairs) each."""
    rates = BASE ** (-np.arange(0, ROTATED, 2, dtype=np.float64) / ROTATED)
    angles = position * rates
    return np.cos(angles).astype(np.float32), np.sin(angles).astype(np.float32)


def turned(x: Floats, turn: Turn) -> Floats:
    """Rotate (..., numbers of a head)."""
    cosine, sine = turn
    even, odd = x[..., 0:ROTATED:2], x[..., 1:ROTATED:2]
    result = x.copy()
    result[..., 0:ROTATED:2] = even * cosine - odd * sine
    result[..., 1:ROTATED:2] = odd * cosine + even * sine
    return result
