"""What the processor of this machine does fast."""

from __future__ import annotations

from functools import cache
from pathlib import Path

CPUINFO = Path("/proc/cpuinfo")
_QUICK = frozenset(("avx512_vnni", "avx_vnni", "asimddp"))
"""Instructions that multiply bytes and add up the products in 32 bits, as they are called there."""


@cache
def multiplies_bytes() -> bool:
    """Whether 8-bit products are several times as fast as float ones, and exact: older processors
    add them up in 16 bits, which overflow."""
    try:
        text = CPUINFO.read_text("utf-8", "replace")
    except OSError:
        return False
    return bool(_QUICK.intersection(text.split()))
