"""Read the constants of a network file in onnxruntime's own format (``.ort``).

The format is a FlatBuffers table whose schema onnxruntime ships. Weights lie in it as bytes with a
scale and a zero point each ("dynamic quantisation"); here they become float32 again.
"""

from __future__ import annotations

import importlib
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]

_TYPES = {1: np.float32, 2: np.uint8, 3: np.int8, 6: np.int32, 7: np.int64}
_ENDINGS = ("", "_add_tensor", "_merged_0", "_merged_0_quantized")
"""What tools add to the names that the network's makers gave."""

_MATRIX = re.compile(r"onnx::MatMul_\w+_quantized")
_OTHER = re.compile(r"onnx::(Mul|Add)_\d+\w*")
_SCHEMA = "onnxruntime.tools.ort_format_model.ort_flatbuffers_py.fbs.InferenceSession"


class ModelFileError(Exception):
    """A file is no network in this format, or lacks a part."""


class ModelFile:
    """The constants of a network, and which of them each product or sum uses."""

    def __init__(self, path: Path) -> None:
        self._constants: dict[str, NDArray[Any]] = {}
        self._factors: dict[str, str] = {}
        schema = importlib.import_module(_SCHEMA)
        try:
            session = schema.InferenceSession.GetRootAsInferenceSession(path.read_bytes(), 0)
            for graph in _graphs(session.Model().Graph()):
                self._read(graph)
        except (OSError, AttributeError, IndexError, ValueError, TypeError) as error:
            raise ModelFileError(f"{path.name} is no network in the .ort format.") from error
        except Exception as error:  # struct.error and whatever else broken offsets lead to
            raise ModelFileError(f"{path.name} is damaged.") from error

    def has(self, product: str) -> bool:
        """Whether a product's name ends in this."""
        return any(name.endswith(product) for name in self._factors)

    def weight(self, product: str) -> Floats:
        """Return the operand (inputs, outputs) of the product or sum whose name ends in this."""
        names = [name for name in self._factors if name.endswith(product)]
        if not names:
            raise ModelFileError(f"The network has no part “{product}”.")
        return self._floats(self._factors[names[0]])

    def constant(self, name: str) -> Floats:
        """Return a constant whose name ends in this, as float32."""
        for known in self._constants:
            if known.endswith(tuple(name + ending for ending in _ENDINGS)):
                return self._floats(known)
        raise ModelFileError(f"The network has no constant “{name}”.")

    def _floats(self, name: str) -> Floats:
        values = self._constants[name]
        base = name.removesuffix("_quantized")
        if base == name:
            return np.array(values, np.float32)
        zero = self._constants[f"{base}_zero_point"].astype(np.float32)
        scale: Floats = self._constants[f"{base}_scale"]
        return np.asarray((values.astype(np.float32) - zero) * scale, np.float32)

    def _read(self, graph: Any) -> None:
        for index in range(graph.InitializersLength()):
            tensor = graph.Initializers(index)
            kind = _TYPES.get(tensor.DataType())
            if kind is None or tensor.RawDataLength() == 0:
                continue
            shape = [tensor.Dims(axis) for axis in range(tensor.DimsLength())]
            values = np.frombuffer(tensor.RawDataAsNumpy().tobytes(), kind).reshape(shape)
            self._constants[tensor.Name().decode()] = values
        for index in range(graph.NodesLength()):
            node = graph.Nodes(index)
            for place in range(node.InputsLength()):
                name = node.Inputs(place).decode()
                if _MATRIX.fullmatch(name) or _OTHER.fullmatch(name):
                    self._factors[node.Outputs(0).decode()] = name


def _graphs(graph: Any) -> Iterator[Any]:
    """Yield a graph and those inside its conditional nodes."""
    yield graph
    for index in range(graph.NodesLength()):
        node = graph.Nodes(index)
        for place in range(node.AttributesLength()):
            inner = node.Attributes(place).G()
            if inner is not None:
                yield from _graphs(inner)
