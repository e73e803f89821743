"""Read a network's weights from a file in CTranslate2's format (``model.bin``).

The layout is CTranslate2's own, open (MIT) and documented by its converter: a version, the kind of
network, then each variable with name, shape, type and bytes, then names that mean others. All is
little-endian. Weights of 8 bits come with a scale a row.
"""

from __future__ import annotations

import math
import mmap
import struct
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.recognisers.modelfile import ModelFileError

Floats = NDArray[np.float32]

_TYPES = {0: "<f4", 1: "i1", 2: "<i2", 3: "<i4", 4: "<f2"}
_BFLOAT = 5
VERSION = 6
_MOST_NAMES = 100_000


class Weights:
    """The variables of a file by name; each is read when asked for.

    Raises ModelFileError for a file of another kind, or one that is cut off.
    """

    def __init__(self, path: Path) -> None:
        try:
            with path.open("rb") as file:
                self._data = mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ)
        except (OSError, ValueError) as error:
            raise ModelFileError(f"{path.name} cannot be read") from error
        self._place = 0
        self._found: dict[str, tuple[tuple[int, ...], int, int, int]] = {}
        try:
            self._read_directory()
        except (struct.error, UnicodeDecodeError, IndexError) as error:
            raise ModelFileError(f"{path.name} is cut off or damaged") from error

    @property
    def millions(self) -> float:
        """The number of weights in millions."""
        return sum(math.prod(shape) for shape, *_rest in self._found.values()) / 1e6

    def has(self, name: str) -> bool:
        """Whether there is a variable of this name."""
        return name in self._found

    def array(self, name: str) -> Floats:
        """Return a variable as float32 in its shape. Raises ModelFileError if it is missing."""
        values = self._values(name)
        if values.dtype == np.int8:
            scale = self._values(f"{name}_scale").astype(np.float32)
            by_row = scale.reshape(-1, *(1,) * (values.ndim - 1))
            return np.asarray(values.astype(np.float32) / by_row, np.float32)
        return np.array(values, np.float32)

    def rows(self, name: str) -> NDArray[np.floating]:
        """Return a table as stored, for taking rows; 8 bits become float32."""
        values = self._values(name)
        if values.dtype == np.int8:
            return self.array(name)
        return np.array(values)

    def number(self, name: str) -> int:
        """Return a whole number."""
        return int(self._values(name).reshape(-1)[0])

    def _values(self, name: str) -> NDArray[np.generic]:
        if name not in self._found:
            raise ModelFileError(f"it has no “{name}”")
        shape, kind, place, size = self._found[name]
        if kind == _BFLOAT:
            narrow = np.frombuffer(self._data, "<u2", size // 2, place)
            return (narrow.astype(np.uint32) << 16).view(np.float32).reshape(shape)
        if kind not in _TYPES:
            raise ModelFileError(f"“{name}” is of an unknown type")
        kept = np.dtype(_TYPES[kind])
        return np.frombuffer(self._data, kept, size // kept.itemsize, place).reshape(shape)

    def _read_directory(self) -> None:
        version = self._take("<I")
        if version != VERSION:
            raise ModelFileError(f"it is of version {version} of the format, not {VERSION}")
        self._text()
        self._take("<I")
        for _ in range(self._count()):
            name, rank = self._text(), self._take("<B")
            shape = tuple(self._take("<I") for _ in range(rank))
            kind, size = self._take("<B"), self._take("<I")
            if self._place + size > len(self._data):
                raise ModelFileError("it is cut off")
            self._found[name] = shape, kind, self._place, size
            self._place += size
        for _ in range(self._count()):
            alias, name = self._text(), self._text()
            self._found.setdefault(alias, self._found.get(name, ((), 0, 0, 0)))

    def _count(self) -> int:
        count = self._take("<I")
        if count > _MOST_NAMES:
            raise ModelFileError("it is damaged")
        return count

    def _take(self, form: str) -> int:
        (value,) = struct.unpack_from(form, self._data, self._place)
        self._place += struct.calcsize(form)
        return int(value)

    def _text(self) -> str:
        length = self._take("<H")
        data = self._data[self._place : self._place + length]
        self._place += length
        return data.rstrip(b"\0").decode("ascii")
