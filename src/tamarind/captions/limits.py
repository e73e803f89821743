"""The numbers that captions are held to; times in milliseconds."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Limits:
    """Ordinary captions: 42 letters, two lines, between one and seven seconds."""

    line_length: int = 42
    lines: int = 2
    shortest: int = 1_000
    longest: int = 7_000
    gap: int = 40
    lead_in: int = 60
    lead_out: int = 240


ORDINARY = Limits()

ORDINARY_STYLE = "ordinary"
STYLES = {
    ORDINARY_STYLE: ORDINARY,
    "teletext": Limits(line_length=37),
    "phone": Limits(line_length=32, lines=1, longest=5_000),
}
"""The limits by the name under which a job keeps them."""


def limits_of(style: str) -> Limits:
    """The limits of a style; those of ordinary captions for a name that is not known here."""
    return STYLES.get(style, ORDINARY)
