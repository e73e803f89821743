"""The parts of a decoder between attention to the text and to the sound: products, norms, gates.

As small networks of their own these take half the time that they take in NumPy.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.recognisers.network import Network, Subnetwork

Floats = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class LayerWeights:
    """The weights of one layer; products are (inputs, outputs), ``norms`` are (width,) each."""

    norms: tuple[Floats, Floats, Floats]
    own_in: Floats
    own_out: Floats
    sound_query: Floats
    sound_keys: Floats
    sound_values: Floats
    sound_out: Floats
    wide: Floats
    wide_bias: Floats
    narrow: Floats
    narrow_bias: Floats


def entrance(first: LayerWeights) -> Subnetwork:
    """Build the part from embedded tokens to queries, keys and values for the first attention to
    the text."""
    network = Network(("x",))
    return network.ending((network.product(network.norm("x", first.norms[0]), first.own_in),))


def after_text(layer: LayerWeights) -> Subnetwork:
    """Build the part from a row and its attention to the text to the row and its query for the
    sound."""
    network = Network(("x", "seen"))
    x = network.sum("x", network.product("seen", layer.own_out))
    return network.ending((x, network.product(network.norm(x, layer.norms[1]), layer.sound_query)))


def after_sound(layer: LayerWeights, following: LayerWeights) -> Subnetwork:
    """Build the part from a row and its attention to the sound to the row and its query for the
    text in the next layer."""
    network = Network(("x", "heard"))
    x = _fed_forward(network, layer)
    product = network.product(network.norm(x, following.norms[0]), following.own_in)
    return network.ending((x, product))


def exit_of(layer: LayerWeights, norm: Floats, vocabulary: Floats) -> Subnetwork:
    """Build the part from a row and its attention to the sound in the last layer to log
    probabilities of the next token."""
    network = Network(("x", "heard"))
    x = network.norm(_fed_forward(network, layer), norm)
    return network.ending(
        (network.add("LogSoftmax", network.rounded_product(x, vocabulary), axis=-1),)
    )


def _fed_forward(network: Network, layer: LayerWeights) -> str:
    x = network.sum("x", network.product("heard", layer.sound_out))
    wide = network.product(network.norm(x, layer.norms[2]), layer.wide)
    wide = network.sum(wide, network.constant(layer.wide_bias))
    inner, gate = network.parted(wide, 2)
    opened = network.add("Mul", inner, network.add("Mul", gate, network.add("Sigmoid", gate)))
    narrow = network.product(opened, layer.narrow)
    return network.sum(x, network.sum(narrow, network.constant(layer.narrow_bias)))
