"""Run a decoder: texts that grow token by token with attention to themselves and to their sounds.

Transformer decoders ("Attention Is All You Need", Vaswani et al. 2017) differ in what lies between
their looks; the looks themselves are here, for all of them. Keys and values of what was seen are
kept, so that a step costs one token and not the whole text so far.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]
Look = Callable[[int, Floats], Floats]

_ROOM = 64
"""Tokens by which the store of keys and values grows."""


class Layers(Protocol):
    """The layers of a decoder, without attention."""

    @property
    def count(self) -> int:
        """The number of layers."""

    @property
    def heads(self) -> int:
        """The number of attention heads."""

    @property
    def width(self) -> int:
        """The width of a hidden state."""

    def through(self, tokens: Ints, positions: Ints, in_text: Look, in_sound: Look) -> Floats:
        """Return log probabilities (rows, vocabulary) of what follows tokens (rows,) at
        ``positions`` (one for all, or (rows,)).

        ``in_text`` gives what a layer, by its number, sees in the text for its queries, keys and
        values (rows, three widths), ``in_sound`` what it hears for its queries (rows, width).
        """

    def of_sound(self, layer: int, hidden: Floats) -> tuple[Floats, Floats]:
        """Return keys and values (frames, width) of a sound's hidden states (frames, width)."""

    def placed(self, queries: Floats, keys: Floats, positions: Ints) -> tuple[Floats, Floats]:
        """Return queries and keys (…, heads, size) with their positions, if attention uses them."""


class DecoderState:
    """Texts that grow by one token a step; row ``sound * beams + beam`` of ``rows``.

    All texts of one sound share its keys and values; that is what makes many texts a sound nearly
    as cheap as one, and why this is not left to a general runtime, which was measured to spend two
    thirds of its time moving those keys and values about.
    """

    def __init__(self, layers: Layers, hidden: Sequence[Floats], beams: int) -> None:
        self._layers = layers
        self._beams = beams
        self._heads, self._size = layers.heads, layers.width // layers.heads
        self._position = 0
        frames = max(len(states) for states in hidden)
        sounds, count = len(hidden), layers.count
        # One array a layer: they are large, and go down in number one after the other.
        self._keys, self._values = (
            [np.zeros((sounds, self._heads, *shape), np.float32) for _ in range(count)]
            for shape in ((self._size, frames), (frames, self._size))
        )
        self._bar = np.zeros((sounds, 1, 1, frames), np.float32)
        for sound, states in enumerate(hidden):
            length = len(states)
            self._bar[sound, ..., length:] = -np.inf
            for index in range(count):
                keys, values = (
                    part.reshape(length, self._heads, self._size)
                    for part in layers.of_sound(index, states)
                )
                self._keys[index][sound, ..., :length] = keys.transpose(1, 2, 0)
                self._values[index][sound, :, :length] = values.transpose(1, 0, 2)
        self._own_keys, self._own_values = (
            np.zeros((count, sounds * beams, self._heads, _ROOM, self._size), np.float32)
            for _ in range(2)
        )

    def step(self, tokens: Ints) -> Floats:
        """Append one token a row (rows,); return log probabilities of the next (rows,
        vocabulary)."""
        if self._position == self._own_keys.shape[3]:
            room = np.zeros((*self._own_keys.shape[:3], _ROOM, self._size), np.float32)
            self._own_keys = np.concatenate([self._own_keys, room], axis=3)
            self._own_values = np.concatenate([self._own_values, room], axis=3)
        position = np.array(self._position)
        following = self._layers.through(
            tokens,
            position,
            lambda index, inner: self._attend_to_text(index, inner, position),
            self._attend_to_sound,
        )
        self._position += 1
        return following

    def keep_sounds(self, sounds: Ints) -> None:
        """Continue with these sounds only."""
        for store in (self._keys, self._values):
            for index, layer in enumerate(store):
                store[index] = layer[sounds]
        self._bar = self._bar[sounds]
        rows = (sounds[:, None] * self._beams + np.arange(self._beams)).reshape(-1)
        self._own_keys, self._own_values = self._own_keys[:, rows], self._own_values[:, rows]

    def follow(self, parents: Ints) -> None:
        """Continue each row from the text of row ``parents[row]``, one of the same sound."""
        changed = np.flatnonzero(parents != np.arange(len(parents)))
        if len(changed):
            end = self._position
            for store in (self._own_keys, self._own_values):
                store[:, changed, :, :end] = store[:, parents[changed], :, :end]

    def _attend_to_text(self, index: int, inner: Floats, position: Ints) -> Floats:
        """Return the attention of each row to its text, from its queries, keys and values."""
        rows = len(inner)
        queries, keys, values = inner.reshape(rows, 3, self._heads, self._size).swapaxes(0, 1)
        queries, keys = self._layers.placed(queries, keys, position)
        self._own_keys[index, :, :, self._position] = keys
        self._own_values[index, :, :, self._position] = values
        seen = slice(0, self._position + 1)
        queries = queries * np.float32(self._size**-0.5)
        weights = self._own_keys[index, :, :, seen] @ queries[..., None]
        return _seen(weights.swapaxes(2, 3), self._own_values[index, :, :, seen]).reshape(rows, -1)

    def _attend_to_sound(self, index: int, queries: Floats) -> Floats:
        """Return the attention of each row to its sound."""
        rows = len(queries)
        queries = queries.reshape(-1, self._beams, self._heads, self._size)
        queries = queries.swapaxes(1, 2) * np.float32(self._size**-0.5)
        weights = queries @ self._keys[index]
        weights += self._bar
        return _seen(weights, self._values[index]).swapaxes(1, 2).reshape(rows, -1)


