"""How much memory this computer has, and returning memory while a recording is processed."""

from __future__ import annotations

import ctypes
import mmap
import os
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

MEMINFO = Path("/proc/meminfo")


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
    """Return freed memory from the C library to the system, where that is possible."""
    library = ctypes.CDLL(None)
    if hasattr(library, "malloc_trim"):
        library.malloc_trim(0)


def memory_here(which: str = "MemTotal") -> float:
    """Return the memory of this computer in bytes, or what is available now."""
    try:
        for line in MEMINFO.read_text("ascii", "replace").splitlines():
            if line.startswith(f"{which}:"):
                return float(line.split()[1]) * 1024
    except (OSError, ValueError, IndexError):
        pass
    return float(os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE"))
