"""Statistics and dictionaries of a language: how likely words follow one another, and which
exist."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cache
from typing import Protocol

from tamarind.speech.compounds import joined
from tamarind.speech.pronouncing import is_listed
from tamarind.speech.recognisers.base import HeardWord
from tamarind.speech.wordmodel import WordModel
from tamarind.transcript.languages import base_of

UNKNOWN_LIKELIHOOD = -7.0
"""Natural log that stands for the likelihood of words in a language without statistics: about the
mean of what English words have."""


class Lexicon(Protocol):
    """Knows the words of a language."""

    def likelihoods(self, words: Sequence[str]) -> list[float]:
        """Return for each word of a text the log probability of it and of the next one."""

    @property
    def is_word(self) -> Callable[[str], bool] | None:
        """Whether a lower-case word is one of the language; None if that is not known."""

    def joined(self, words: Sequence[HeardWord]) -> tuple[HeardWord, ...]:
        """Join words that are written as one."""


class EnglishLexicon:
    """The statistics and the dictionary that ship with PocketSphinx."""

    def __init__(self) -> None:
        self._model = WordModel()

    def likelihoods(self, words: Sequence[str]) -> list[float]:
        """Use three words in a row."""
        return self._model.around(words)

    @property
    def is_word(self) -> Callable[[str], bool]:
        """Look into the pronouncing dictionary."""
        return is_listed

    def joined(self, words: Sequence[HeardWord]) -> tuple[HeardWord, ...]:
        """Join compounds as they are written today."""
        return joined(words, self._model)


class AnyLexicon:
    """A lexicon that knows nothing and changes nothing."""

    is_word: Callable[[str], bool] | None = None

    def likelihoods(self, words: Sequence[str]) -> list[float]:
        """Return the same for all words."""
        return [UNKNOWN_LIKELIHOOD] * len(words)

    def joined(self, words: Sequence[HeardWord]) -> tuple[HeardWord, ...]:
        """Return the words as they are."""
        return tuple(words)


@cache
def _english() -> EnglishLexicon:
    return EnglishLexicon()


def lexicon_of(language: str) -> Lexicon:
    """Return the lexicon of a language (a BCP 47 tag)."""
    return _english() if base_of(language) == "en" else AnyLexicon()
