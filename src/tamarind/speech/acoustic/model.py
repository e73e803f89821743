"""The English acoustic model that PocketSphinx ships, evaluated with matrix products.

Phonetically tied mixtures (Digalakis et al. 1996, "Genones"): every phone has one codebook of
Gaussians for each of three streams of features, and every senone (a state of a phone between
given neighbours) weights the Gaussians of its phone. Only the files are PocketSphinx's.
"""

from __future__ import annotations

import struct
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from pocketsphinx import get_model_path

from tamarind.speech.acoustic.features import Frames

Ids = NDArray[np.int32]

SILENCE, NOISE = "SIL", "+NSN+"
STATES = 3
"""States of a phone, passed from first to last."""

_INSIDE, _BEGIN, _END, _SINGLE = range(4)
_WEIGHT_STEP = float(1024 * np.log(1.0001))
"""Mixture weights are stored as bytes: so many times minus this, a natural log."""

_LEAST_VARIANCE = 1e-4
LEAST_SHARE = np.float32(1e-30)
"""Added to likelihoods before their log: what a frame far from everything has at least."""


class AcousticModel:
    """Scores sound under the phones of English; read only once loaded."""

    def __init__(self, folder: Path | None = None) -> None:
        folder = folder or Path(get_model_path()) / "en-us" / "en-us"
        self._read_definition((folder / "mdef").read_bytes())
        means = _s3_array(folder / "means")
        variances = np.maximum(_s3_array(folder / "variances"), _LEAST_VARIANCE)
        self.gaussians = _as_products(means, variances)
        self._read_weights((folder / "sendump").read_bytes())
        chances = _s3_array(folder / "transition_matrices")
        chances = chances / chances.sum(axis=2, keepdims=True)
        with np.errstate(divide="ignore"):
            log = np.log(chances)
        states = np.arange(STATES)
        self.stay = log[:, states, states].astype(np.float32)
        """(phones, STATES) log chance that a state lasts another step; ``leave`` that it ends."""
        self.leave = log[:, states, states + 1].astype(np.float32)

    def phone(self, name: str) -> int:
        """Return the number of a phone by its ARPAbet name. Raises KeyError."""
        return self._numbers[name]

    def senones(self, phone: int, left: int, right: int, begins: bool, ends: bool) -> Ids:
        """Return the senones (STATES,) of a phone between two others, by whether a word begins or
        ends."""
        position = (_SINGLE if ends else _BEGIN) if begins else (_END if ends else _INSIDE)
        for place in (position, _INSIDE, _SINGLE, _BEGIN, _END):
            found = int(self._between[place, phone, left, right])
            if found >= 0:
                return np.asarray(self._senones_of[found])
        return np.asarray(self._senones_of[phone])

    def senones_alone(self, phone: int) -> Ids:
        """Return the senones (STATES,) of a phone whatever its neighbours."""
        return np.asarray(self._senones_of[phone])

    def scores(self, frames: Frames, senones: Ids) -> tuple[Frames, Frames]:
        """Return log likelihoods (steps, senones), and those of the best phone (steps,).

        Every second step is evaluated, which moves borders of words by 1 ms; those between lie
        halfway.
        """
        likely, anything = self._scores(np.ascontiguousarray(frames[::2]), senones)
        return _filled(likely, len(frames)), _filled(anything, len(frames))

    def _scores(self, frames: Frames, senones: Ids) -> tuple[Frames, Frames]:
        codebooks = self._codebook_of[senones]
        result = np.empty((len(senones), len(frames)), np.float32)
        anything = np.full(len(frames), -np.inf, np.float32)
        terms = [
            np.concatenate([x * x, x, np.ones((1, x.shape[1]), np.float32)])
            for x in np.split(np.ascontiguousarray(frames.T), len(self.weights))
        ]
        densities = np.empty((self.gaussians.shape[2], len(frames)), np.float32)
        for codebook in range(len(self._numbers)):
            wanted = np.flatnonzero(codebooks == codebook)
            own = np.concatenate([self._senones_of[codebook], senones[wanted]])
            sums = np.zeros((len(own), len(frames)), np.float32)
            for stream, term in enumerate(terms):
                np.matmul(self.gaussians[codebook, stream], term, out=densities)
                highest = densities.max(axis=0)
                densities -= highest
                np.exp(densities, out=densities)
                mixed = self.weights[stream, own] @ densities
                mixed += LEAST_SHARE
                sums += np.log(mixed, out=mixed)
                sums += highest
            np.maximum(anything, sums[:STATES].max(axis=0), out=anything)
            result[wanted] = sums[STATES:]
        return result.T, anything

    def _read_definition(self, data: bytes) -> None:
        """Read the phones, and their senones by neighbours."""
        (length,) = struct.unpack_from("<i", data, 8)
        place = 12 + length
        counts = struct.unpack_from("<10i", data, place)
        base, phones, _, _, senones, _, sequences, _, nodes, _ = counts
        place += 40
        names = data[place:].split(b"\0", base)[:base]
        self._numbers = {name.decode(): number for number, name in enumerate(names)}
        place += sum(len(name) + 1 for name in names)
        place += -place % 4 + nodes * 8
        entries = np.frombuffer(
            data, np.dtype([("sequence", "<i4"), ("matrix", "<i4"), ("around", "u1", 4)]),
            phones, place,
        )  # fmt: skip
        place += entries.nbytes + 4
        table = np.frombuffer(data, "<u2", sequences * STATES, place).reshape(-1, STATES)
        self._senones_of: Ids = table[entries["sequence"]].astype(np.int32)
        self._between: Ids = np.full((4, base, base, base), -1, np.int32)
        position, phone, left, right = entries["around"][base:].T
        self._between[position, phone, left, right] = np.arange(base, phones)
        self._codebook_of: Ids = np.zeros(senones, np.int32)
        self._codebook_of[self._senones_of[:base]] = np.arange(base)[:, None]
        self._codebook_of[self._senones_of[base:]] = phone[:, None]

    def _read_weights(self, data: bytes) -> None:
        """Read the mixture weights (streams, senones, Gaussians)."""
        place = 0
        while True:
            (length,) = struct.unpack_from("<i", data, place)
            place += 4 + length
            if not length:
                break
        rows, columns = struct.unpack_from("<2i", data, place)
        table = np.frombuffer(data, np.uint8, offset=place + 8).reshape(-1, rows, columns)
        weights = np.exp(-_WEIGHT_STEP * table.transpose(0, 2, 1).astype(np.float32))
        self.weights = np.ascontiguousarray(weights)


