"""Read spoken or written numbers: their value, and how many words they take.

English is read word by word. For other languages the numbers that num2words can say are turned
round: what is said of each is looked up, the longest run of words first.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import cache

from tamarind.transcript.languages import base_of

_ONES = (
    "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen "
    "fifteen sixteen seventeen eighteen nineteen"
).split()
_TENS = "twenty thirty forty fifty sixty seventy eighty ninety".split()
_VALUES = {word: value for value, word in enumerate(_ONES)}
_VALUES |= {word: 10 * value for value, word in enumerate(_TENS, 2)}
_SCALES = {"thousand": 1_000, "million": 1_000_000, "billion": 1_000_000_000}
_FIGURES = re.compile(r"^(\d{1,3}(?:[,.\u00a0\u202f’]\d{3})+|\d{1,12})$")
_DECIMAL = re.compile(r"^(\d{1,9})([.,])(\d{1,4})$")
_TRAILING = re.compile(r"^(.*?)([.,;:?!…”’\"')\]]*)$", re.DOTALL)
_LOOKED_UP = (*range(2_101), *range(2_200, 10_000, 100), *range(10_000, 100_001, 1_000), 1_000_000)
_LEAST_SAID = 10
"""Below it one word for a number is often another word too in some language ("neuf", "sei")."""
_YEARS_OF_THEIR_OWN = ("de", "nl", "sv", "da", "no")
"""Languages that count the hundreds of a year."""
_ORDINAL_ENDINGS = re.compile(r"^(\d{1,2})(?:st|nd|rd|th|\.|er|re|e|º|ª|°)$")


def parted(word: str) -> tuple[str, str]:
    """Return a word without its final marks, and these."""
    match = _TRAILING.match(word)
    assert match is not None
    return match[1], match[2]


def number_at(words: Sequence[str], place: int, language: str) -> tuple[float, int]:
    """Return the value of the number from an index on, spoken or in digits, and how many words it
    takes; (0, 0) if there is none, or it is ambiguous."""
    if place >= len(words):
        return 0, 0
    core, marks = parted(words[place])
    value = in_figures(core, language)
    english = base_of(language) == "en"
    if value is None:
        said = spoken_number(words, place) if english else _looked_up(words, place, language)
        number, count = said
        if not count or (not number and count > 1):
            return 0, 0
        value, marks = number, parted(words[place + count - 1])[1]
    else:
        count = 1
        if english and not marks and place + 1 < len(words):
            scale, marks = parted(words[place + 1])
            if scale.casefold() in _SCALES:
                return value * _SCALES[scale.casefold()], 2
            marks = ""
    if english and not marks and place + count < len(words):
        value, count = _with_decimals(words, place, value, count)
    return value, count


def _with_decimals(words: Sequence[str], place: int, value: float, count: int) -> tuple[float, int]:
    """Add the digits said after "point"."""
    if words[place + count].casefold() != "point":
        return value, count
    digits = ""
    end = place + count + 1
    while end < len(words):
        core, marks = parted(words[end])
        digit = _VALUES.get(core.casefold(), 10) if not core.isdigit() else int(core)
        if digit > 9:
            break
        digits += str(digit)
        end += 1
        if marks:
            break
    return (float(f"{int(value)}.{digits}"), end - place) if digits else (value, count)


def in_figures(core: str, language: str = "en") -> float | None:
    """Return the value of a word in digits, with its language's decimal mark; None for others."""
    point = "." if base_of(language) in ("en", "ja", "zh", "ko", "th", "hi", "he") else ","
    decimal = _DECIMAL.match(core)
    if decimal and (decimal[2] == point or len(decimal[3]) != 3):
        return float(f"{decimal[1]}.{decimal[3]}")
    if _FIGURES.match(core):
        return int(re.sub(r"\D", "", core))
    return None


def ordinal_at(words: Sequence[str], place: int, language: str) -> tuple[int, int]:
    """Return the day of the month from an index on ("fourteenth", "14th", "vierzehnten"), and how
    many words it takes; (0, 0) if there is none."""
    core = words[place]
    match = _ORDINAL_ENDINGS.match(core.rstrip(",;:"))
    if match and 1 <= int(match[1]) <= 31:
        return int(match[1]), 1
    known = _ordinals(base_of(language))
    for count in (3, 2, 1):
        run = words[place : place + count]
        if len(run) < count or any(parted(word)[1] for word in run[:-1]):
            continue
        said = _plain(" ".join((*run[:-1], parted(run[-1])[0])))
        for ending in ("", "n", "r", "s", "m"):
            if said.endswith(ending) and said.removesuffix(ending) in known:
                return known[said.removesuffix(ending)], count
    return 0, 0


