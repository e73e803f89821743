"""How much chance a test takes: little by default, a lot with ``scripts/test --long``."""

from __future__ import annotations

import os


def dose(small: int, large: int) -> int:
    """How often to try."""
    return large if os.environ.get("TAMARIND_LONG_TESTS") else small
