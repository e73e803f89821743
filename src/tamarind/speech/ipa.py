"""Convert the International Phonetic Alphabet to the phones of the acoustic model (ARPAbet).

The acoustic model has heard English only. A sound of another language is given to the English phone
that is nearest by its articulatory features (Mortensen et al. 2016, "PanPhon: a resource for
mapping IPA segments to articulatory feature vectors", use such features for distances), vowels by
height, backness and rounding, consonants by place, manner and voice. That is enough to find when a
word is said, as the words around it and the pauses hold it in its place.
"""

from __future__ import annotations

import re
import unicodedata
from functools import cache

from tamarind.speech.pronouncing import CONSONANTS, VOWELS, Phones

_VOWEL_FEATURES = {
    # height (0 close to 1 open), backness (0 front to 1 back), roundedness
    "i": (0.0, 0.0, 0), "y": (0.0, 0.1, 1), "ɪ": (0.25, 0.1, 0), "ʏ": (0.25, 0.2, 1),
    "e": (0.45, 0.1, 0), "ø": (0.4, 0.3, 1), "ɛ": (0.6, 0.15, 0), "œ": (0.6, 0.35, 1),
    "æ": (0.9, 0.2, 0), "a": (0.95, 0.5, 0), "ɶ": (0.95, 0.3, 1), "ɨ": (0.15, 0.4, 0),
    "ʉ": (0.05, 0.7, 1), "ɘ": (0.4, 0.45, 0), "ɵ": (0.4, 0.6, 1), "ə": (0.6, 0.5, 0),
    "ɜ": (0.55, 0.5, 0), "ɞ": (0.6, 0.55, 1), "ɐ": (0.8, 0.5, 0), "ɯ": (0.1, 0.8, 0),
    "u": (0.0, 1.0, 1), "ʊ": (0.25, 0.85, 1), "ɤ": (0.45, 0.8, 0), "o": (0.5, 1.0, 1),
    "ʌ": (0.7, 0.6, 0), "ɔ": (0.75, 1.0, 1), "ɑ": (1.0, 0.8, 0), "ɒ": (0.95, 0.9, 1),
    "ᵻ": (0.3, 0.3, 0), "ɚ": (0.5, 0.5, 0), "ɝ": (0.5, 0.5, 0),
}  # fmt: skip
_CONSONANT_FEATURES = {
    # place (lips 0 to throat 6), manner, voiced: those of ``pronouncing.CONSONANTS``
    "p": (0, "stop", 0), "b": (0, "stop", 1), "ɓ": (0, "stop", 1), "t": (3, "stop", 0),
    "d": (3, "stop", 1), "ʈ": (3, "stop", 0), "ɖ": (3, "stop", 1), "ɗ": (3, "stop", 1),
    "c": (5, "stop", 0), "ɟ": (5, "stop", 1), "k": (5, "stop", 0), "ɡ": (5, "stop", 1),
    "g": (5, "stop", 1), "q": (5, "stop", 0), "ɢ": (5, "stop", 1), "ɸ": (1, "hiss", 0),
    "β": (1, "hiss", 1), "f": (1, "hiss", 0), "v": (1, "hiss", 1), "θ": (2, "hiss", 0),
    "ð": (2, "hiss", 1), "s": (3, "hiss", 0), "z": (3, "hiss", 1), "ɬ": (3, "hiss", 0),
    "ɮ": (3, "hiss", 1), "ʃ": (4, "hiss", 0), "ʒ": (4, "hiss", 1), "ʂ": (4, "hiss", 0),
    "ʐ": (4, "hiss", 1), "ɕ": (4, "hiss", 0), "ʑ": (4, "hiss", 1), "ç": (4, "hiss", 0),
    "x": (6, "hiss", 0), "χ": (6, "hiss", 0), "ħ": (6, "hiss", 0), "h": (6, "hiss", 0),
    "ɦ": (6, "hiss", 0), "ɣ": (5, "stop", 1), "ʁ": (6, "hiss", 0), "ʝ": (4, "glide", 1),
    "m": (0, "nose", 1), "ɱ": (0, "nose", 1), "n": (3, "nose", 1), "ɳ": (3, "nose", 1),
    "ɲ": (3, "nose", 1), "ŋ": (5, "nose", 1), "ɴ": (5, "nose", 1), "l": (3, "glide", 1),
    "ɭ": (3, "glide", 1), "ɫ": (3, "glide", 1), "ʎ": (3, "glide", 1), "ʟ": (3, "glide", 1),
    "r": (4, "glide", 1), "ɹ": (4, "glide", 1), "ɻ": (4, "glide", 1), "ʀ": (4, "glide", 1),
    "ɾ": (3, "stop", 1), "ɽ": (3, "stop", 1), "w": (0, "glide", 1), "ʋ": (1, "hiss", 1),
    "ɥ": (4, "glide", 1), "j": (4, "glide", 1), "ɰ": (0, "glide", 1), "ʍ": (0, "glide", 1),
}  # fmt: skip

