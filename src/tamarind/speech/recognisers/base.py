"""The interface of recognisers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from tamarind.audio.decode import Samples
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.transcript.tokens import joined


@dataclass(frozen=True, slots=True)
class HeardWord:
    """A word as recognised, with punctuation ("museum,") and confidence (0 to 1).

    ``others`` are what it could have been instead, likeliest first; each may be several words, or
    none (""). ``time`` is from when to when it is said, in ms from the segment's start, if the
    recogniser knows. It is never surer than ``at_most``, whatever the sound says: two recognisers
    heard it otherwise, or a word may be missing beside it.
    """

    text: str
    confidence: float
    others: tuple[str, ...] = ()
    time: tuple[int, int] | None = None
    at_most: float = 1.0


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """One text of a segment; ``score`` is the natural log of its probability."""

    words: tuple[HeardWord, ...]
    score: float

    @property
    def text(self) -> str:
        """The words as they are written."""
        return joined(word.text for word in self.words)


class Recogniser(Protocol):
    """Turns segments of sound into hypotheses."""

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages it recognises, as BCP 47 tags; empty for any."""

    def hear(self, segments: Sequence[Samples], how: HearingOptions) -> list[list[Hypothesis]]:
        """Return for each segment (mono float32, 16 kHz) its hypotheses, best first, at least one.

        Raises RecogniserError when the language is not one it hears.
        """
