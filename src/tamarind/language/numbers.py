"""Numbers as a style wants them: in words or in figures (English)."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from tamarind.captions.functionwords import UNITS
from tamarind.language.housestyle import Numbers, Wording
from tamarind.transcript.languages import base_of

_ONES = (
    "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen "
    "fifteen sixteen seventeen eighteen nineteen"
).split()
_TENS = "twenty thirty forty fifty sixty seventy eighty ninety".split()
_VALUES = {word: value for value, word in enumerate(_ONES)}
_VALUES |= {word: 10 * value for value, word in enumerate(_TENS, 2)}
_SCALES = {"thousand": 1_000, "million": 1_000_000}
_FIGURES = re.compile(r"^(\d{1,3}(?:,\d{3})+|\d{1,7})$")
_TRAILING = re.compile(r"^(.*?)([.,;:?!…”’\"')\]]*)$")


@dataclass(frozen=True, slots=True)
class NumberChange:
    """The words from place ``first`` up to, not with, ``last`` would be written as ``new``."""

    first: int
    last: int
    new: str


def changes(words: Sequence[str], wording: Wording, language: str = "en") -> list[NumberChange]:
    """Where a run of words does not write its numbers as a style wants. In other languages than
    English only figures are told from words.

    "One" is left alone, since it is mostly no number; so are years said in two parts, decimals,
    and figures before a unit.
    """
    english = base_of(language) == "en"
    if wording.numbers is Numbers.AS_THEY_ARE or not (english or _can_say(language)):
        return []
    least = wording.figures_from if wording.numbers is Numbers.WORDS_BELOW else 2
    found: list[NumberChange] = []
    place = 0
    while place < len(words):
        core, marks = _parted(words[place])
        if _FIGURES.match(core):
            value = int(core.replace(",", ""))
            unit = place + 1 < len(words) and _parted(words[place + 1])[0].casefold() in UNITS
            if value < least and not unit and wording.numbers is Numbers.WORDS_BELOW:
                capital = place == 0 or words[place - 1][-1:] in ".?!…"
                spelled = in_words(value, language)
                new = (spelled[0].upper() + spelled[1:] if capital else spelled) + marks
                found.append(NumberChange(place, place + 1, new))
            place += 1
            continue
        value, count = spoken_number(words, place) if english else (0, 0)
        if count and value >= least:
            _, marks = _parted(words[place + count - 1])
            starts = place == 0 or words[place - 1][-1:] in ".?!…"
            if not starts:
                written = f"{value:,}" if value >= 10_000 else str(value)
                found.append(NumberChange(place, place + count, written + marks))
        place += max(count, 1)
    return found


def spoken_number(words: Sequence[str], place: int) -> tuple[int, int]:
    """The value of the number that is spelled out from ``place`` on, and how many words it takes.

    (0, 0) where there is none; 0 and how many words it has for one that can be read in several
    ways ("nineteen sixty two").
    """
    total = group = 0
    count = used = 0
    last = ""
    while place + count < len(words):
        core, marks = _parted(words[place + count])
        parts = core.casefold().split("-")
        if core.casefold() == "and" and last in ("hundred", *_SCALES) and not marks:
            count += 1
            continue
        if not all(part in _VALUES or part == "hundred" or part in _SCALES for part in parts):
            break
        for part in parts:
            if part == "hundred":
                if not 0 < group < 10:
                    return 0, _run(words, place)
                group *= 100
            elif part in _SCALES:
                if not group:
                    return 0, _run(words, place)
                total, group = total + group * _SCALES[part], 0
            else:
                value = _VALUES[part]
                fits = group == 0 or (group % 100 == 0 and last == "hundred")
                fits = fits or (value < 10 and value > 0 and last in _TENS)
                if not fits:
                    return 0, _run(words, place)
                group += value
            last = part
        count += 1
        used = count
        if marks:
            break
    return (total + group, used) if used else (0, 0)


def _run(words: Sequence[str], place: int) -> int:
    """How many words from ``place`` on are words for numbers."""
    count = 0
    while place + count < len(words):
        parts = _parted(words[place + count])[0].casefold().split("-")
        if not all(part in _VALUES or part == "hundred" or part in _SCALES for part in parts):
            break
        count += 1
    return count


@cache
def in_words(value: int, language: str = "en") -> str:
    """A number read out, as "twenty-three" in British English."""
    import num2words

    base = base_of(language)
    said = num2words.num2words(value, lang="en_GB" if base == "en" else base)
    return str(said).replace(",", "")


@cache
def _can_say(language: str) -> bool:
    """Whether the numbers of a language are known."""
    try:
        in_words(7, language)
    except (NotImplementedError, KeyError, ValueError):
        return False
    return True


def _parted(word: str) -> tuple[str, str]:
    match = _TRAILING.match(word)
    assert match is not None
    return match[1], match[2]
