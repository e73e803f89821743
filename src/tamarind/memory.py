"""Giving memory back to the system while a long recording is worked through."""

from __future__ import annotations

import ctypes
import mmap

import numpy as np
from numpy.typing import NDArray


def forget(mapped: NDArray[np.float32]) -> None:
    """Drop the pages of an array that is mapped from a file; they are read again when needed.

    A mapped file's pages count as the process's own until the system wants them back, and in ten
    hours of sound that is gigabytes. Does nothing for other arrays.
    """
    base: object = mapped
    while isinstance(base, np.ndarray):
        base = base.base
    if isinstance(base, mmap.mmap):
        base.madvise(mmap.MADV_DONTNEED)


def trim() -> None:
    """Return what was freed but is still held by the C library, where that can be asked for."""
    library = ctypes.CDLL(None)
    if hasattr(library, "malloc_trim"):
        library.malloc_trim(0)
