"""Write dates, times of day, money, measures and spelled letters as a style asks, in the spoken
language.

What is said is told by its parts: numbers by what num2words says of them, names of months, money
and measures by CLDR. Where a run of words can mean something else, it is left alone.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from tamarind.language.conventions import Conventions, conventions_of
from tamarind.language.housestyle import Dates, Numbers, SpelledLetters, Times, UnitForm, Wording
from tamarind.language.spokennumbers import (
    in_figures,
    in_words,
    is_tens,
    number_at,
    ordinal_at,
    parted,
    spoken_number,
    year_at,
)
from tamarind.transcript.languages import base_of

_LONGEST_NAME = 4
_FEWEST_LETTERS, _FEWEST_ALONE = 3, 4
"""Letters that are spelled: where something beside them says so, and where nothing does."""

_SPELLING_WORDS = frozenset("spelled spelt spell spells spelling letter letters written".split())
_LETTERS = re.compile(r"^[^\W\d_](?:[-–.][^\W\d_]){2,}$")
_ATTACHED = re.compile(r"^(\d[\d.,]*)[\u00a0\u202f]?([^\d\s.,]\S*)$")
_SIGNED = re.compile(r"^([£$€])[\u00a0\u202f]?(\d[\d.,]*)$|^(\d[\d.,]*)[\u00a0\u202f]?([£$€])$")
_CLOCK = re.compile(r"^(\d{1,2})[:.](\d\d)(am|pm|a\.m|p\.m)?$", re.IGNORECASE)
_HOUR_HALF = re.compile(r"^(\d{1,2})(am|pm|a\.m|p\.m)$", re.IGNORECASE)
_HALVES = {"am": 0, "a.m": 0, "a.m.": 0, "pm": 12, "p.m": 12, "p.m.": 12}
_TIMES_OF_DAY = {
    ("in", "the", "morning"): 0,
    ("in", "the", "afternoon"): 12,
    ("in", "the", "evening"): 12,
    ("at", "night"): 12,
}
_HOUR_WORDS = {
    "de": (("uhr",), "{} Uhr", ()),
    "nl": (("uur",), "{} uur", ()),
    "fr": (("heure", "heures"), "{}", ("à", "vers", "avant", "après", "jusqu’à", "jusqu'à")),
}
"""What is said between hour and minute, how the time is written, and behind which words it is no
length of time (behind all, where there are none)."""

_SHORTENED = re.compile(r"^(?:[ap]\.m\.|[^\W\d_]\.)", re.IGNORECASE)
_SIGN_OF = {"£": "GBP", "$": "USD", "€": "EUR"}
_NAME_OF = {"GBP": ("pound", "pounds"), "USD": ("dollar", "dollars"), "EUR": ("euro", "euros")}
_IN_TWO_PARTS = ("length-foot",)
"""Measures that a smaller one follows without its name ("five foot six")."""
_PARTS_OF_MONEY = ("pence", "cents", "cent", "p")


@dataclass(frozen=True, slots=True)
class Rewrite:
    """The words [``first``, ``last``) would be written as ``new``."""

    first: int
    last: int
    new: str


def rewrites(words: Sequence[str], wording: Wording, language: str = "en") -> list[Rewrite]:
    """Return where a run of words has a quantity not written as the style asks, in order, not
    overlapping."""
    if (
        wording.dates, wording.times, wording.amounts, wording.measures, wording.letters,
    ) == _AS_IT_IS:  # fmt: skip
        return []
    known = conventions_of(language, wording.spelling if base_of(language) == "en" else "")
    wishes = _wishes(wording, language, known)
    found: list[Rewrite] = []
    place = 0
    while place < len(words):
        said = next(filter(None, (wish(words, place) for wish in wishes)), None)
        if said is None:
            place += 1
            continue
        count, new = said
        new += _marks_behind(words, place + count)
        if " ".join(words[place : place + count]) != new:
            found.append(Rewrite(place, place + count, new))
        place += count
    return found


def _marks_behind(words: Sequence[str], end: int) -> str:
    """Return the marks at the end of the word before an index, without the point of an
    abbreviation."""
    marks = parted(words[end - 1])[1]
    inside = end < len(words) and words[end][:1].islower()
    return marks[1:] if inside and _SHORTENED.match(words[end - 1]) else marks


_AS_IT_IS = (
    Dates.AS_THEY_ARE, Times.AS_THEY_ARE, UnitForm.AS_IT_IS, UnitForm.AS_IT_IS,
    SpelledLetters.AS_THEY_ARE,
)  # fmt: skip
_Wish = Callable[[Sequence[str], int], tuple[int, str] | None]


def _wishes(wording: Wording, language: str, known: Conventions | None) -> list[_Wish]:
    """Return what the style asks for: each item says how many words from an index on are one
    quantity, and how it is written without its final marks."""
    wishes: list[_Wish] = []
    if wording.letters is not SpelledLetters.AS_THEY_ARE:
        wishes.append(_Letters(wording.letters, base_of(language) == "en"))
    if wording.times is not Times.AS_THEY_ARE:
        wishes.append(_Clock(wording.times, language))
    if known is not None and wording.dates is not Dates.AS_THEY_ARE:
        wishes.append(_Calendar(known, language))
    if known is not None and wording.amounts is not UnitForm.AS_IT_IS:
        wishes.append(_Money(known, wording, language))
    if known is not None and wording.measures is not UnitForm.AS_IT_IS:
        wishes.append(_Measures(known, wording, language))
    return wishes


@dataclass(frozen=True)
class _Letters:
    """Letters that are spelled one by one."""

    wish: SpelledLetters
    english: bool

    def __call__(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        letters, first = "", words[place][:1]
        end = place
        while end < len(words):
            core, marks = parted(words[end])
            twice = self.english and core.casefold() == "double" and not marks
            if twice and end + 1 < len(words):
                end += 1
                core, marks = parted(words[end])
            if _LETTERS.match(core):
                core = re.sub(r"[-–.]", "", core)
            elif len(core) != 1 or not core.isalpha() or core.isupper() != first.isupper():
                end -= twice
                break
            letters += core * (2 if twice else 1)
            end += 1
            if marks.strip(".") or (marks == "." and end == len(words)):
                break
        if len(letters) < _FEWEST_LETTERS or not (
            len(letters) >= _FEWEST_ALONE or self._are_spelled(words, place, end, letters)
        ):
            return None
        letters = letters.upper()
        return end - place, "-".join(letters) if self.wish is SpelledLetters.HYPHENS else letters

    def _are_spelled(self, words: Sequence[str], place: int, end: int, letters: str) -> bool:
        """Whether the text says that the letters are spelled, or they spell the word beside them;
        otherwise they are an abbreviation or initials."""
        around = [parted(word)[0].casefold() for word in words[max(place - 3, 0) : place]]
        around += [parted(word)[0].casefold() for word in words[end : end + 1]]
        return letters.casefold() in around or (
            self.english and not _SPELLING_WORDS.isdisjoint(around)
        )


@dataclass(frozen=True)
class _Calendar:
    """Dates and years."""

    known: Conventions
    language: str

    def __call__(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        english = base_of(self.language) == "en"
        return (
            self._day_first(words, place)
            or (self._month_first(words, place) if english else None)
            or (self._year(words, place) if english else None)
        )

    def _day_first(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        """Read "the fourteenth of March nineteen eighty-five"."""
        at = place
        english = base_of(self.language) == "en"
        if english and words[at].casefold() == "the":
            at += 1
        if at >= len(words):
            return None
        day, count = ordinal_at(words, at, self.language)
        counted = bool(count)
        if not count:
            number, count = number_at(words, at, self.language)
            day = int(number)
        if not count or not 1 <= day <= 31 or _closed(words, at, at + count):
            return None
        at += count
        joined = at < len(words) and words[at].casefold() in ("of", "de", "di")
        at += joined
        if english and words[place].casefold() == "the" and not (counted or joined):
            # "The 15 March" is how it is written; the article may belong to what follows.
            return None
        if english and self._is_behind_month(words, place):
            # "March 19 March": which of them the day belongs to, nobody knows.
            return None
        month = self._month(words, at)
        figures = words[at - 1][:1].isdigit() or english
        if not month or (english and not counted and not words[at - count][:1].isdigit()):
            return None
        if not (counted or figures or day > 1):
            return None
        return self._written(words, place, at + 1, day, month)

    def _month_first(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        """Read "March the fourteenth, nineteen eighty-five"."""
        month = self._month(words, place)
        at = place + 1
        if not month or at >= len(words) or _closed(words, place, at):
            return None
        if words[at].casefold() == "the":
            at += 1
        if at >= len(words):
            return None
        day, count = ordinal_at(words, at, self.language)
        if not count:
            core, marks = parted(words[at])
            followed = at + 1 < len(words) and bool(year_at(words, at + 1, self.language)[1])
            value = in_figures(core)
            if value is None or not (marks or followed or at + 1 == len(words)):
                return None
            day, count = int(value), 1
        return self._written(words, place, at + count, day, month)

    def _written(
        self, words: Sequence[str], first: int, end: int, day: int, month: int
    ) -> tuple[int, str] | None:
        at = end
        marks = parted(words[end - 1])[1]
        year: int | None = None
        if marks in ("", ","):
            if not marks and at < len(words) and words[at].casefold() in ("de", "del"):
                at += 1
            year, count = year_at(words, at, self.language)
            if count:
                end = at + count
        try:
            new = self.known.day(day, month, year or None)
        except ValueError:
            return None
        if day == 1 and base_of(self.language) == "fr":
            new = f"1er{new[1:]}"
        return end - first, new

    def _is_behind_month(self, words: Sequence[str], place: int) -> bool:
        before = place - 1
        return place > 0 and self._month(words, before) > 0 and not _closed(words, before, place)

    def _month(self, words: Sequence[str], place: int) -> int:
        if place >= len(words):
            return 0
        core = parted(words[place])[0]
        number = self.known.months.get(core.casefold(), 0)
        verb = base_of(self.language) == "en" and core in ("may", "march")
        return 0 if verb else number

    def _year(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        """Read "nineteen eighty-five", "the nineteen eighties"."""
        if place + 1 >= len(words):
            return None
        century, count = spoken_number(words[place : place + 1], 0)
        decade = is_tens(parted(words[place + 1])[0])
        if count and 11 <= century <= 20 and decade and not parted(words[place])[1]:
            return 2, f"{100 * century + decade}s"
        if place and words[place - 1].casefold() == "at":
            return None
        year, count = year_at(words, place, self.language)
        if count < 2 or " ".join(words[place : place + count]) == in_words(year):
            return None
        said, _ = spoken_number(words, place)
        return (count, str(year)) if not said else None


@dataclass(frozen=True)
class _Clock:
    """Times of day."""

    wish: Times
    language: str

    def __call__(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        base = base_of(self.language)
        if base == "en":
            return self._english(words, place)
        if base in _HOUR_WORDS:
            return self._with_hour_word(words, place, *_HOUR_WORDS[base])
        return None

    def _with_hour_word(
        self, words: Sequence[str], place: int, hours: Sequence[str], form: str,
        behind: Sequence[str],
    ) -> tuple[int, str] | None:  # fmt: skip
        """Read "fünfzehn Uhr dreißig"."""
        hour, count = number_at(words, place, self.language)
        at = place + count
        if not count or at >= len(words) or parted(words[at])[0].casefold() not in hours:
            return None
        if behind and (not place or words[place - 1].casefold() not in behind):
            return None
        minute, more = (0.0, 0)
        if not parted(words[at])[1]:
            minute, more = number_at(words, at + 1, self.language)
        if not more or not _is_time(hour, minute):
            return None
        return count + 1 + more, form.format(f"{hour:.0f}:{minute:02.0f}")

    def _english(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        said = self._said(words, place)
        if said is None:
            return None
        hour, minute, end, half, sure = said
        if half is None and not _closed(words, place, end):
            half, more = _half_at(words, end)
            half = 0 if hour == 12 and words[end : end + 1] == ["at"] else half
            end += more
        if half is None and not sure:
            return None
        if half is not None and not 1 <= hour <= 12:
            return None
        return end - place, self._written(hour, minute, half)

    def _said(
        self, words: Sequence[str], place: int
    ) -> tuple[int, int, int, int | None, bool] | None:
        """Return hour, minute, where the time ends, its half of the day, and whether it is a time
        whatever follows."""
        core, _ = parted(words[place])
        clock, hour_half = _CLOCK.match(core), _HOUR_HALF.match(core)
        if clock and _is_time(int(clock[1]), int(clock[2])):
            half = _HALVES[clock[3].casefold()] if clock[3] else None
            return int(clock[1]), int(clock[2]), place + 1, half, ":" in core
        if hour_half and 1 <= int(hour_half[1]) <= 12:
            half = _HALVES[hour_half[2].casefold()]
            return int(hour_half[1]), 0, place + 1, half, True
        return self._past_or_to(words, place) or self._hour_and_minute(words, place)

    def _past_or_to(
        self, words: Sequence[str], place: int
    ) -> tuple[int, int, int, int | None, bool] | None:
        named = {"half": 30, "quarter": 15}.get(words[place].casefold())
        minutes, count = (named, 1) if named else spoken_number(words, place)
        at = place + count
        if not count or at + 1 >= len(words) or _closed(words, place, at):
            return None
        way = words[at].casefold()
        hour, more = number_at(words, at + 1, self.language)
        if way not in ("past", "to") or not more or not 1 <= hour <= 12 or hour != int(hour):
            return None
        if minutes == 30 and (way == "to" or not named):
            return None
        if not named and minutes not in (5, 10, 20, 25):
            return None
        whole = int(hour) if way == "past" else (int(hour) - 2) % 12 + 1
        past = minutes if way == "past" else 60 - minutes
        return whole, past, at + 1 + more, None, bool(named) or way == "past"

    def _hour_and_minute(
        self, words: Sequence[str], place: int
    ) -> tuple[int, int, int, int | None, bool] | None:
        core, marks = parted(words[place])
        hour, count = spoken_number([core], 0)
        figures = in_figures(core)
        hour = int(figures) if figures is not None else hour
        if not (count or figures is not None) or not 0 <= hour <= 23 or marks:
            return None
        minute, more = spoken_number(words, place + 1)
        spoken = figures is None and bool(more) and 10 <= minute <= 59
        end = place + 1 + (more if spoken else 0)
        at = bool(place) and words[place - 1].casefold() == "at"
        return hour, minute if spoken else 0, end, None, spoken and at and hour >= 10

    def _written(self, hour: int, minute: int, half: int | None) -> str:
        if self.wish is Times.WHOLE_DAY:
            if half is not None:
                hour = hour % 12 + half
            return f"{hour}:{minute:02}"
        if half is None and hour > 12:
            hour, half = hour - 12, 12
        ending = "" if half is None else (" pm" if half else " am")
        return f"{hour}:{minute:02}{ending}" if minute or not ending else f"{hour}{ending}"


@dataclass(frozen=True)
class _Money:
    """Amounts of money."""

    known: Conventions
    wording: Wording
    language: str

    def __call__(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        if self.wording.amounts is UnitForm.IN_FULL:
            return self._in_full(words, place)
        value, count = number_at(words, place, self.language)
        at = place + count
        if not count or at >= len(words) or _closed(words, place, at):
            return None
        core, marks = parted(words[at])
        currency = self.known.money.get(core.casefold())
        if currency is None:
            return None
        if base_of(self.language) == "en":
            if value >= 1_000_000:
                scale, name = next(
                    pair for pair in ((1e9, "billion"), (1e6, "million")) if value >= pair[0]
                )
                amount = self.known.amount(round(value / scale, 2), currency)
                return count + 1, f"{amount} {name}"
            small, more = (0, 0) if marks else self._small(words, at + 1)
            return count + 1 + more, self.known.amount(value + small / 100, currency)
        return count + 1, self.known.amount(value, currency)

    def _small(self, words: Sequence[str], place: int) -> tuple[int, int]:
        """Return the pence or cents after pounds or dollars, and how many words they take."""
        begun = place
        if place < len(words) and words[place].casefold() == "and":
            place += 1
        value, count = spoken_number(words, place)
        end = place + count
        if not count or not 1 <= value <= 99:
            return 0, 0
        if end < len(words) and parted(words[end])[0].casefold() in _PARTS_OF_MONEY:
            return value, end + 1 - begun
        # "three pounds fifty", but not "three pounds fifty years ago"
        return (value, end - begun) if begun == place and _ends(words, end) else (0, 0)

    def _in_full(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        signed = _SIGNED.match(parted(words[place])[0])
        if signed is None or base_of(self.language) != "en":
            return None
        value = in_figures(signed[2] or signed[3], self.language)
        if value is None:
            return None
        one, many = _NAME_OF[_SIGN_OF[signed[1] or signed[4]]]
        count, scale = 1, ""
        if place + 1 < len(words) and not parted(words[place])[1]:
            following = parted(words[place + 1])[0].casefold()
            if following in ("million", "billion"):
                count, scale = 2, f" {following}"
        number = signed[2] or signed[3]
        if _is_small(value, self.wording):
            number = in_words(int(value))
        return count, f"{number}{scale} {one if value == 1 and not scale else many}"


@dataclass(frozen=True)
class _Measures:
    """Lengths, weights, percentages and the like."""

    known: Conventions
    wording: Wording
    language: str

    def __call__(self, words: Sequence[str], place: int) -> tuple[int, str] | None:
        shortly = self.wording.measures is UnitForm.SHORT
        core, _ = parted(words[place])
        attached = _ATTACHED.match(core)
        if attached and (measure := self.known.signs.get(attached[2])):
            value = in_figures(attached[1], self.language)
            return None if value is None else (1, self._written(value, measure))
        value, count = number_at(words, place, self.language)
        if not count or _closed(words, place, place + count):
            return None
        for more in range(_LONGEST_NAME, 0, -1):
            run = words[place + count : place + count + more]
            if len(run) < more or any(parted(word)[1] for word in run[:-1]):
                continue
            name = " ".join((*run[:-1], parted(run[-1])[0]))
            found = self.known.signs.get(name)
            if shortly and found is None:
                found = self.known.measures.get(name.casefold())
            if found in _IN_TWO_PARTS and number_at(words, place + count + more, self.language)[1]:
                return None
            if found is not None:
                if shortly and words[place][:1].isdigit() and found == self.known.signs.get(name):
                    return None
                return count + more, self._written(value, found)
        return None

    def _written(self, value: float, measure: str) -> str:
        if self.wording.measures is UnitForm.SHORT:
            return self.known.measure(value, measure, shortly=True)
        number = _number(value, self.wording, self.known, self.language)
        return self.known.measure(value, measure, shortly=False, number=number)


def _number(value: float, wording: Wording, known: Conventions, language: str) -> str:
    """Return a number before a name in full: in words if the style wants small ones so."""
    return in_words(int(value), language) if _is_small(value, wording) else known.number(value)


def _is_small(value: float, wording: Wording) -> bool:
    """Whether a style wants a number in words."""
    small = value == int(value) and 1 <= value < wording.figures_from
    return wording.numbers is Numbers.WORDS_BELOW and small


def _is_time(hour: float, minute: float) -> bool:
    return hour == int(hour) and minute == int(minute) and 0 <= hour <= 23 and 0 <= minute <= 59


def _half_at(words: Sequence[str], place: int) -> tuple[int | None, int]:
    """Return which half of the day is named at an index, and in how many words."""
    if place < len(words):
        named = _HALVES.get(words[place].casefold().rstrip(",;:?!"))
        if named is not None:
            return named, 1
    for phrase, half in _TIMES_OF_DAY.items():
        run = [parted(word)[0].casefold() for word in words[place : place + len(phrase)]]
        if tuple(run) == phrase:
            return half, len(phrase)
    return None, 0


def _closed(words: Sequence[str], first: int, end: int) -> bool:
    """Whether one of the words ends with a mark, so that what follows is something else."""
    return any(parted(word)[1] not in ("", ".") for word in words[first:end]) or (
        end > first and words[end - 1].endswith(".") and not words[end - 1][:1].isdigit()
    )


def _ends(words: Sequence[str], place: int) -> bool:
    """Whether a phrase has ended before an index: by a mark, or because nothing follows."""
    return place >= len(words) or bool(parted(words[place - 1])[1])
