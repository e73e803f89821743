"""Compute the features of the acoustic model: cepstra with noise removed, and their changes.

Mel-frequency cepstral coefficients (Davis and Mermelstein 1980) as the model was trained with, and
before them the suppression of noise by asymmetric smoothing and temporal masking of every band of
Kim and Stern 2016, "Power-normalized cepstral coefficients (PNCC) for robust speech recognition".
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE

Frames = NDArray[np.float32]

HOP = SAMPLE_RATE // 100
WINDOW = 410
TRANSFORM = 512
BANDS = 25
LOWEST_HZ, HIGHEST_HZ = 130.0, 6800.0
CEPSTRA = 13
LIFTER = 22
PRE_EMPHASIS = 0.97
FULL_SCALE = 32768.0
LEAST_POWER = 1e-4

_DITHER = np.random.default_rng(1).standard_normal(SAMPLE_RATE).astype(np.float32)
"""Noise of one step of 16 bits, added to every sound: silence of zeros alone is like nothing that
the model knows, and so like a phone of any word."""

SMOOTHED_POWER = 0.7
RISING, FALLING = 0.995, 0.5
"""How much of a lower envelope stays in a step when the power is above it, and below it."""

MASK_DECAY, MASKED_SHARE = 0.85, 0.2
GREATEST_GAIN = 20.0
BANDS_AROUND = 4


def features(sounds: Sequence[Samples]) -> list[Frames]:
    """Return for each sound (steps of 10 ms, 3 × 13) cepstra, their first and second differences.

    The mean of a sound's cepstra is taken away, which takes the microphone with it (Atal 1974).
    """
    powers = [_band_powers(sound) for sound in sounds]
    results = []
    for power in _without_noise(powers):
        cepstra = np.log(power + LEAST_POWER) @ _COSINES
        cepstra *= 1 + LIFTER / 2 * np.sin(np.pi * np.arange(CEPSTRA) / LIFTER)
        cepstra -= cepstra.mean(axis=0)
        padded = np.pad(cepstra, ((3, 3), (0, 0)), mode="edge")
        count = len(cepstra)
        change = padded[5 : 5 + count] - padded[1 : 1 + count]
        second = (padded[6:] - padded[2 : 2 + count]) - (padded[4 : 4 + count] - padded[:count])
        results.append(np.concatenate([cepstra, change, second], axis=1).astype(np.float32))
    return results


def cosines(bands: int, count: int) -> Frames:
    """Return the first columns of the orthonormal cosine transform (type II), (bands, count)."""
    angles = np.pi * (np.arange(bands)[:, None] + 0.5) * np.arange(count) / bands
    basis = np.cos(angles) * np.sqrt(2 / bands)
    basis[:, 0] /= np.sqrt(2)
    return np.asarray(basis, np.float32)


def _band_powers(sound: Samples) -> Frames:
    """Return the power in each mel band, (steps, bands); at least one step, with the end padded."""
    count = max(len(sound) // HOP, 1)
    emphasised = np.zeros(max(len(sound), (count - 1) * HOP + WINDOW), np.float32)
    scaled = np.asarray(sound, np.float32) * np.float32(FULL_SCALE)
    scaled += np.resize(_DITHER, len(scaled))
    emphasised[: len(sound)] = scaled
    emphasised[1 : len(sound)] -= np.float32(PRE_EMPHASIS) * scaled[:-1]
    frames = np.lib.stride_tricks.sliding_window_view(emphasised, WINDOW)[::HOP][:count]
    spectrum = np.fft.rfft(frames * _HAMMING, TRANSFORM, axis=1)
    return np.asarray((spectrum.real**2 + spectrum.imag**2) @ _MEL, np.float32)


def _mel_filters() -> Frames:
    """Return triangular filters of unit area, evenly spaced in mel, (TRANSFORM / 2 + 1, bands)."""

    def mel(hertz: float) -> float:
        return float(2595 * np.log10(1 + hertz / 700))

    points = 700 * (10 ** (np.linspace(mel(LOWEST_HZ), mel(HIGHEST_HZ), BANDS + 2) / 2595) - 1)
    spacing = SAMPLE_RATE / TRANSFORM
    points = np.round(points / spacing) * spacing
    bins = np.arange(TRANSFORM // 2 + 1)[:, None] * spacing
    low, middle, high = points[:-2], points[1:-1], points[2:]
    slopes = np.minimum((bins - low) / (middle - low), (high - bins) / (high - middle))
    return np.asarray(np.maximum(slopes, 0) * 2 / (high - low), np.float32)


_COSINES = cosines(BANDS, CEPSTRA)
_HAMMING = np.hamming(WINDOW).astype(np.float32)
_MEL = _mel_filters()
_AROUND = np.array(
    [[abs(a - b) <= BANDS_AROUND for a in range(BANDS)] for b in range(BANDS)], np.float32
)
_AROUND /= _AROUND.sum(axis=0)


def _without_noise(powers: Sequence[Frames]) -> list[Frames]:
    """Reduce the power of each band as far as it holds steady noise only."""
    longest = max(map(len, powers))
    stacked = np.stack([np.pad(p, ((0, longest - len(p)), (0, 0)), mode="edge") for p in powers])
    power = np.maximum(stacked[:, 0], np.float32(1e-6))
    noise = power.copy()
    floor = np.asarray(power / np.float32(GREATEST_GAIN), np.float32)
    peak = np.zeros_like(power)
    gains = np.empty_like(stacked)
    for step in range(longest):
        power = SMOOTHED_POWER * power + (1 - SMOOTHED_POWER) * stacked[:, step]
        noise = _lower_envelope(noise, power)
        signal = np.maximum(power - noise, np.float32(1))
        floor = _lower_envelope(floor, signal)
        decayed = peak * MASK_DECAY
        peak = np.maximum(signal, decayed)
        unmasked = np.where(signal < decayed, decayed * MASKED_SHARE, signal)
        gains[:, step] = np.maximum(unmasked, floor) / np.maximum(power, 1e-6)
    np.clip(gains, 1 / GREATEST_GAIN, GREATEST_GAIN, out=gains)
    cleaned = stacked * (gains @ _AROUND)
    return [cleaned[place, : len(own)] for place, own in enumerate(powers)]


def _lower_envelope(envelope: Frames, power: Frames) -> Frames:
    stays = np.where(power >= envelope, RISING, FALLING).astype(np.float32)
    return np.asarray(stays * envelope + (1 - stays) * power, np.float32)