def _filled(values: Frames, count: int) -> Frames:
    """Interpolate (steps, ...) of every second step to all ``count``."""
    result = np.empty((count, *values.shape[1:]), np.float32)
    result[::2] = values
    between = count // 2
    result[1::2] = values[:between]
    result[1::2] += np.concatenate([values[1:], values[-1:]])[:between]
    result[1::2] /= 2
    return result


def _s3_array(path: Path) -> NDArray[np.float64]:
    """Read an array in the format of the model's parameter files.

    Gaussians as (codebooks, streams, Gaussians, width), transitions as (phones, states, to).
    """
    data = path.read_bytes()
    place = data.index(b"endhdr\n") + 7 + 4
    if path.name == "transition_matrices":
        shape = struct.unpack_from("<3i", data, place)
        place += 4 * 4
    else:
        books, streams, count, *widths = struct.unpack_from("<6i", data, place)
        shape = (books, streams, count, widths[0])
        place += 4 * 7
    size = int(np.prod(shape))
    return np.frombuffer(data, "<f4", size, place).reshape(shape).astype(np.float64)


def _as_products(means: NDArray[np.float64], variances: NDArray[np.float64]) -> Frames:
    """Return log densities as a matrix product with x², x, 1: (codebooks, streams, Gaussians, 2 ×
    width + 1)."""
    constant = -0.5 * (means**2 / variances + np.log(2 * np.pi * variances)).sum(axis=3)
    factors = np.concatenate([-0.5 / variances, means / variances, constant[..., None]], axis=3)
    return np.ascontiguousarray(factors, np.float32)
