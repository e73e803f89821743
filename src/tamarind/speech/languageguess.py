"""Which languages may be spoken in a recording, and what follows from it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.transcript.languages import base_of, name_of

SURE = 0.8
"""With people's speech the right language has more than 0.95, and no wrong one comes near."""

WORTH_SAYING = 0.05


@dataclass(frozen=True, slots=True)
class Guess:
    """A language that may be spoken, and how likely that is (0 to 1)."""

    language: str
    probability: float

    def __str__(self) -> str:
        return f"{name_of(self.language)} ({min(self.probability, 0.99):.0%})"


def is_sure(guesses: Sequence[Guess]) -> bool:
    """Whether the likeliest may be taken without asking."""
    return bool(guesses) and guesses[0].probability >= SURE


def speaks_against(guesses: Sequence[Guess], *languages: str) -> bool:
    """Whether another language than these is surely spoken."""
    return is_sure(guesses) and guesses[0].language not in map(base_of, languages)


def question(guesses: Sequence[Guess]) -> str:
    """What to ask a person when nothing is sure, a sentence."""
    likely = [str(guess) for guess in guesses if guess.probability >= WORTH_SAYING]
    if not likely:
        return "Its language could not be found out: say which it is, then transcribe again."
    first, last = likely[:-1], likely[-1]
    named = f"{', '.join(first)} or {last}" if first else last
    return f"It may be {named}: say which it is, then transcribe again."
