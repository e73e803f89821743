"""Two recognisers of different kinds hear the same, and their hypotheses are put together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from tamarind.audio.decode import Samples
from tamarind.speech.alignment import Aligner
from tamarind.speech.combining import combined
from tamarind.speech.cores import cores, side_by_side
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.identification import LanguageIdentifier
from tamarind.speech.lexicon import lexicon_of
from tamarind.speech.pronouncer import ENGLISH, pronouncer_for
from tamarind.speech.recognisers.base import Hypothesis, Recogniser
from tamarind.speech.recognisers.searching import levelled


class DoubleRecogniser:
    """Hears with the one and then the other, each thoroughly."""

    def __init__(self, first: Recogniser, second: Recogniser, aligner: Aligner) -> None:
        self._first, self._second, self._aligner = first, second, aligner

    @property
    def languages(self) -> tuple[str, ...]:
        """Those that both hear; empty for any."""
        one, other = self._first.languages, self._second.languages
        if not one or not other:
            return one or other
        return tuple(tag for tag in one if tag in other)

    def hear(self, segments: Sequence[Samples], how: HearingOptions) -> list[list[Hypothesis]]:
        """One hypothesis for each segment."""
        alone = replace(how, care=Care.THOROUGH)
        lexicon = lexicon_of(how.written)
        one, other = self._first.hear(segments, alone), self._second.hear(segments, alone)
        said_by = pronouncer_for(how.language)
        # The acoustic model's phones are English.
        by_sound = said_by is ENGLISH and not how.into_english

        def together(place: int) -> list[Hypothesis]:
            sound = segments[place]

            def fits(texts: Sequence[Sequence[str]]) -> list[float]:
                return self._aligner.fits(levelled(sound), texts, ENGLISH)

            return [
                combined(
                    one[place][0],
                    other[place][0],
                    how.written,
                    lexicon.likelihoods,
                    fits if by_sound else None,
                    [term.text for term in how.glossary.terms],
                )
            ]

        return side_by_side(together, range(len(segments)), cores())


class IdentifyingDoubleRecogniser(DoubleRecogniser):
    """One of the two also tells languages apart."""

    def __init__(
        self,
        first: Recogniser,
        second: Recogniser,
        aligner: Aligner,
        identifier: LanguageIdentifier,
    ) -> None:
        super().__init__(first, second, aligner)
        self._identifier = identifier

    def languages_heard(self, sound: Samples) -> Mapping[str, float]:
        """As that one says."""
        return self._identifier.languages_heard(sound)


def double(first: Recogniser, second: Recogniser, aligner: Aligner) -> DoubleRecogniser:
    """Both together, with what either can do besides hearing."""
    for one in (first, second):
        if isinstance(one, LanguageIdentifier):
            return IdentifyingDoubleRecogniser(first, second, aligner, one)
    return DoubleRecogniser(first, second, aligner)
