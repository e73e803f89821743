"""Peaks: the loudest sample of every 10 ms, which is all that drawing a waveform needs."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.media import SAMPLE_RATE

Peaks = NDArray[np.float16]

PEAK_MS = 10
"""Milliseconds of sound behind one peak."""

_BLOCK = SAMPLE_RATE * PEAK_MS // 1000


class PeakMaker:
    """Computes peaks from blocks of sound of any length."""

    def __init__(self) -> None:
        self._rest = np.zeros(0, np.float32)
        self._parts: list[Peaks] = []
        self._told = 0

    def add(self, block: NDArray[np.float32]) -> None:
        """Add mono samples."""
        sound = np.concatenate([self._rest, block])
        whole = len(sound) // _BLOCK * _BLOCK
        self._rest = sound[whole:]
        if whole:
            levels = np.abs(sound[:whole].reshape(-1, _BLOCK)).max(axis=1)
            self._parts.append(levels.astype(np.float16))

    def taken(self) -> Peaks:
        """Return the peaks that have come since the last call."""
        new = self._parts[self._told :]
        self._told = len(self._parts)
        return np.concatenate([*new, np.zeros(0, np.float16)])

    def finished(self) -> Peaks:
        """Return all peaks (0 to 1), one for every 10 ms begun."""
        last = [np.array([np.abs(self._rest).max()], np.float16)] if len(self._rest) else []
        return np.concatenate([*self._parts, *last, np.zeros(0, np.float16)])

    def save(self, path: Path) -> None:
        """Write the peaks as a NumPy file."""
        with path.open("wb") as file:
            np.save(file, self.finished())


class LevelMaker:
    """Computes the level of every channel for every 10 ms, to tell later which of them spoke."""

    def __init__(self) -> None:
        self._rest: NDArray[np.float32] | None = None
        self._parts: list[NDArray[np.float16]] = []

    def add(self, block: NDArray[np.float32]) -> None:
        """Add samples (channels, samples)."""
        sound = block if self._rest is None else np.concatenate([self._rest, block], axis=1)
        whole = sound.shape[1] // _BLOCK * _BLOCK
        self._rest = sound[:, whole:]
        if whole:
            pieces = sound[:, :whole].reshape(len(sound), -1, _BLOCK)
            self._parts.append(np.sqrt(np.mean(pieces**2, axis=2)).astype(np.float16))

    def finished(self) -> NDArray[np.float16]:
        """Return the root mean squares (channels, frames of 10 ms), 0 to 1; shape (0, 0) if none
        came."""
        return np.concatenate(self._parts, axis=1) if self._parts else np.zeros((0, 0), np.float16)

    def save(self, path: Path) -> None:
        """Write the levels as a NumPy file."""
        with path.open("wb") as file:
            np.save(file, self.finished())


def columns(peaks: Peaks, start: int, end: int, count: int) -> NDArray[np.float32]:
    """Return the loudest peak in each of ``count`` equal columns from ``start`` to ``end`` ms.

    Columns beyond the sound are 0. Returns float32 (count,).
    """
    if count <= 0 or end <= start:
        return np.zeros(max(count, 0), np.float32)
    # Whole numbers all the way: this is asked for every line that comes into view.
    edges = start * count + np.arange(count + 1) * (end - start)
    first = edges[:-1] // (PEAK_MS * count)
    last = np.maximum(-(-edges[1:] // (PEAK_MS * count)), first + 1)
    low, high = max(int(first[0]), 0), min(int(last[-1]), len(peaks))
    if high <= low:
        return np.zeros(count, np.float32)
    part = np.append(peaks[low:high].astype(np.float32), np.float32(0))
    begin = np.minimum(np.maximum(first - low, 0), len(part) - 1)
    stop = np.minimum(np.maximum(last - low, 0), len(part) - 1)
    pairs = np.empty(2 * count, int)
    pairs[0::2], pairs[1::2] = begin, np.maximum(stop, begin)
    result = np.maximum.reduceat(part, pairs)[0::2]
    result[(first >= len(peaks)) | (last <= 0)] = 0
    return result
