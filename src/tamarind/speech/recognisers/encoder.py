"""The built-in model's encoder: from sound to hidden states.

Three convolutions bring sound to frames of 24 ms; a transformer encoder ("Attention Is All You
Need", Vaswani et al. 2017) with rotary positions ("RoFormer", Su et al. 2021) follows. It is put
together anew from the weights in the model's file: with numbers of full precision where the file's
own network rounds what goes into each product to 8 bits, which costs it words, and with attention
that does not write out the weights of all frames on all frames.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.recognisers.modelfile import ModelFile
from tamarind.speech.recognisers.network import EPSILON, OWN, Network, Subnetwork
from tamarind.speech.recognisers.rotary import HEADS, ROTATED, rotation

Floats = NDArray[np.float32]

SHORTEST = SAMPLE_RATE // 4
"""Fewer samples than this the network cannot hear."""

STRIDES = (64, 3, 2)
_MOST_FRAMES = 4096


class BuiltinEncoder:
    """Encodes one segment at a time, so that none is padded and none changes another's result.

    The network scales its input by statistics of the whole segment; in a batch, its neighbours'
    padding and loudness would take part in them.
    """

    def __init__(self, path: Path) -> None:
        self._network = _network(ModelFile(path))

    def rest(self) -> None:
        """Free the memory that is kept for the next segment."""
        self._network.rest(np.zeros((1, 1, SHORTEST), np.float32))

    def hidden(self, segment: Samples) -> Floats:
        """Return hidden states (frames of 24 ms, width) of mono float32 at 16 kHz."""
        (states,) = self._network(np.ascontiguousarray(segment, np.float32)[None, None])
        result: Floats = states[0]
        return result


def _network(file: ModelFile) -> Subnetwork:
    network = Network(("sound",))

    def convolved(x: str, number: int, *bias: str) -> str:
        weight = file.constant(f"conv{number}.weight")
        stride = [STRIDES[number - 1]]
        return network.add("Conv", x, network.constant(weight), *bias, strides=stride)

    def bias(name: str) -> str:
        return network.constant(file.constant(name))

    x = network.add("Tanh", convolved("sound", 1))
    # All channels of all frames are brought to one mean and spread, as one instance.
    flat = network.add("Reshape", x, network.constant(np.array([0, 1, -1])))
    one, zero = (network.constant(np.full(1, value, np.float32)) for value in (1, 0))
    flat = network.add("InstanceNormalization", flat, one, zero, epsilon=EPSILON)
    x = network.add("Reshape", flat, network.add("Shape", x))
    x = network.add("Mul", x, network.constant(file.weight("/groupnorm/Mul_output_0")))
    x = network.sum(x, network.constant(file.weight("/groupnorm/Add_output_0")))
    for number in (2, 3):
        x = network.add("Gelu", convolved(x, number, bias(f"conv{number}.bias")), domain=OWN)
    x = network.add("Transpose", x, perm=[0, 2, 1])
    positions = network.constant(np.zeros(1, np.int64))
    turn = [network.constant(part) for part in rotation(np.arange(_MOST_FRAMES)[:, None])]
    layer = 0
    while file.has(f"/layers.{layer}/mlp/fc1/Add_output_0"):
        name = f"layers.{layer}"
        inner = network.norm(x, file.constant(f"{name}.input_layernorm.weight"))
        queries, keys, values = (
            network.product(inner, file.weight(f"/{name}/self_attn/{part}_proj/MatMul_output_0"))
            for part in "qkv"
        )
        queries, keys = (
            network.add(
                "RotaryEmbedding", part, positions, *turn,
                domain=OWN, interleaved=1, num_heads=HEADS, rotary_embedding_dim=ROTATED,
            )
            for part in (queries, keys)
        )  # fmt: skip
        seen = network.add("MultiHeadAttention", queries, keys, values, domain=OWN, num_heads=HEADS)
        out = file.weight(f"/{name}/self_attn/o_proj/MatMul_output_0")
        x = network.sum(x, network.product(seen, out))
        inner = network.norm(x, file.constant(f"{name}.post_attention_layernorm.weight"))
        wide = network.product(inner, file.weight(f"/{name}/mlp/fc1/Add_output_0"))
        wide = network.sum(wide, bias(f"{name}.mlp.fc1.bias"))
        wide = network.add("Gelu", wide, domain=OWN)
        narrow = network.product(wide, file.weight(f"/{name}/mlp/fc2/Add_output_0"))
        x = network.sum(x, network.sum(narrow, bias(f"{name}.mlp.fc2.bias")))
        layer += 1
    return network.ending((network.norm(x, file.constant("layer_norm.weight")),))
