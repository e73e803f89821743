"""A stand-in that recognises nothing but answers at once, for trying what is around a recogniser.

Three words a second, always the same ones, with times; some are doubts. Nothing is loaded.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import cycle, islice

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.entry import RecogniserEntry

PRETENDED = "pretended"
"""Taken by its name, and in no list."""

SAID = "The water table in a healthy bog stays near the surface all the year.".split()
WORD_MS = 330
DOUBT, SURE = 0.4, 0.95
EVERY_DOUBT = 7
"""So many words on there is a doubt."""


class PretendedRecogniser:
    """A stand-in for any language."""

    languages: tuple[str, ...] = ()

    def hear(self, segments: Sequence[Samples], how: HearingOptions) -> list[list[Hypothesis]]:
        """Return one made-up text for each segment."""
        return [[self._hear_one(segment)] for segment in segments]

    def _hear_one(self, segment: Samples) -> Hypothesis:
        count = len(segment) * 1000 // (SAMPLE_RATE * WORD_MS)
        words = tuple(
            HeardWord(
                text,
                SURE if (number + 1) % EVERY_DOUBT else DOUBT,
                time=(number * WORD_MS, (number + 1) * WORD_MS - 30),
            )
            for number, text in enumerate(islice(cycle(SAID), count))
        )
        return Hypothesis(words, -1.0)


ENTRY = RecogniserEntry(
    PRETENDED, "a stand-in, for trying", lambda: (), lambda _aligner: PretendedRecogniser()
)
