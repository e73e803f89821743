"""Pronounce the words of a text in a language, in the phones of the acoustic model."""

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
    """Knows the pronunciations of a language."""

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """Return the pronunciations of each written word; none for what is not spoken, such as a
        dash."""

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """Return the usual pronunciation of each written word or phrase."""


class EnglishPronouncer:
    """Uses the dictionary, and rules for words that it lacks."""

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """Return the pronunciations of each written word."""
        return [
            [ways for form in spoken_forms(word) if (ways := pronunciations(form))]
            for word in words
        ]

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """Return the usual pronunciation of each written word or phrase."""
        return [tuple(phone for ways in own for phone in ways[0]) for own in self.forms(words)]


class SynthesisedPronouncer:
    """Uses a synthesiser, and caches its answers."""

    def __init__(self, voice: str) -> None:
        self._voice = voice
        self._known: dict[str, Phones] = {}

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """Return the pronunciations of each written word."""
        return [[(phones,)] if phones else [] for phones in self.phones(words)]

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """Return the usual pronunciation of each written word or phrase."""
        parts = [text.split() for text in words]
        unknown = sorted({word for own in parts for word in own} - self._known.keys())
        if unknown:
            said = espeak.ipa_of(unknown, self._voice)
            self._known.update(zip(unknown, map(arpabet, said), strict=True))
        return [tuple(phone for word in own for phone in self._known[word]) for own in parts]


class SilentPronouncer:
    """Knows no pronunciations: for words that are not spoken in the sound, as in a translation."""

    def forms(self, words: Sequence[str]) -> list[Forms]:
        """Return none for each word."""
        return [[] for _ in words]

    def phones(self, words: Sequence[str]) -> list[Phones]:
        """Return none for each word."""
        return [() for _ in words]


ENGLISH = EnglishPronouncer()
SILENT = SilentPronouncer()


@cache
def pronouncer_for(language: str) -> Pronouncer | None:
    """Return the pronouncer of a language (a BCP 47 tag), or None if there is none here."""
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
