"""Pronounce foreign names in English speech: as English spells sounds, and as their own language
does.

A name that the pronouncing dictionary does not list is said by rough rules. The synthesiser knows
better ones, for English and for the language that the letters of a name tell of.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache

from tamarind.speech import espeak
from tamarind.speech.pronouncer import Pronouncer, SynthesisedPronouncer, pronouncer_for
from tamarind.speech.pronouncing import Phones, is_listed
from tamarind.speech.pronunciation import spoken_forms

ENGLISH_VOICES = ("en-gb", "en-us")

_LETTERS = {
    "es": "ñáíóú", "pt": "ãõ", "fr": "éèêëàâçôîûœ", "de": "äöüß", "sv": "åö", "nb": "øæå",
    "pl": "łąęśźżćń", "cs": "čřšžůěýď", "tr": "ğış", "hu": "őű", "ro": "șțăâ", "cy": "ŵŷâêîô",
    "is": "ðþ",
}  # fmt: skip
"""Letters that tell of a language."""

_ENDINGS = {
    "it": ("cci", "ggi", "elli", "etti", "ini", "ucci", "acchi"), "pl": ("ski", "ska", "wicz"),
    "de": ("mann", "stein", "burg", "schmidt"), "es": ("ez",), "fr": ("eaux", "eau", "ault", "ois"),
}  # fmt: skip
"""And the ends of names."""


def foreign_ways(terms: Sequence[str]) -> list[tuple[str, Phones]]:
    """Return other pronunciations of terms with a word that the pronouncing dictionary lacks, each
    with its term; none without a synthesiser."""
    voice = next((one for one in ENGLISH_VOICES if one in espeak.voices()), None)
    if voice is None:
        return []
    unlisted = [term for term in terms if not all(map(is_listed, spoken_forms(term)))]
    wanted: dict[Pronouncer, list[str]] = {_english(voice): unlisted}
    for term in unlisted:
        for tag in languages_of(term):
            own = pronouncer_for(tag)
            if own is not None:
                wanted.setdefault(own, []).append(term)
    return [
        (term, phones)
        for pronouncer, own in wanted.items()
        for term, phones in zip(own, pronouncer.phones(own), strict=True)
        if phones
    ]


@cache
def _english(voice: str) -> SynthesisedPronouncer:
    return SynthesisedPronouncer(voice)


def languages_of(term: str) -> list[str]:
    """Return the languages that the letters and the ending of a name suggest, at most two."""
    small = term.casefold()
    by_letters = [tag for tag, letters in _LETTERS.items() if set(letters) & set(small)]
    by_end = [
        tag for tag, ends in _ENDINGS.items() if any(word.endswith(ends) for word in small.split())
    ]
    return list(dict.fromkeys([*by_letters, *by_end]))[:2]
