"""The paper that documents are laid out for: A4, or Letter where that is usual."""

from __future__ import annotations

import os
import re
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Paper:
    """A paper's name in CSS, and its sides in mm."""

    name: str
    width: float
    height: float


A4 = Paper("A4", 210.0, 297.0)
LETTER = Paper("letter", 215.9, 279.4)

_LETTER_COUNTRIES = frozenset("US CA MX PH CL CO VE CR GT NI PA PR SV BZ DO".split())
_COUNTRY = re.compile(r"[a-z]{2,3}_([A-Z]{2})")


def usual_paper() -> Paper:
    """Return the paper of the country in the system's settings."""
    for name in ("LC_ALL", "LC_PAPER", "LANG"):
        value = os.environ.get(name)
        if value:
            match = _COUNTRY.match(value)
            return LETTER if match and match[1] in _LETTER_COUNTRIES else A4
    return A4
