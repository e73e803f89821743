"""Write numbers and quantities as a style asks: in words or digits, with signs or in full."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.captions.functionwords import UNITS
from tamarind.language.conventions import conventions_of
from tamarind.language.housestyle import Numbers, Wording
from tamarind.language.quantities import Rewrite, rewrites
from tamarind.language.spokennumbers import (
    can_say,
    in_figures,
    in_words,
    number_at,
    parted,
    spoken_number,
)
from tamarind.transcript.languages import base_of
from tamarind.transcript.unspaced import is_unspaced

_SAFE = 10
"""Words for smaller numbers are often other words too in languages other than English."""


def changes(words: Sequence[str], wording: Wording, language: str = "en") -> list[Rewrite]:
    """Return where a run of words does not write numbers, dates, times, amounts, measures and
    letters as a style asks, in order.

    "One" is left alone, since it is mostly no number; so are years said in two parts where dates
    stay as they are, decimals, and figures before a unit.
    """
    if any(map(is_unspaced, words)):
        return []
    found = rewrites(words, wording, language)
    taken = {place for one in found for place in range(one.first, one.last)}
    numbers = _numbers(words, wording, language, taken)
    return sorted([*found, *numbers], key=lambda one: one.first)


def _numbers(
    words: Sequence[str], wording: Wording, language: str, taken: set[int]
) -> list[Rewrite]:
    english = base_of(language) == "en"
    if wording.numbers is Numbers.AS_THEY_ARE or not (english or can_say(base_of(language))):
        return []
    least = wording.figures_from if wording.numbers is Numbers.WORDS_BELOW else 2
    found: list[Rewrite] = []
    place = 0
    while place < len(words):
        core, marks = parted(words[place])
        starts = place == 0 or words[place - 1][-1:] in ".?!…"
        figure = in_figures(core, language)
        if figure is not None:
            bound = _belongs_to_more(words, place, language)
            small = figure == int(figure) and figure < least and not bound
            if small and wording.numbers is Numbers.WORDS_BELOW and place not in taken:
                spelled = in_words(int(figure), language)
                new = (spelled[0].upper() + spelled[1:] if starts else spelled) + marks
                found.append(Rewrite(place, place + 1, new))
            place += 1
            continue
        value, count = number_at(words, place, language)
        said = range(place, place + count)
        wanted = value >= (least if english else max(least, _SAFE)) and value == int(value)
        if count and wanted and not starts and taken.isdisjoint(said):
            _, marks = parted(words[place + count - 1])
            written = f"{value:,.0f}" if english and value >= 10_000 else f"{value:.0f}"
            found.append(Rewrite(place, place + count, written + marks))
        place += max(count, _readable(words, place) if english else 0, 1)
    return found


def _belongs_to_more(words: Sequence[str], place: int, language: str) -> bool:
    """Whether a number is part of something else, so that it stays: a measure ("7 metres", "3 to 4
    weeks"), a date, a name ("Room 9"), or digits said one by one."""
    following = [parted(word)[0] for word in words[place + 1 : place + 4]]
    before = parted(words[place - 1])[0] if place else ""
    ends_before = place < 1 or words[place - 1][-1:] in ".?!…:;,"
    starts_before = place < 2 or words[place - 2][-1:] in ".?!…"
    if not ends_before:
        is_name = before[:1].isupper() and not starts_before
        if is_name or in_figures(before, language) is not None:
            return True
    if words[place][-1:] in ".?!…:;,":
        return False
    if following and in_figures(following[0], language) is not None:
        return True
    known = conventions_of(language)
    measures = {*UNITS, *(known.months if known is not None else ())}
    after_range = following[2:3] if in_figures("".join(following[1:2]), language) else []
    return any(one.casefold() in measures for one in (*following[:1], *after_range))


def _readable(words: Sequence[str], place: int) -> int:
    """Return how many words an ambiguous number takes; it is skipped."""
    value, count = spoken_number(words, place)
    return count if not value else 0
