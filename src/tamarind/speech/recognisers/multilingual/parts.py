"""Layers that encoder and decoder of a multilingual network share, made from its weights."""

from __future__ import annotations

import numpy as np

from tamarind.speech.recognisers.multilingual.weights import Weights
from tamarind.speech.recognisers.network import OWN, Network


def linear(network: Network, weights: Weights, name: str, x: str, mostly_up: bool = False) -> str:
    """Multiply ``x`` by a weight and add its bias."""
    weight = np.ascontiguousarray(weights.array(f"{name}/weight").T)
    product = network.rounded_product(x, weight, mostly_up)
    return network.sum(product, network.constant(weights.array(f"{name}/bias")))


def normed(network: Network, weights: Weights, name: str, x: str) -> str:
    """Normalise ``x``, with a bias."""
    return network.norm(x, weights.array(f"{name}/gamma"), weights.array(f"{name}/beta"))


def fed_forward(network: Network, weights: Weights, layer: str, x: str) -> str:
    """Apply the feed-forward part of a layer to ``x`` (Hendrycks and Gimpel 2016, "Gaussian Error
    Linear Units")."""
    inner = normed(network, weights, f"{layer}/ffn/layer_norm", x)
    wide = linear(network, weights, f"{layer}/ffn/linear_0", inner)
    bent = network.add("Gelu", wide, domain=OWN)
    return network.sum(x, linear(network, weights, f"{layer}/ffn/linear_1", bent, mostly_up=True))
