"""Estimate how much memory a model takes, and whether this computer has it.

Reckoned from the number of weights, by what ``benchmarks/models.py`` measured: where products are
made of bytes a weight takes about four bytes at most, while it is read; else nine.
"""

from __future__ import annotations

from tamarind.memory import memory_here
from tamarind.speech.processor import multiplies_bytes
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.fetching import amount

BYTES_A_WEIGHT, ROUNDED_BYTES_A_WEIGHT = 9.0, 3.9
BESIDE = 300_000_000
"""What hearing takes besides a model's weights."""


def memory_for(millions: float) -> float:
    """Return the most bytes that transcribing takes with a model of so many million weights."""
    each = ROUNDED_BYTES_A_WEIGHT if multiplies_bytes() else BYTES_A_WEIGHT
    return BESIDE + each * millions * 1e6


def memory_in_words(millions: float) -> str:
    """Say how much memory a model needs, and whether it is more than there is."""
    needed = memory_for(millions)
    words = f"needs {amount(needed)} of memory"
    has = memory_here()
    return words if needed <= has else f"{words}, more than the {amount(has)} of this computer"


def check_room(name: str, millions: float) -> None:
    """Raise RecogniserError if the free memory is not enough for a model."""
    needed, free = memory_for(millions), memory_here("MemAvailable")
    if needed > free:
        raise RecogniserError(
            f"“{name}” needs {amount(needed)} of memory, and {amount(free)} of"
            f" {amount(memory_here())} are free: close other programs, or choose a smaller model."
        )
