"""The language of a recording that a worker hears: found out, or held against what was chosen."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.batch.messages import LanguageHeard
from tamarind.speech.hearing import Tools
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.identification import LanguageIdentifier, identify
from tamarind.speech.languageguess import Guess, is_sure, question, speaks_against
from tamarind.speech.recognisers.catalogue import MANY, languages_of_many
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.log import logger
from tamarind.transcript.languages import UNDETERMINED
from tamarind.transcript.model import Word

ENOUGH_WORDS, STRANGE_BELOW = 20, 0.6
"""So many words with less confidence than this on average do not sound like their language: speech
of another one has 0.2 to 0.4, that of the right one 0.75 and more, in noise too."""

UNSPOKEN = "en"
"""What a recording is heard in where nobody speaks."""


class UnsureOfLanguageError(RecogniserError):
    """Which language is spoken is a person's to say."""


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

    def find(self) -> Iterator[LanguageHeard]:
        """Find out what nobody has said; ``how`` has it then.

        Raises UnsureOfLanguageError when it is not clear enough to go on.
        """
        if self.how.language != UNDETERMINED:
            return
        guesses = self._guesses()
        yield LanguageHeard(self._key, guesses)
        if guesses and not is_sure(guesses):
            raise UnsureOfLanguageError(question(guesses))
        language = guesses[0].language if guesses else UNSPOKEN
        self.how = replace(self.how, language=language)
        self._is_checked = True

    def check(self, tools: Tools) -> Iterator[LanguageHeard]:
        """Before anything is heard: whether another language is surely spoken, if the recogniser
        that hears can tell that at once."""
        if isinstance(tools.recogniser, LanguageIdentifier):
            yield from self._doubts(tools.recogniser)

    def check_words(self, words: Sequence[Word], tools: Tools) -> Iterator[LanguageHeard]:
        """The same by the first words, where they do not sound like anything.

        A recogniser that knows no languages has not promised anything. If nothing here can tell,
        hearing goes on all the same.
        """
        sure = [word.confidence for word in words if word.confidence is not None]
        if self._is_checked or len(sure) < ENOUGH_WORDS or not languages_of_many():
            return
        if np.mean(sure) < STRANGE_BELOW and tools.recogniser.languages:
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
        many = self._tools_for(MANY).recogniser
        if not isinstance(many, LanguageIdentifier):
            return ()
        return identify(self._samples, self._part, many)
