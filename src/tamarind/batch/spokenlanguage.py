"""Detect the language of a recording in a worker, or check the chosen one."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.batch.messages import LanguageHeard
from tamarind.speech.hearing import Tools
from tamarind.speech.hearingoptions import BUILTIN, Care, HearingOptions
from tamarind.speech.identification import LanguageIdentifier, identify, stretches_of_speech
from tamarind.speech.languageguess import Guess, is_sure, speaks_against
from tamarind.speech.recognisers.catalogue import best_for, only_language
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.known.multilingual import MANY, languages_of_many
from tamarind.system.log import logger
from tamarind.transcript.languages import UNDETERMINED
from tamarind.transcript.model import Word

ENOUGH_WORDS, LEAST_WORDS, STRANGE_BELOW = 20, 4, 0.6
"""So many words with less confidence than this on average do not sound like their language: speech
of another one has 0.2 to 0.4, that of the right one 0.75 and more, in noise too. Where all of a
recording has fewer, the least number is enough."""

CLEARLY_ENGLISH = 0.85
"""The network for English has a mean certainty of 0.93 to 0.99 in people's English, 0.80 in noise,
and 0.09 to 0.43 in Spanish and Italian, once 0.72."""

TRIED = 2
WORTH_TRYING = 0.02
"""Where it is not clear which language is spoken, the likeliest ones are tried: so many, if they
are at least so likely."""

UNSPOKEN = "en"
"""What a recording is heard in where nobody speaks."""


class SpokenLanguage:
    """What is known of the language of one recording's ``part`` (from, to, in ms)."""

    def __init__(
        self,
        key: int,
        how: HearingOptions,
        samples: Samples,
        part: tuple[int, int],
        tools_for: Callable[[str], Tools],
    ) -> None:
        self._key, self.how = key, how
        self._samples, self._part = samples, part
        self._tools_for = tools_for
        self._is_checked = False
        self._certain: list[float] = []

    def find(self) -> Iterator[LanguageHeard]:
        """Detect the language if none was chosen; ``how`` has it afterwards.

        Where the sound is not clear, what is said is heard in the likeliest languages, and that
        counts in which its words are more certain.
        """
        if self.how.language != UNDETERMINED:
            return
        only = only_language(self.how)
        guesses = () if only else self._guesses()
        if guesses and not is_sure(guesses):
            guesses = self._tried(guesses)
        if not only:
            yield LanguageHeard(self._key, guesses)
        language = only or (guesses[0].language if guesses else UNSPOKEN)
        self.how = replace(self.how, language=language)
        self._is_checked = not only

    def _as_english(self) -> Guess | None:
        """Return English if the English-only network, which loads at once, is certain of its words;
        it never is of other languages."""
        english = replace(self.how, language="en", care=Care.QUICK)
        start, end = (time * SAMPLE_RATE // 1000 for time in self._part)
        stretches = list(stretches_of_speech(self._samples[start:end]))
        heard = self._tools_for(BUILTIN).recogniser.hear(stretches, english)
        words = [word.confidence for best, *_others in heard for word in best.words]
        if len(words) < ENOUGH_WORDS or np.mean(words) < CLEARLY_ENGLISH:
            return None
        return Guess("en", round(float(np.mean(words)), 3))

    def _tried(self, guesses: tuple[Guess, ...]) -> tuple[Guess, ...]:
        """Return the guesses, reordered by how well a trial transcription fits each."""
        likely = [one for one in guesses if one.probability >= WORTH_TRYING][:TRIED]
        if len(likely) < 2:
            return guesses
        start, end = (time * SAMPLE_RATE // 1000 for time in self._part)
        stretch = next(stretches_of_speech(self._samples[start:end]))
        certain: dict[str, float] = {}
        for guess in likely:
            how = replace(self.how, language=guess.language, care=Care.QUICK)
            try:
                recogniser = self._tools_for(best_for(how)).recogniser
                (best, *_others), *_ = recogniser.hear([stretch], how)
            except RecogniserError:
                return guesses
            words = [word.confidence for word in best.words]
            certain[guess.language] = float(np.mean(words)) if words else 0.0
        likely.sort(key=lambda one: -certain[one.language])
        return (*likely, *(one for one in guesses if one not in likely))

    def check(self, tools: Tools) -> Iterator[LanguageHeard]:
        """Tell before transcribing if another language is certainly spoken, where the recogniser
        can say so at once."""
        if isinstance(tools.recogniser, LanguageIdentifier):
            yield from self._doubts(tools.recogniser)

    def check_words(
        self, words: Sequence[Word], tools: Tools, is_last: bool = False
    ) -> Iterator[LanguageHeard]:
        """Tell from the first words if another language may be spoken, where they make no sense.

        A recogniser that knows no languages has not promised anything. If nothing here can tell,
        hearing goes on all the same.
        """
        self._certain += [word.confidence for word in words if word.confidence is not None]
        enough = LEAST_WORDS if is_last else ENOUGH_WORDS
        if self._is_checked or len(self._certain) < enough or not languages_of_many():
            return
        if np.mean(self._certain) < STRANGE_BELOW and tools.recogniser.languages:
            try:
                many = self._tools_for(MANY).recogniser
            except RecogniserError as error:
                logger.warning("the language could not be checked (%s)", error)
            else:
                if isinstance(many, LanguageIdentifier):
                    yield from self._doubts(many)
        self._is_checked = True

    def _doubts(self, identifier: LanguageIdentifier) -> Iterator[LanguageHeard]:
        if not self._is_checked:
            self._is_checked = True
            guesses = identify(self._samples, self._part, identifier)
            if speaks_against(guesses, *self.how.languages):
                yield LanguageHeard(self._key, guesses)

    def _guesses(self) -> tuple[Guess, ...]:
        if self.how.recogniser == BUILTIN and not self.how.into_english:
            guess = self._as_english()
            if guess is not None:
                return (guess,)
        many = self._tools_for(MANY).recogniser
        if not isinstance(many, LanguageIdentifier):
            return ()
        return identify(self._samples, self._part, many)
