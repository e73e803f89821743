"""What a decoder does between its looks at the text and at the sound: products, norms, gates.

These stretches are put together as small networks for onnxruntime, which lays weights out once in
the order that the processor wants; NumPy does it anew for every product, which was measured to take
twice as long for the few dozen rows of a batch.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import onnxruntime
from numpy.typing import NDArray
from onnx import ModelProto, NodeProto, TensorProto, ValueInfoProto, helper, numpy_helper

Floats = NDArray[np.float32]

EPSILON = 1e-5
_OPERATORS, _FORMAT = 17, 9


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


class Passage:
    """A small network: rows of numbers in, rows of numbers out; threads may share it."""

    def __init__(self, model: ModelProto) -> None:
        options = onnxruntime.SessionOptions()
        options.intra_op_num_threads = options.inter_op_num_threads = 1
        options.log_severity_level = 3
        self._session = onnxruntime.InferenceSession(model.SerializeToString(), options)
        self._names = [value.name for value in self._session.get_inputs()]

    def __call__(self, *inputs: Floats) -> list[Floats]:
        """Arrays (rows, width) to arrays (rows, width)."""
        result: list[Floats] = self._session.run(None, dict(zip(self._names, inputs, strict=True)))
        return result


def entrance(first: LayerWeights) -> Passage:
    """From embedded tokens to queries, keys and values for the first look at the text."""
    network = _Network(("x",))
    return network.ending((network.product(network.norm("x", first.norms[0]), first.own_in),))


def after_text(layer: LayerWeights) -> Passage:
    """From a row and what it saw in the text to the row and its query for the sound."""
    network = _Network(("x", "seen"))
    x = network.sum("x", network.product("seen", layer.own_out))
    return network.ending((x, network.product(network.norm(x, layer.norms[1]), layer.sound_query)))


def after_sound(layer: LayerWeights, following: LayerWeights) -> Passage:
    """From a row and what it heard to the row and what it asks of the text in the next layer."""
    network = _Network(("x", "heard"))
    x = _fed_forward(network, layer)
    product = network.product(network.norm(x, following.norms[0]), following.own_in)
    return network.ending((x, product))


def exit_of(layer: LayerWeights, norm: Floats, vocabulary: Floats) -> Passage:
    """From a row and what it heard in the last layer to log probabilities of the next token."""
    network = _Network(("x", "heard"))
    x = network.norm(_fed_forward(network, layer), norm)
    return network.ending((network.add("LogSoftmax", network.product(x, vocabulary), axis=-1),))


def _fed_forward(network: _Network, layer: LayerWeights) -> str:
    x = network.sum("x", network.product("heard", layer.sound_out))
    wide = network.product(network.norm(x, layer.norms[2]), layer.wide)
    wide = network.sum(wide, network.constant(layer.wide_bias))
    inner, gate = network.halves(wide)
    opened = network.add("Mul", inner, network.add("Mul", gate, network.add("Sigmoid", gate)))
    narrow = network.product(opened, layer.narrow)
    return network.sum(x, network.sum(narrow, network.constant(layer.narrow_bias)))


class _Network:
    """Operators one after the other; each gives the name of what it makes."""

    def __init__(self, inputs: Sequence[str]) -> None:
        self._inputs = inputs
        self._nodes: list[NodeProto] = []
        self._constants: list[TensorProto] = []

    def constant(self, values: NDArray[np.generic]) -> str:
        name = f"constant{len(self._constants)}"
        self._constants.append(numpy_helper.from_array(np.ascontiguousarray(values), name))
        return name

    def add(self, operator: str, *inputs: str, **settings: float) -> str:
        name = f"made{len(self._nodes)}"
        node = helper.make_node(operator, inputs, [name])
        node.attribute.extend(helper.make_attribute(*setting) for setting in settings.items())
        self._nodes.append(node)
        return name

    def sum(self, one: str, other: str) -> str:
        return self.add("Add", one, other)

    def product(self, x: str, weight: Floats) -> str:
        return self.add("MatMul", x, self.constant(weight))

    def norm(self, x: str, weight: Floats) -> str:
        """Layer normalisation (Ba et al. 2016) without a bias."""
        return self.add("LayerNormalization", x, self.constant(weight), epsilon=EPSILON)

    def halves(self, x: str) -> tuple[str, str]:
        name = f"half{len(self._nodes)}"
        names = [f"{name}a", f"{name}b"]
        self._nodes.append(helper.make_node("Split", [x], names, axis=-1))
        return names[0], names[1]

    def ending(self, outputs: Sequence[str]) -> Passage:
        def described(name: str) -> ValueInfoProto:
            return helper.make_tensor_value_info(name, TensorProto.FLOAT, ["rows", None])

        graph = helper.make_graph(
            self._nodes,
            "passage",
            [described(name) for name in self._inputs],
            [described(name) for name in outputs],
            self._constants,
        )
        operators = [helper.make_opsetid("", _OPERATORS)]
        return Passage(helper.make_model(graph, opset_imports=operators, ir_version=_FORMAT))
