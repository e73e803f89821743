"""The decoder of a multilingual network: its layers between attention to the text and to the sound.

A transformer decoder with learned positions, normed before each part (Radford et al. 2022, section
2.2; Radford et al. 2019, "Language Models are Unsupervised Multitask Learners"). The products
between its looks are small networks for onnxruntime, as for the built-in model.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from tamarind.speech.recognisers.decoding import Floats, Ints, Look
from tamarind.speech.recognisers.modelfile import ModelFileError
from tamarind.speech.recognisers.multilingual.parts import fed_forward, linear, normed
from tamarind.speech.recognisers.multilingual.weights import Weights
from tamarind.speech.recognisers.network import Network, Subnetwork

BARRED = np.float32(-1e4)
"""Added to the logits of tokens that may not come."""


class MultilingualDecoder:
    """The weights of a decoder.

    Tokens of ``barred`` never come, except at the first ``free`` places: there the network is told
    what to do, and may say that nobody speaks.
    """

    def __init__(self, weights: Weights, barred: Sequence[int], free: int) -> None:
        self.count = 0
        while weights.has(f"decoder/layer_{self.count}/ffn/linear_0/weight"):
            self.count += 1
        if not self.count:
            raise ModelFileError("it has no decoder")
        self._embedding = weights.rows("decoder/embeddings/weight")
        self.positions = weights.array("decoder/position_encodings/encodings")
        tokens, self.width = self._embedding.shape
        self.heads = weights.number("decoder/num_heads")
        self._of_sound = [_of_sound(weights, index) for index in range(self.count)]
        self._enter = _entrance(weights)
        self._from_text = [_after_text(weights, index) for index in range(self.count)]
        self._from_sound = [_after_sound(weights, index) for index in range(self.count - 1)]
        self._exit = _exit(weights, self.count - 1)
        self._free = free
        self._bar = np.zeros(tokens, np.float32)
        self._bar[list(barred)] = BARRED
        self._no_bar = np.zeros(tokens, np.float32)

    def through(self, tokens: Ints, positions: Ints, in_text: Look, in_sound: Look) -> Floats:
        """Return log probabilities of the next token; see ``decoding.Layers``."""
        x = self._embedding[tokens].astype(np.float32) + self.positions[positions]
        (inner,) = self._enter(x)
        for index, from_text in enumerate(self._from_text):
            x, queries = from_text(x, in_text(index, inner))
            heard = in_sound(index, queries)
            if index < len(self._from_sound):
                x, inner = self._from_sound[index](x, heard)
        bar = self._no_bar if np.max(positions) < self._free else self._bar
        (result,) = self._exit(x, heard, bar)
        return result

    def of_sound(self, layer: int, hidden: Floats) -> tuple[Floats, Floats]:
        """Return the keys and values of a sound's hidden states."""
        (both,) = self._of_sound[layer](hidden)
        return both[:, : self.width], both[:, self.width :]

    def placed(self, queries: Floats, keys: Floats, positions: Ints) -> tuple[Floats, Floats]:
        """Return them unchanged, since positions are in the hidden states."""
        return queries, keys


def _entrance(weights: Weights) -> Subnetwork:
    network = Network(("x",))
    return network.ending((_own_in(network, weights, 0, "x"),))


def _of_sound(weights: Weights, index: int) -> Subnetwork:
    """Build the layer from a sound's hidden states to keys and values; not rounded, since that was
    measured to change words."""
    name = f"decoder/layer_{index}/attention/linear_1"
    network = Network(("x",))
    weight = np.ascontiguousarray(weights.array(f"{name}/weight").T)
    both = network.sum(
        network.product("x", weight), network.constant(weights.array(f"{name}/bias"))
    )
    return network.ending((both,))


def _after_text(weights: Weights, index: int) -> Subnetwork:
    """Build the layer from a row and its attention to the text to the row and its query for the
    sound."""
    layer = f"decoder/layer_{index}"
    network = Network(("x", "seen"))
    seen = linear(network, weights, f"{layer}/self_attention/linear_1", "seen")
    x = network.sum("x", seen)
    inner = normed(network, weights, f"{layer}/attention/layer_norm", x)
    return network.ending((x, linear(network, weights, f"{layer}/attention/linear_0", inner)))


def _after_sound(weights: Weights, index: int) -> Subnetwork:
    """Build the layer from a row and its attention to the sound to the row and its query for the
    text in the next layer."""
    network = Network(("x", "heard"))
    x = _heard(network, weights, index)
    return network.ending((x, _own_in(network, weights, index + 1, x)))


def _exit(weights: Weights, index: int) -> Subnetwork:
    """Build the last layer, with a bar for each token, to log probabilities of the next one."""
    network = Network(("x", "heard", "bar"))
    x = _heard(network, weights, index)
    x = normed(network, weights, "decoder/layer_norm", x)
    logits = network.rounded_product(
        x, np.ascontiguousarray(weights.array("decoder/embeddings/weight").T)
    )
    logits = network.sum(logits, "bar")
    return network.ending((network.add("LogSoftmax", logits, axis=-1),))


def _heard(network: Network, weights: Weights, index: int) -> str:
    layer = f"decoder/layer_{index}"
    x = network.sum("x", linear(network, weights, f"{layer}/attention/linear_2", "heard"))
    return fed_forward(network, weights, layer, x)


def _own_in(network: Network, weights: Weights, index: int, x: str) -> str:
    layer = f"decoder/layer_{index}/self_attention"
    inner = normed(network, weights, f"{layer}/layer_norm", x)
    return linear(network, weights, f"{layer}/linear_0", inner)