def score(layers: Layers, hidden: Floats, texts: Sequence[Sequence[int]]) -> Floats:
    """Return the log probability of each whole text (from its first token on) in a sound.

    All places of all texts are computed at once, which is many times as fast as step by step.
    """
    count, longest = len(texts), max(map(len, texts)) - 1
    tokens = np.zeros((count, longest + 1), np.int64)
    for row, text in enumerate(texts):
        tokens[row, : len(text)] = text
    size = layers.width // layers.heads
    shape = (count, longest, layers.heads, size)
    ahead = np.triu(np.full((longest, longest), -np.inf, np.float32), 1)
    positions = np.arange(longest)

    def in_text(_: int, inner: Floats) -> Floats:
        queries, keys, values = (part.reshape(shape) for part in np.split(inner, 3, axis=1))
        queries, keys = layers.placed(queries, keys, positions[:, None, None])
        weights = queries.transpose(0, 2, 1, 3) @ keys.transpose(0, 2, 3, 1)
        weights = _softmax(weights * size**-0.5 + ahead)
        seen = weights @ values.transpose(0, 2, 1, 3)
        return np.asarray(seen.transpose(0, 2, 1, 3).reshape(len(inner), -1))

    def in_sound(index: int, queries: Floats) -> Floats:
        keys, values = (
            part.reshape(-1, layers.heads, size) for part in layers.of_sound(index, hidden)
        )
        weights = queries.reshape(-1, layers.heads, size).swapaxes(0, 1) @ keys.transpose(1, 2, 0)
        heard = (_softmax(weights * size**-0.5) @ values.swapaxes(0, 1)).swapaxes(0, 1)
        return np.ascontiguousarray(heard).reshape(len(queries), -1)

    every = np.tile(positions, count)
    inner = layers.through(tokens[:, :-1].reshape(-1), every, in_text, in_sound)
    logs = inner.reshape(count, longest, -1)
    said = np.take_along_axis(logs, tokens[:, 1:, None], axis=2)[..., 0]
    real = np.arange(longest) < np.array([len(text) - 1 for text in texts])[:, None]
    return np.asarray((said * real).sum(axis=1), np.float32)


def _seen(weights: Floats, values: Floats) -> Floats:
    """Return ``values`` weighted by the softmax of ``weights``, which are overwritten; divided
    last, where there is least of it."""
    weights -= weights.max(axis=-1, keepdims=True)
    np.exp(weights, out=weights)
    total = weights.sum(axis=-1, keepdims=True)
    return np.asarray((weights @ values) / total, np.float32)


def _softmax(x: Floats) -> Floats:
    x = np.exp(x - x.max(axis=-1, keepdims=True))
    return np.asarray(x / x.sum(axis=-1, keepdims=True), np.float32)