def year_at(words: Sequence[str], place: int, language: str) -> tuple[int, int]:
    """Return the year from an index on, in digits, as a number or in two parts ("nineteen
    eighty-five"), and how many words it takes; (0, 0) if there is none."""
    if place < len(words) and base_of(language) == "en":
        value, count = _year_in_parts(words, place)
        if count:
            return value, count
    number, count = number_at(words, place, language)
    core = parted(words[place])[0] if count else ""
    grouped = core[:1].isdigit() and not core.isdigit()
    if count and 1_000 <= number <= 2_100 and number == int(number) and not grouped:
        return int(number), count
    return 0, 0


def _year_in_parts(words: Sequence[str], place: int) -> tuple[int, int]:
    century = _VALUES.get(words[place].casefold(), 0)
    if not 11 <= century <= 20:
        return 0, 0
    rest = words[place + 1 : place + 3]
    if not rest:
        return 0, 0
    first, marks = parted(rest[0].casefold())
    if first in ("oh", "o") and not marks and len(rest) == 2:
        digit = _VALUES.get(parted(rest[1].casefold())[0], 0)
        return (100 * century + digit, 3) if 1 <= digit <= 9 else (0, 0)
    if first == "hundred" and century != 20:
        return 100 * century, 2
    value, count = spoken_number(words, place + 1)
    if count and 10 <= value <= 99:
        return 100 * century + value, 1 + count
    return 0, 0


def spoken_number(words: Sequence[str], place: int) -> tuple[int, int]:
    """Return the value of the number spelled out in English from an index on, and how many words it
    takes.

    (0, 0) where there is none; 0 and how many words it has for one that can be read in several
    ways ("nineteen sixty two").
    """
    total = group = 0
    count = used = 0
    last = ""
    while place + count < len(words):
        core, marks = parted(words[place + count])
        parts = core.casefold().split("-")
        if core.casefold() == "and" and last in ("hundred", *_SCALES) and not marks:
            count += 1
            continue
        if not all(_is_part(part) for part in parts):
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


def _is_part(part: str) -> bool:
    return part in _VALUES or part == "hundred" or part in _SCALES


def _run(words: Sequence[str], place: int) -> int:
    """Return how many words from an index on are number words."""
    count = 0
    while place + count < len(words):
        if not all(map(_is_part, parted(words[place + count])[0].casefold().split("-"))):
            break
        count += 1
    return count


def is_tens(word: str) -> int:
    """Return the decade of a plural like "eighties"; 0 for other words."""
    singular = word.casefold().removesuffix("ies") + "y"
    return _VALUES.get(singular, 0) if word.casefold().endswith("ies") else 0


@cache
def in_words(value: int, language: str = "en") -> str:
    """Return a number in words, as "twenty-three" in British English."""
    import num2words

    base = base_of(language)
    said = num2words.num2words(value, lang="en_GB" if base == "en" else base)
    return str(said).replace(",", "")


@cache
def can_say(language: str) -> bool:
    """Whether the number words of a language are known."""
    try:
        in_words(7, language)
    except (NotImplementedError, KeyError, ValueError):
        return False
    return True


def _plain(said: str) -> str:
    return said.casefold().replace("-", " ").strip()


def _looked_up(words: Sequence[str], place: int, language: str) -> tuple[int, int]:
    known, longest = _said_numbers(base_of(language))
    for count in range(min(longest, len(words) - place), 0, -1):
        run = words[place : place + count]
        if any(parted(word)[1] for word in run[:-1]):
            continue
        value = known.get(_plain(" ".join((*run[:-1], parted(run[-1])[0]))))
        if value is not None and (value >= _LEAST_SAID or count > 1):
            return value, count
        if value is not None and place + count < len(words):
            return value, count
    return 0, 0


@cache
def _said_numbers(base: str) -> tuple[dict[str, int], int]:
    """Return a language's words for each number, and the most words that one takes."""
    if not can_say(base):
        return {}, 0
    said = {_plain(text): value for value, text in _sayings(base)}
    return said, max((text.count(" ") + 1 for text in said), default=0)


def _sayings(base: str) -> Iterator[tuple[int, str]]:
    import num2words

    for value in _LOOKED_UP:
        try:
            yield value, in_words(value, base)
            if base in _YEARS_OF_THEIR_OWN and 1_100 <= value <= 1_999:
                yield value, str(num2words.num2words(value, lang=base, to="year"))
        except (NotImplementedError, KeyError, ValueError, IndexError):
            continue


@cache
def _ordinals(base: str) -> dict[str, int]:
    """Return the words for each day of a month."""
    import num2words

    found: dict[str, int] = {}
    for day in range(1, 32):
        try:
            said = num2words.num2words(day, lang="en_GB" if base == "en" else base, to="ordinal")
        except (NotImplementedError, KeyError, ValueError, IndexError, TypeError):
            return {}
        if not str(said).isdigit():
            found[_plain(str(said))] = day
    return found
