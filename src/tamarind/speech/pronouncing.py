"""Look up how words sound, and compare sounds.

Pronunciations come from the dictionary that PocketSphinx ships (the CMU Pronouncing Dictionary);
words it lacks are sounded out by rule. The distance is that of Levenshtein with costs by phonetic
features, as in Kondrak 2003, "Phonetic alignment and similarity": a vowel for another vowel is
cheap, a voiced consonant for its voiceless twin too.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from itertools import accumulate, chain, count, takewhile
from pathlib import Path

from pocketsphinx import get_model_path

from tamarind.speech.pronunciation import sounded_out, spoken_forms

Phones = tuple[str, ...]

ADDED, ADDED_VOWEL = 0.7, 0.45
"""What a phone too many or too few costs; weak vowels come and go."""

VOWELS = {
    # height, backness, roundedness, as far as ARPAbet's vowels need them
    "IY": (0.0, 0.0, 0), "IH": (0.3, 0.1, 0), "EY": (0.4, 0.1, 0), "EH": (0.6, 0.2, 0),
    "AE": (0.9, 0.2, 0), "AA": (1.0, 0.8, 0), "AH": (0.7, 0.5, 0), "AO": (0.8, 1.0, 1),
    "OW": (0.5, 1.0, 1), "UH": (0.3, 0.8, 1), "UW": (0.0, 1.0, 1), "ER": (0.5, 0.5, 0),
    "AW": (0.9, 0.6, 1), "AY": (0.9, 0.4, 0), "OY": (0.6, 0.8, 1),
}  # fmt: skip
CONSONANTS = {
    # place (lips 0 to throat 6), manner, voiced
    "P": (0, "stop", 0), "B": (0, "stop", 1), "T": (3, "stop", 0), "D": (3, "stop", 1),
    "K": (5, "stop", 0), "G": (5, "stop", 1), "F": (1, "hiss", 0), "V": (1, "hiss", 1),
    "TH": (2, "hiss", 0), "DH": (2, "hiss", 1), "S": (3, "hiss", 0), "Z": (3, "hiss", 1),
    "SH": (4, "hiss", 0), "ZH": (4, "hiss", 1), "CH": (4, "burst", 0), "JH": (4, "burst", 1),
    "M": (0, "nose", 1), "N": (3, "nose", 1), "NG": (5, "nose", 1), "L": (3, "glide", 1),
    "R": (4, "glide", 1), "W": (0, "glide", 1), "Y": (4, "glide", 1), "HH": (6, "hiss", 0),
}  # fmt: skip


@cache
def _dictionary() -> dict[str, str]:
    """Load the phones of every word; other pronunciations are under the word with "(2)", "(3)" and
    so on."""
    path = Path(get_model_path()) / "en-us" / "cmudict-en-us.dict"
    return dict(line.split(" ", 1) for line in path.read_text("utf-8").splitlines())


def is_listed(form: str) -> bool:
    """Whether the dictionary has a plain word."""
    return form in _dictionary()


@cache
def pronunciations(form: str) -> tuple[Phones, ...]:
    """Return the pronunciations of a plain word, the usual one first; none if it has no letters."""
    listed = _dictionary()
    if form not in listed:
        ways = [sounded_out(form)]
    else:
        names = chain([form], (f"{form}({number})" for number in count(2)))
        ways = [listed[name] for name in takewhile(listed.__contains__, names)]
    return tuple(tuple(way.split()) for way in ways if way)


@cache
def phones_of(word: str) -> Phones:
    """Return the phones of a written word or several; digits as they are read out."""
    return tuple(
        phone for form in spoken_forms(word) for way in pronunciations(form)[:1] for phone in way
    )


def unlikeness(a: Phones, b: Phones) -> float:
    """Return 0 for the same sound, about 1 for sounds that have nothing in common."""
    if not a or not b:
        return 1.0
    extra = [_added(phone) for phone in b]
    row = list(accumulate(extra, initial=0.0))
    for phone in a:
        lost = _added(phone)
        following = [row[0] + lost]
        for place, other in enumerate(b):
            following.append(
                min(
                    row[place + 1] + lost,
                    following[place] + extra[place],
                    row[place] + changed(phone, other),
                )
            )
        row = following
    return row[-1] / (0.75 * max(len(a), len(b)))


@cache
def changed(phone: str, other: str) -> float:
    """Return the cost of hearing one phone for another, 0 to 1."""
    if phone == other:
        return 0.0
    if phone in VOWELS and other in VOWELS:
        a, b = VOWELS[phone], VOWELS[other]
        return 0.1 + 0.35 * (abs(a[0] - b[0]) + abs(a[1] - b[1])) + 0.05 * abs(a[2] - b[2])
    if phone in CONSONANTS and other in CONSONANTS:
        c, d = CONSONANTS[phone], CONSONANTS[other]
        manner = 0.0 if c[1] == d[1] else 0.45
        return min(0.1 + 0.08 * abs(c[0] - d[0]) + manner + 0.12 * abs(c[2] - d[2]), 1.0)
    return 1.0


def _added(phone: str) -> float:
    return ADDED_VOWEL if phone in VOWELS else ADDED


def starts_alike(a: Sequence[str], b: Sequence[str]) -> bool:
    """Whether two sounds could begin the same; a cheap test before the expensive one."""
    return (
        changed(a[0], b[0]) < 0.6 or (len(a) > 1 and a[1] == b[0]) or (len(b) > 1 and a[0] == b[1])
    )
