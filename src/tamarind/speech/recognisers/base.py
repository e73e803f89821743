"""The one small interface that every recogniser has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from tamarind.audio.decode import Samples
from tamarind.speech.howtohear import HowToHear


@dataclass(frozen=True, slots=True)
class HeardWord:
    """A word as recognised, with its marks ("museum,"), and its certainty from 0 to 1.

    ``others`` are what it could have been instead, likeliest first; each may be several words, or
    none (""). ``time`` is from when to when it is said, in ms from the chunk's start, if the
    recogniser knows.
    """

    text: str
    certainty: float
    others: tuple[str, ...] = ()
    time: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True)
class Reading:
    """One way to read a chunk; ``score`` is the natural log of its probability."""

    words: tuple[HeardWord, ...]
    score: float

    @property
    def text(self) -> str:
        """The words with spaces between them."""
        return " ".join(word.text for word in self.words)


class Recogniser(Protocol):
    """Hears chunks of sound."""

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages it hears, as BCP 47 tags; empty for any."""

    def hear(self, chunks: Sequence[Samples], how: HowToHear) -> list[list[Reading]]:
        """For each chunk (mono float32, 16 kHz) its readings, best first, at least one.

        Raises RecogniserError when the language is not one it hears.
        """
