"""A turn: one voice, from when to when."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Turn:
    """One voice from ``start`` to ``end`` in ms; voices are numbered from 1."""

    start: int
    end: int
    voice: int
