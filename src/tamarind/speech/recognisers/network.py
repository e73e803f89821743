"""Build small networks and run them by onnxruntime.

It lays weights out once in the order that the processor wants, where NumPy does it anew for every
product: measured to take twice as long for the few dozen rows of a batch.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import onnxruntime
from numpy.typing import NDArray
from onnx import ModelProto, NodeProto, TensorProto, ValueInfoProto, helper, numpy_helper

from tamarind.speech.processor import multiplies_bytes
from tamarind.speech.recognisers.modelfile import ModelFileError

Floats = NDArray[np.float32]

EPSILON = 1e-5
_OPERATORS, _OWN_OPERATORS, _FORMAT = 17, 1, 9
_LARGE = 1 << 20
_NOTHING = 1e-9
_UP, _STEPS = 127, 255
"""How far numbers of 8 bits go up from zero with a sign, and without."""

OWN = "com.microsoft"
"""The set of operators that onnxruntime adds to the standard ones."""


class Subnetwork:
    """A small network from arrays to arrays; threads may share it, each run keeps to one core."""

    def __init__(self, model: ModelProto, large: Mapping[str, NDArray[Any]]) -> None:
        """``large`` are constants kept beside the model, by name: within it each would exist five
        times for a moment."""
        options = onnxruntime.SessionOptions()
        options.intra_op_num_threads = options.inter_op_num_threads = 1
        options.log_severity_level = 3
        values = [onnxruntime.OrtValue.ortvalue_from_numpy(value) for value in large.values()]
        options.add_external_initializers(list(large), values)
        try:
            self._session = onnxruntime.InferenceSession(model.SerializeToString(), options)
        except Exception as error:  # onnxruntime has a class of its own for each reason
            raise ModelFileError("its parts do not fit one another") from error
        self._names = [value.name for value in self._session.get_inputs()]

    def __call__(self, *inputs: Floats) -> list[Floats]:
        """Return the outputs for these inputs, in the order in which both were named."""
        result: list[Floats] = self._session.run(None, dict(zip(self._names, inputs, strict=True)))
        return result

    def rest(self, *inputs: Floats) -> None:
        """Free what the engine keeps for the next run, which is more than its weights; it does so
        only at the end of a run, so use small ``inputs``."""
        options = onnxruntime.RunOptions()
        options.add_run_config_entry("memory.enable_memory_arena_shrinkage", "cpu:0")
        self._session.run(None, dict(zip(self._names, inputs, strict=True)), options)


class Network:
    """A sequence of operators; each method returns the name of its result."""

    def __init__(self, inputs: Sequence[str]) -> None:
        self._inputs = inputs
        self._nodes: list[NodeProto] = []
        self._constants: list[TensorProto] = []
        self._large: dict[str, NDArray[Any]] = {}

    def constant(self, values: NDArray[Any]) -> str:
        """Add numbers that are part of the network."""
        name = f"constant{len(self._constants)}"
        values = np.ascontiguousarray(values)
        if values.nbytes < _LARGE:
            self._constants.append(numpy_helper.from_array(values, name))
            return name
        kind = helper.np_dtype_to_tensor_dtype(values.dtype)
        beside = TensorProto(name=name, dims=values.shape, data_type=kind)
        beside.data_location = TensorProto.EXTERNAL
        beside.external_data.add(key="location", value="beside")
        self._constants.append(beside)
        self._large[name] = values
        return name

    def add(
        self, operator: str, *inputs: str, domain: str = "", **settings: float | Sequence[int]
    ) -> str:
        """Add an operator of the standard set, or of another ``domain``."""
        name = f"made{len(self._nodes)}"
        node = helper.make_node(operator, inputs, [name], domain=domain)
        node.attribute.extend(helper.make_attribute(*setting) for setting in settings.items())
        self._nodes.append(node)
        return name

    def sum(self, one: str, other: str) -> str:
        """Add two values."""
        return self.add("Add", one, other)

    def product(self, x: str, weight: Floats) -> str:
        """Multiply ``x`` (…, inputs) by ``weight`` (inputs, outputs)."""
        return self.add("MatMul", x, self.constant(weight))

    def rounded_product(self, x: str, weight: Floats, mostly_up: bool = False) -> str:
        """Multiply with both rounded to 8 bits, if the processor is fast at that.

        A weight is rounded by the greatest number of each output, and what comes in by that of each
        row, since a few large numbers in one row, which such networks have, would leave the others
        next to nothing (Dettmers et al. 2022, "LLM.int8(): 8-bit matrix multiplication for
        transformers at scale"). What hardly goes below zero, ``mostly_up``, has most of the 255
        steps above it. Nothing stays nothing: there is much of it, and its errors would add up.
        """
        if not multiplies_bytes():
            return self.product(x, weight)
        scale = np.maximum(np.abs(weight).max(axis=0), _NOTHING) / _UP
        values = np.rint(weight / scale).astype(np.int8)
        scale = scale.astype(np.float32)
        nothing = self.constant(np.array(_NOTHING, np.float32))
        greatest = self.add("ReduceMax", x if mostly_up else self.add("Abs", x), axes=[-1])
        span = self.add("Max", greatest, nothing)
        zero, least = _UP + 1, ""
        if mostly_up:
            zero = 0
            lowest = self.add("Min", self.add("ReduceMin", x, axes=[-1]), nothing)
            span = self.add("Sub", span, lowest)
            unit = self.add("Mul", span, self.constant(np.array(1 / _STEPS, np.float32)))
            least = self.add("Mul", self.add("Round", self.add("Div", lowest, unit)), unit)
            x = self.add("Sub", x, least)
        step = self.constant(np.array(1 / (_STEPS if mostly_up else _UP), np.float32))
        at = self.constant(np.array(zero, np.uint8))
        rounded = self.add("QuantizeLinear", self.add("Div", x, span), step, at)
        weights = self.constant(values), step, self.constant(scale)
        product = self.add("MatMulIntegerToFloat", rounded, *weights, at, domain=OWN)
        product = self.add("Mul", product, span)
        if mostly_up:
            sums = self.constant(values.sum(axis=0, dtype=np.float32) * scale)
            product = self.sum(product, self.add("Mul", least, sums))
        return product

    def norm(self, x: str, weight: Floats, *bias: Floats) -> str:
        """Add layer normalisation (Ba et al. 2016), with or without a bias."""
        constants = [self.constant(values) for values in (weight, *bias)]
        return self.add("LayerNormalization", x, *constants, epsilon=EPSILON)

    def parted(self, x: str, count: int) -> list[str]:
        """Split the last axis into equal parts."""
        names = [f"part{len(self._nodes)}.{number}" for number in range(count)]
        self._nodes.append(helper.make_node("Split", [x], names, axis=-1))
        return names

    def ending(self, outputs: Sequence[str]) -> Subnetwork:
        """Return the network with these outputs, ready to run."""

        def described(name: str) -> ValueInfoProto:
            return helper.make_tensor_value_info(name, TensorProto.FLOAT, None)

        graph = helper.make_graph(
            self._nodes,
            "passage",
            [described(name) for name in self._inputs],
            [described(name) for name in outputs],
            self._constants,
        )
        operators = [helper.make_opsetid("", _OPERATORS), helper.make_opsetid(OWN, _OWN_OPERATORS)]
        model = helper.make_model(graph, opset_imports=operators, ir_version=_FORMAT)
        return Subnetwork(model, self._large)
