"""Compute log mel spectrograms like those that multilingual networks were trained on.

Short-time Fourier transforms of 25 ms every 10 ms under a Hann window, a bank of triangular filters
on Slaney's mel scale (Slaney 1998, "Auditory Toolbox"), and the log of their energies, held within
eight orders of magnitude below the loudest (Radford et al. 2022, "Robust Speech Recognition via
Large-Scale Weak Supervision", section 2.2).
"""

from __future__ import annotations

from functools import cache
from math import log

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE

Floats = NDArray[np.float32]

WINDOW = 400
HOP = 160
LONGEST_S = 30
LONGEST = LONGEST_S * SAMPLE_RATE
FRAMES = LONGEST // HOP
"""Frames of 10 ms that the networks listen to at a time."""

_BELOW_LOUDEST = 8.0
_LINEAR_TO_HZ, _HZ_A_MEL = 1000.0, 200.0 / 3
_LOG_STEP = log(6.4) / 27


def log_mel(sound: Samples, bands: int) -> Floats:
    """Return (bands, FRAMES) of a sound of at most 30 s, with silence after its end."""
    padded = np.zeros(LONGEST + WINDOW, np.float32)
    padded[WINDOW // 2 : WINDOW // 2 + len(sound)] = sound[:LONGEST]
    head = padded[WINDOW // 2 + 1 : WINDOW + 1]
    padded[: WINDOW // 2] = head[::-1]
    frames = min(-(-(len(sound) + WINDOW) // HOP), FRAMES)
    windows = np.lib.stride_tricks.sliding_window_view(padded, WINDOW)[: frames * HOP : HOP]
    spectrum = rfft(windows * _hann(), axis=1)
    power = np.square(spectrum.real) + np.square(spectrum.imag)
    energies = np.full((bands, FRAMES), 1e-10, np.float32)
    energies[:, :frames] = np.maximum(_filters(bands) @ power.T, 1e-10)
    logs = np.log10(energies)
    return np.asarray((np.maximum(logs, logs.max() - _BELOW_LOUDEST) + 4.0) / 4.0, np.float32)


@cache
def _hann() -> Floats:
    return np.asarray(0.5 - 0.5 * np.cos(2 * np.pi * np.arange(WINDOW) / WINDOW), np.float32)


@cache
def _filters(bands: int) -> Floats:
    """Return triangular filters of equal area between neighbours on the mel scale, (bands, WINDOW
    // 2 + 1)."""
    tones = np.linspace(0, SAMPLE_RATE / 2, WINDOW // 2 + 1)
    edges = _hertz(np.linspace(0, _mel(SAMPLE_RATE / 2), bands + 2))
    widths = np.diff(edges)
    slopes = edges[:, None] - tones
    rising, falling = -slopes[:-2] / widths[:-1, None], slopes[2:] / widths[1:, None]
    triangles = np.maximum(0, np.minimum(rising, falling))
    return np.asarray(triangles * (2.0 / (edges[2:] - edges[:-2]))[:, None], np.float32)


def _mel(hertz: float) -> float:
    """Convert Hz to mel: linear below 1 kHz, logarithmic above."""
    if hertz < _LINEAR_TO_HZ:
        return hertz / _HZ_A_MEL
    return _LINEAR_TO_HZ / _HZ_A_MEL + log(hertz / _LINEAR_TO_HZ) / _LOG_STEP


def _hertz(mels: NDArray[np.float64]) -> NDArray[np.float64]:
    turn = _LINEAR_TO_HZ / _HZ_A_MEL
    high = _LINEAR_TO_HZ * np.exp(_LOG_STEP * (mels - turn))
    return np.asarray(np.where(mels < turn, mels * _HZ_A_MEL, high))