_TOGETHER = {
    "tʃ": ("CH",), "dʒ": ("JH",), "tɕ": ("CH",), "dʑ": ("JH",), "tʂ": ("CH",), "dʐ": ("JH",),
    "eɪ": ("EY",), "aɪ": ("AY",), "ai": ("AY",), "aʊ": ("AW",), "au": ("AW",), "oʊ": ("OW",),
    "əʊ": ("OW",), "ɔɪ": ("OY",), "oi": ("OY",), "ɔi": ("OY",),
}  # fmt: skip
"""Affricates and diphthongs that English has as one phone."""

_GLIDES = {"w": "W", "ɥ": "W", "j": "Y", "ʝ": "Y", "l": "L", "ɫ": "L", "ɭ": "L", "ʎ": "L"}
"""Of the phones that glide, place alone would not tell these apart."""

_NASAL = "\u0303"
_SILENT = "ʔʕˈˌːˑ‿.ʲʰʷˤʼ͜͡"


@cache
def arpabet(ipa: str) -> Phones:
    """Return the phones nearest to a word in IPA; unknown sounds are left out."""
    text = unicodedata.normalize("NFD", ipa)
    text = re.sub(f"[{_SILENT}]", "", text)
    phones: list[str] = []
    place = 0
    while place < len(text):
        pair = text[place : place + 2]
        if pair in _TOGETHER:
            phones += _TOGETHER[pair]
            place += 2
            continue
        phone = nearest(text[place])
        if phone is not None:
            phones.append(phone)
        elif text[place] == _NASAL and phones and phones[-1] in VOWELS:
            phones.append("N")
        place += 1
    return tuple(phones)


@cache
def nearest(sound: str) -> str | None:
    """Return the English phone whose features are nearest to those of an IPA letter; None for
    others."""
    if sound in _GLIDES:
        return _GLIDES[sound]
    if sound in _VOWEL_FEATURES:
        height, backness, rounded = _VOWEL_FEATURES[sound]
        return min(
            _PURE,
            key=lambda name: (
                abs(VOWELS[name][0] - height)
                + abs(VOWELS[name][1] - backness)
                + 0.2 * abs(VOWELS[name][2] - rounded)
            ),
        )
    if sound in _CONSONANT_FEATURES:
        place, manner, voiced = _CONSONANT_FEATURES[sound]
        return min(
            CONSONANTS,
            key=lambda name: (
                abs(CONSONANTS[name][0] - place)
                + 5 * (CONSONANTS[name][1] != manner)
                + 1.5 * abs(CONSONANTS[name][2] - voiced)
            ),
        )
    return None


_PURE = [name for name in VOWELS if name not in ("AW", "AY", "OY", "ER")]
"""Vowels that keep their colour to the end."""
