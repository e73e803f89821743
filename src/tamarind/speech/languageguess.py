"""Guesses at the languages of a recording, and what follows from them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.transcript.languages import base_of, name_of

SURE = 0.8
"""With people's speech the right language has more than 0.95, and no wrong one comes near."""


@dataclass(frozen=True, slots=True)
class Guess:
    """A language and its probability (0 to 1)."""

    language: str
    probability: float

    def __str__(self) -> str:
        return f"{name_of(self.language)} ({min(self.probability, 0.99):.0%})"


def is_sure(guesses: Sequence[Guess]) -> bool:
    """Whether the likeliest language may be taken without asking."""
    return bool(guesses) and guesses[0].probability >= SURE


def speaks_against(guesses: Sequence[Guess], *languages: str) -> bool:
    """Whether another language than these is certainly spoken."""
    return is_sure(guesses) and guesses[0].language not in map(base_of, languages)
