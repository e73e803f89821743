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
