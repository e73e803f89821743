"""How the words of a text are said, language by language, in the phones of the acoustic model."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Protocol

from tamarind.speech import espeak
from tamarind.speech.ipa import arpabet
from tamarind.speech.pronouncing import Phones, pronunciations
from tamarind.speech.pronunciation import spoken_forms
from tamarind.transcript.languages import base_of

Forms = list[tuple[Phones, ...]]
"""The parts of a written word that are said one after the other, each with all ways to say it."""


class Pronouncer(Protocol):
    """Says words."""

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """For each written word how it is said; nothing for what is not said, as a dash."""

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """For each written word, or phrase, the usual way to say it."""


class EnglishPronouncer:
    """Pronunciations by the dictionary, and by rule where that has nothing."""

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """For each written word how it is said."""
        return [
            [ways for form in spoken_forms(word) if (ways := pronunciations(form))]
            for word in words
        ]

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """For each written word, or phrase, the usual way to say it."""
        return [tuple(phone for ways in own for phone in ways[0]) for own in self.forms(words)]


class SynthesisedPronouncer:
    """Pronunciations of a synthesiser; what was asked for once is remembered."""

    def __init__(self, voice: str) -> None:
        self._voice = voice
        self._known: dict[str, Phones] = {}

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """For each written word how it is said."""
        return [[(phones,)] if phones else [] for phones in self.phones(words)]

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """For each written word, or phrase, the usual way to say it."""
        parts = [text.split() for text in words]
        unknown = sorted({word for own in parts for word in own} - self._known.keys())
        if unknown:
            said = espeak.ipa_of(unknown, self._voice)
            self._known.update(zip(unknown, map(arpabet, said), strict=True))
        return [tuple(phone for word in own for phone in self._known[word]) for own in parts]


class SilentPronouncer:
    """No pronunciations: for words that are not said in the sound, as those of a translation."""

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """Nothing for each."""
        return [[] for _ in words]

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """Nothing for each."""
        return [() for _ in words]


ENGLISH = EnglishPronouncer()
SILENT = SilentPronouncer()


@cache
def pronouncer_for(language: str) -> Pronouncer | None:
    """Return what pronounces a language (a BCP 47 tag); None where nothing here does."""
    base = base_of(language)
    if base == "en":
        return ENGLISH
    tag = language.casefold()
    for voice in (tag, base, *_OTHER_NAMES.get(base, ())):
        if voice in espeak.voices():
            return SynthesisedPronouncer(voice)
    return None


_OTHER_NAMES = {
    "fr": ("fr-fr",), "no": ("nb",), "nn": ("nb",), "zh": ("cmn",), "jw": ("id",), "tl": ("id",),
    "pt": ("pt", "pt-br"), "he": ("he",), "vi": ("vi",), "hy": ("hy",),
}  # fmt: skip
"""What the synthesiser calls some languages, or the nearest one that it speaks."""
