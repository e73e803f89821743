"""Embed a voice as a point on a sphere: near to itself, far from others.

The network was trained to bring sayings of one person together and to push those of others away
(Wan et al. 2018, "Generalized end-to-end loss for speaker verification"): three layers of long
short-term memory (Hochreiter and Schmidhuber 1997) over 1.6 s of mel bands, whose last state is
projected. ``voice_encoder.npz`` has its weights, see ``THIRD_PARTY_NOTICES.md``;
``scripts/make_voice_encoder.py`` made it.

From its points the middle of many voices is taken and what varies within a voice is shrunk
(within-class covariance normalisation: Hatch, Kajarekar and Stolcke 2006, with half of the mean
variance added to each direction's); then they are brought to length 1. ``voice_space.npz`` has
both, fitted by ``benchmarks/voices.py`` on people talking.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.diarisation.voiceprint import WIDTH
from tamarind.speech.recognisers.network import Network, Subnetwork

Floats = NDArray[np.float32]

HOP = SAMPLE_RATE // 100
WINDOW = SAMPLE_RATE // 40
BANDS = 40
STEPS = 160
"""Steps of 10 ms that the network was trained to look at."""

LEVEL_DB = -30.0
"""Quieter speech is raised to this level: the bands are powers, not their logarithms."""

_LAYERS = 3
_MOST_STEPS = 6000
_LINEAR_TO_HZ, _BANDS_A_LINEAR_STEP = 1000.0, 200.0 / 3.0
_LOGARITHMIC_STEP = np.log(6.4) / 27


class VoiceEncoder:
    """Embeds windows of mel bands; threads may share it, each run keeps to one core."""

    def __call__(self, windows: Floats) -> Floats:
        """Return points (windows, WIDTH) of length 1 for (windows, STEPS, BANDS)."""
        middle, shrinking = _space()
        points = (self.raw(windows) - middle) @ shrinking
        return unit(np.asarray(points, np.float32))

    def raw(self, windows: Floats) -> Floats:
        """Return the network's output of length 1, before the variation within a voice is
        shrunk."""
        (points,) = _network()(np.ascontiguousarray(windows.transpose(1, 0, 2)))
        return unit(np.asarray(points, np.float32))


def unit(vectors: Floats) -> Floats:
    """Scale rows to length 1."""
    lengths = np.linalg.norm(vectors, axis=1, keepdims=True)
    return np.asarray(vectors / np.maximum(lengths, 1e-9), np.float32)


def bands(sound: Samples) -> Floats:
    """Return the power in mel bands around the middle of each step's first sample, (steps of 10 ms,
    BANDS)."""
    padded = np.pad(np.asarray(sound, np.float32), WINDOW // 2)
    frames = np.lib.stride_tricks.sliding_window_view(padded, WINDOW)[::HOP]
    parts = []
    for first in range(0, len(frames), _MOST_STEPS):
        spectrum = np.fft.rfft(frames[first : first + _MOST_STEPS] * _HANN, axis=1)
        parts.append((spectrum.real**2 + spectrum.imag**2).astype(np.float32) @ _MEL)
    return np.concatenate(parts)


def gain_for(power: float) -> float:
    """Return the gain (power) that brings speech of this mean square to the network's level."""
    return float(max(10 ** (LEVEL_DB / 10) / max(power, 1e-12), 1.0))


def _mel_filters() -> Floats:
    """Return triangular filters of unit area, evenly spaced in mel, (WINDOW / 2 + 1, BANDS).

    The scale is linear up to 1000 Hz and logarithmic above (Slaney 1998, "Auditory toolbox").
    """
    linear = _LINEAR_TO_HZ / _BANDS_A_LINEAR_STEP
    highest = linear + np.log(SAMPLE_RATE / 2 / _LINEAR_TO_HZ) / _LOGARITHMIC_STEP
    mels = np.linspace(0.0, highest, BANDS + 2)
    above = _LINEAR_TO_HZ * np.exp(_LOGARITHMIC_STEP * (mels - linear))
    points = np.where(mels < linear, mels * _BANDS_A_LINEAR_STEP, above)
    hertz = (np.arange(WINDOW // 2 + 1) * SAMPLE_RATE / WINDOW)[:, None]
    low, middle, high = points[:-2], points[1:-1], points[2:]
    slopes = np.minimum((hertz - low) / (middle - low), (high - hertz) / (high - middle))
    return np.asarray(np.maximum(slopes, 0) * 2 / (high - low), np.float32)


_MEL = _mel_filters()
_HANN = (0.5 - 0.5 * np.cos(2 * np.pi * np.arange(WINDOW) / WINDOW)).astype(np.float32)


@cache
def _space() -> tuple[Floats, Floats]:
    """Return the mean of many voices (WIDTH,), and the matrix (WIDTH, WIDTH) that shrinks the
    variation within one."""
    with np.load(Path(__file__).with_name("voice_space.npz"), allow_pickle=False) as file:
        return file["mean"].astype(np.float32), file["matrix"].astype(np.float32)


@cache
def _network() -> Subnetwork:
    """Build the network for (STEPS, windows, BANDS)."""
    with np.load(Path(__file__).with_name("voice_encoder.npz"), allow_pickle=False) as file:
        weights = {name: file[name].astype(np.float32) for name in file.files}
    network = Network(["bands"])
    x = "bands"
    for layer in range(_LAYERS):
        own = [weights[f"layer{layer}.{part}"] for part in ("input", "memory", "bias")]
        constants = [network.constant(part[None]) for part in own]
        x = network.add("LSTM", x, *constants, hidden_size=WIDTH)
        # One direction only: (steps, directions, windows, width).
        x = network.add("Squeeze", x, network.constant(np.array([1])))
    last = network.add("Gather", x, network.constant(np.array([STEPS - 1])), axis=0)
    x = network.add("Squeeze", last, network.constant(np.array([0])))
    x = network.sum(network.product(x, weights["projection"]), network.constant(weights["bias"]))
    return network.ending([network.add("Relu", x)])
