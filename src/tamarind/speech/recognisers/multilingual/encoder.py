"""The encoder of a multilingual network: from a spectrogram to hidden states.

Two convolutions bring frames of 10 ms to 20 ms; a transformer encoder with fixed positions follows
(Radford et al. 2022, section 2.2). It is put together from the weights and run by onnxruntime.
"""

from __future__ import annotations

import numpy as np

from tamarind.speech.recognisers.decoding import Floats
from tamarind.speech.recognisers.modelfile import ModelFileError
from tamarind.speech.recognisers.multilingual.parts import fed_forward, linear, normed
from tamarind.speech.recognisers.multilingual.weights import Weights
from tamarind.speech.recognisers.network import OWN, Network, Subnetwork

_SHORTEST = 8


class MultilingualEncoder:
    """Encodes one sound at a time, as long as it is; threads may share it."""

    def __init__(self, weights: Weights) -> None:
        if not weights.has("encoder/conv1/weight"):
            raise ModelFileError("it has no encoder")
        self.bands = weights.array("encoder/conv1/weight").shape[1]
        self._positions = weights.array("encoder/position_encodings/encodings")
        self._network = _network(weights)

    def hidden(self, spectrogram: Floats) -> Floats:
        """Return hidden states (frames of 20 ms, width) of (bands, frames of 10 ms), an even
        number."""
        positions = self._positions[: spectrogram.shape[1] // 2]
        (states,) = self._network(np.ascontiguousarray(spectrogram[None]), positions[None])
        result: Floats = states[0]
        return result

    def rest(self) -> None:
        """Free the memory that is kept for the next sound."""
        silence = np.zeros((1, self.bands, _SHORTEST), np.float32)
        self._network.rest(silence, self._positions[None, : _SHORTEST // 2])


def _network(weights: Weights) -> Subnetwork:
    network = Network(("spectrogram", "positions"))
    x = "spectrogram"
    for number, stride in ((1, 1), (2, 2)):
        name = f"encoder/conv{number}"
        weight, bias = (network.constant(weights.array(f"{name}/{w}")) for w in ("weight", "bias"))
        x = network.add("Conv", x, weight, bias, strides=[stride], pads=[1, 1])
        x = network.add("Gelu", x, domain=OWN)
    x = network.sum(network.add("Transpose", x, perm=[0, 2, 1]), "positions")
    heads, layer = weights.number("encoder/num_heads"), 0
    while weights.has(f"encoder/layer_{layer}/ffn/linear_0/weight"):
        name = f"encoder/layer_{layer}"
        inner = normed(network, weights, f"{name}/self_attention/layer_norm", x)
        asked = linear(network, weights, f"{name}/self_attention/linear_0", inner)
        queries, keys, values = network.parted(asked, 3)
        seen = network.add("MultiHeadAttention", queries, keys, values, domain=OWN, num_heads=heads)
        x = network.sum(x, linear(network, weights, f"{name}/self_attention/linear_1", seen))
        x = fed_forward(network, weights, name, x)
        layer += 1
    return network.ending((normed(network, weights, "encoder/layer_norm", x),))
