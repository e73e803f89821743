"""The built-in model's decoder: its layers between attention to the text and to the sound.

A transformer decoder ("Attention Is All You Need", Vaswani et al. 2017) with rotary positions
("RoFormer", Su et al. 2021) and gated feed-forward layers ("GLU Variants Improve Transformer",
Shazeer 2020).
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path

import numpy as np

from tamarind.speech.recognisers.decoding import DecoderState, Floats, Ints, Look, score
from tamarind.speech.recognisers.modelfile import ModelFile
from tamarind.speech.recognisers.rotary import HEADS, rotation, turned
from tamarind.speech.recognisers.subnetworks import (
    LayerWeights,
    after_sound,
    after_text,
    entrance,
    exit_of,
)


class BuiltinDecoder:
    """The weights of a decoder, read once; about 75 MB."""

    def __init__(self, path: Path) -> None:
        file = ModelFile(path)
        self.layers: list[LayerWeights] = []
        while file.has(f"/layers.{len(self.layers)}/mlp/fc1/Add_output_0"):
            self.layers.append(_read_layer(file, f"layers.{len(self.layers)}"))
        self.embedding = file.constant("decoder.embed_tokens.weight")
        self.width, self.heads, self.count = self.embedding.shape[1], HEADS, len(self.layers)
        self.enter = entrance(self.layers[0])
        self.from_text = [after_text(layer) for layer in self.layers]
        self.from_sound = [after_sound(*pair) for pair in pairwise(self.layers)]
        norm, vocabulary = file.constant("decoder.norm.weight"), file.weight("logits")
        self.from_sound.append(exit_of(self.layers[-1], norm, vocabulary))

    def begin(self, hidden: Sequence[Floats], beams: int) -> DecoderState:
        """Start with empty texts, ``beams`` for each sound with hidden states (frames, width)."""
        return DecoderState(self, hidden, beams)

    def score(self, hidden: Floats, texts: Sequence[Sequence[int]]) -> Floats:
        """Return the log probability of each whole text (with both sentinels)."""
        return score(self, hidden, texts)

    def through(self, tokens: Ints, positions: Ints, in_text: Look, in_sound: Look) -> Floats:
        """Return log probabilities of the next token; see ``decoding.Layers``. Positions are
        rotary."""
        x = self.embedding[tokens]
        (inner,) = self.enter(x)
        for index, (from_text, from_sound) in enumerate(
            zip(self.from_text, self.from_sound, strict=True)
        ):
            x, queries = from_text(x, in_text(index, inner))
            x, *rest = from_sound(x, in_sound(index, queries))
            inner = rest[0] if rest else x
        return inner

    def of_sound(self, layer: int, hidden: Floats) -> tuple[Floats, Floats]:
        """Return the keys and values of a sound's hidden states."""
        weights = self.layers[layer]
        return hidden @ weights.sound_keys, hidden @ weights.sound_values

    def placed(self, queries: Floats, keys: Floats, positions: Ints) -> tuple[Floats, Floats]:
        """Rotate queries and keys by their positions."""
        turn = rotation(positions)
        return turned(queries, turn), turned(keys, turn)


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
