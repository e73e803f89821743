"""The built-in model's decoder in NumPy: from a sound's hidden states and tokens to the next token.

A transformer decoder ("Attention Is All You Need", Vaswani et al. 2017) with rotary positions
("RoFormer", Su et al. 2021) and gated feed-forward layers ("GLU Variants Improve Transformer",
Shazeer 2020). Keys and values of what was seen are kept, so that a step costs one token and not
the whole text so far. All texts of one sound share its keys and values; that is what makes many
texts a sound nearly as cheap as one, and why this is not left to a general runtime, which was
measured to spend two thirds of its time moving those keys and values about.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.recognisers.modelfile import ModelFile
from tamarind.speech.recognisers.rotary import HEADS, Turn, rotation, turned
from tamarind.speech.recognisers.subnetworks import (
    LayerWeights,
    after_sound,
    after_text,
    entrance,
    exit_of,
)

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]
Look = Callable[[int, Floats], Floats]

_ROOM = 64
"""Tokens by which the store of keys and values grows."""


class Decoder:
    """The weights of a decoder, read once; about 75 MB."""

    def __init__(self, path: Path) -> None:
        file = ModelFile(path)
        self.layers: list[LayerWeights] = []
        while file.has(f"/layers.{len(self.layers)}/mlp/fc1/Add_output_0"):
            self.layers.append(_read_layer(file, f"layers.{len(self.layers)}"))
        self.embedding = file.constant("decoder.embed_tokens.weight")
        self.width = self.embedding.shape[1]
        self.enter = entrance(self.layers[0])
        self.from_text = [after_text(layer) for layer in self.layers]
        self.from_sound = [after_sound(*pair) for pair in pairwise(self.layers)]
        norm, vocabulary = file.constant("decoder.norm.weight"), file.weight("logits")
        self.from_sound.append(exit_of(self.layers[-1], norm, vocabulary))

    def begin(self, hidden: Sequence[Floats], beams: int) -> DecoderState:
        """Texts yet empty, ``beams`` for each sound with hidden states (frames, width)."""
        return DecoderState(self, hidden, beams)

    def through(self, tokens: Ints, in_text: Look, in_sound: Look) -> Floats:
        """Log probabilities (rows, vocabulary) of what follows tokens (rows,).

        ``in_text`` gives what a layer, by its number, sees in the text for its queries, keys and
        values (rows, three widths), ``in_sound`` what it hears for its queries (rows, width).
        """
        x = self.embedding[tokens]
        (inner,) = self.enter(x)
        for index, (from_text, from_sound) in enumerate(
            zip(self.from_text, self.from_sound, strict=True)
        ):
            x, queries = from_text(x, in_text(index, inner))
            x, *rest = from_sound(x, in_sound(index, queries))
            inner = rest[0] if rest else x
        return inner

    def score(self, hidden: Floats, texts: Sequence[Sequence[int]]) -> Floats:
        """The natural log of the probability of each whole text (with both sentinels) in a sound.

        All places of all texts are computed at once, which is many times as fast as step by step.
        """
        count, longest = len(texts), max(map(len, texts)) - 1
        tokens = np.zeros((count, longest + 1), np.int64)
        for row, text in enumerate(texts):
            tokens[row, : len(text)] = text
        shape = (count, longest, HEADS, self.width // HEADS)
        size = shape[-1]
        ahead = np.triu(np.full((longest, longest), -np.inf, np.float32), 1)
        turn = rotation(np.arange(longest)[:, None, None])

        def in_text(_: int, inner: Floats) -> Floats:
            queries, keys, values = (part.reshape(shape) for part in np.split(inner, 3, axis=1))
            queries, keys = turned(queries, turn), turned(keys, turn)
            weights = queries.transpose(0, 2, 1, 3) @ keys.transpose(0, 2, 3, 1)
            weights = _softmax(weights * size**-0.5 + ahead)
            seen = weights @ values.transpose(0, 2, 1, 3)
            return np.asarray(seen.transpose(0, 2, 1, 3).reshape(len(inner), -1))

        def in_sound(index: int, queries: Floats) -> Floats:
            layer = self.layers[index]
            keys = (hidden @ layer.sound_keys).reshape(-1, HEADS, size).transpose(1, 2, 0)
            values = (hidden @ layer.sound_values).reshape(-1, HEADS, size).swapaxes(0, 1)
            weights = queries.reshape(-1, HEADS, size).swapaxes(0, 1) @ keys
            heard = (_softmax(weights * size**-0.5) @ values).swapaxes(0, 1)
            return np.ascontiguousarray(heard).reshape(len(queries), -1)

        inner = self.through(tokens[:, :-1].reshape(-1), in_text, in_sound)
        logs = inner.reshape(count, longest, -1)
        said = np.take_along_axis(logs, tokens[:, 1:, None], axis=2)[..., 0]
        real = np.arange(longest) < np.array([len(text) - 1 for text in texts])[:, None]
        return np.asarray((said * real).sum(axis=1), np.float32)


class DecoderState:
    """Texts that grow by one token a step; row ``sound * beams + beam`` of ``rows``."""

    def __init__(self, decoder: Decoder, hidden: Sequence[Floats], beams: int) -> None:
        self._decoder = decoder
        self._beams = beams
        self._size = decoder.width // HEADS
        self._position = 0
        frames = max(len(states) for states in hidden)
        sounds, layers = len(hidden), len(decoder.layers)
        # One array a layer: they are large, and go down in number one after the other.
        self._keys, self._values = (
            [np.zeros((sounds, HEADS, *shape), np.float32) for _ in range(layers)]
            for shape in ((self._size, frames), (frames, self._size))
        )
        self._bar = np.zeros((sounds, 1, 1, frames), np.float32)
        for sound, states in enumerate(hidden):
            length = len(states)
            self._bar[sound, ..., length:] = -np.inf
            for index, layer in enumerate(decoder.layers):
                keys = (states @ layer.sound_keys).reshape(length, HEADS, self._size)
                values = (states @ layer.sound_values).reshape(length, HEADS, self._size)
                self._keys[index][sound, ..., :length] = keys.transpose(1, 2, 0)
                self._values[index][sound, :, :length] = values.transpose(1, 0, 2)
        self._own_keys, self._own_values = (
            np.zeros((layers, sounds * beams, HEADS, _ROOM, self._size), np.float32)
            for _ in range(2)
        )

    def step(self, tokens: Ints) -> Floats:
        """Append one token a row (rows,); log probabilities of what is next (rows, vocabulary)."""
        decoder = self._decoder
        if self._position == self._own_keys.shape[3]:
            room = np.zeros((*self._own_keys.shape[:3], _ROOM, self._size), np.float32)
            self._own_keys = np.concatenate([self._own_keys, room], axis=3)
            self._own_values = np.concatenate([self._own_values, room], axis=3)
        turn = rotation(self._position)
        following = decoder.through(
            tokens,
            lambda index, inner: self._attend_to_text(index, inner, turn),
            self._attend_to_sound,
        )
        self._position += 1
        return following

    def keep_sounds(self, sounds: Ints) -> None:
        """Go on with these sounds only."""
        for store in (self._keys, self._values):
            for index, layer in enumerate(store):
                store[index] = layer[sounds]
        self._bar = self._bar[sounds]
        rows = (sounds[:, None] * self._beams + np.arange(self._beams)).reshape(-1)
        self._own_keys, self._own_values = self._own_keys[:, rows], self._own_values[:, rows]

    def follow(self, parents: Ints) -> None:
        """Each row goes on from the text of row ``parents[row]``, one of the same sound."""
        changed = np.flatnonzero(parents != np.arange(len(parents)))
        if len(changed):
            end = self._position
            for store in (self._own_keys, self._own_values):
                store[:, changed, :, :end] = store[:, parents[changed], :, :end]

    def _attend_to_text(self, index: int, inner: Floats, turn: Turn) -> Floats:
        """What each row sees in its text so far, from its queries, keys and values."""
        rows = len(inner)
        queries, keys, values = inner.reshape(rows, 3, HEADS, self._size).swapaxes(0, 1)
        self._own_keys[index, :, :, self._position] = turned(keys, turn)
        self._own_values[index, :, :, self._position] = values
        seen = slice(0, self._position + 1)
        weights = self._own_keys[index, :, :, seen] @ turned(queries, turn)[..., None]
        weights = _softmax(weights.swapaxes(2, 3) * self._size**-0.5)
        return (weights @ self._own_values[index, :, :, seen]).reshape(rows, -1)

    def _attend_to_sound(self, index: int, queries: Floats) -> Floats:
        """What each row hears in its sound."""
        rows = len(queries)
        queries = queries.reshape(-1, self._beams, HEADS, self._size)
        weights = queries.swapaxes(1, 2) @ self._keys[index]
        weights = _softmax(weights * self._size**-0.5 + self._bar)
        return (weights @ self._values[index]).swapaxes(1, 2).reshape(rows, -1)


def _softmax(x: Floats) -> Floats:
    x = np.exp(x - x.max(axis=-1, keepdims=True))
    return np.asarray(x / x.sum(axis=-1, keepdims=True), np.float32)


def _read_layer(file: ModelFile, name: str) -> LayerWeights:
    own, sound = f"/{name}/self_attn", f"/{name}/encoder_attn"
    product = "_proj/MatMul_output_0"
    return LayerWeights(
        norms=(
            file.constant(f"decoder.{name}.input_layernorm.weight"),
            file.constant(f"decoder.{name}.post_attention_layernorm.weight"),
            file.constant(f"decoder.{name}.final_layernorm.weight"),
        ),
        own_in=np.concatenate([file.weight(f"{own}/{part}{product}") for part in "qkv"], axis=1),
        own_out=file.weight(f"{own}/o{product}"),
        sound_query=file.weight(f"{sound}/q{product}"),
        sound_keys=file.weight(f"{sound}/k{product}"),
        sound_values=file.weight(f"{sound}/v{product}"),
        sound_out=file.weight(f"{sound}/o{product}"),
        wide=file.weight(f"/{name}/mlp/fc1/Add_output_0"),
        wide_bias=file.constant(f"decoder.{name}.mlp.fc1.bias"),
        narrow=file.weight(f"/{name}/mlp/fc2/Add_output_0"),
        narrow_bias=file.constant(f"decoder.{name}.mlp.fc2.bias"),
    )
