"""Take identifiers out of texts, put replacements in their place, and put them back."""

from __future__ import annotations

import operator
import re
from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate

from tamarind.language.identifying import Identifier, Tells
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import carried_breaks, shared_spans, spread
from tamarind.transcript.tokens import tokens_of
from tamarind.transcript.unspaced import is_unspaced

_WORDS = {
    Tells.PERSON: "Person", Tells.PLACE: "Place", Tells.ORGANISATION: "Organisation",
    Tells.NUMBER: "Number", Tells.ADDRESS: "Address", Tells.DATE: "Date",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class KeyEntry:
    """One line of the key list: what somebody or something is called in the texts, and what stands
    there instead."""

    tells: Tells
    forms: tuple[str, ...]
    replacement: str


@dataclass(frozen=True, slots=True)
class Taken:
    """Words of a cue that were taken out: the originals, and what stands in their place from index
    ``first`` on."""

    cue: int
    first: int
    words: tuple[Word, ...]
    new: tuple[str, ...]


def entries_of(found: Iterable[Identifier]) -> list[KeyEntry]:
    """Return an entry for each identifier, numbered by kind: "Person 1", "Place 1"."""
    numbers = dict.fromkeys(Tells, 0)
    entries = []
    for one in found:
        numbers[one.tells] += 1
        entries.append(KeyEntry(one.tells, one.forms, f"{_WORDS[one.tells]} {numbers[one.tells]}"))
    return entries


class Matcher:
    """Finds the forms of entries in texts, the longest first.

    A form with a capital is found with one only, so that "Hill" is taken out and "the hill" stays.
    """

    def __init__(self, entries: Sequence[KeyEntry]) -> None:
        self._replacements: dict[str, str] = {}
        self._small: set[str] = set()
        forms: list[str] = []
        for entry in entries:
            for form in entry.forms:
                key = _key(form)
                if key and key not in self._replacements:
                    self._replacements[key] = entry.replacement
                    forms.append(form)
                    if form == form.lower():
                        self._small.add(key)
        parts = [_pattern(form) for form in sorted(forms, key=len, reverse=True)]
        self._pattern = re.compile("|".join(parts), re.IGNORECASE) if parts else None

    def found(self, text: str, any_case: bool = False) -> list[tuple[int, int, str]]:
        """Return where forms stand in a text (from, to), with their replacements; with
        ``any_case`` also without their capitals, as in file names."""
        if self._pattern is None:
            return []
        found = []
        for match in self._pattern.finditer(text):
            key = _key(match[0])
            if any_case or key in self._small or match[0] != match[0].lower():
                found.append((match.start(), match.end(), self._replacements[key]))
        return found

    def replaced(self, text: str, any_case: bool = False) -> str:
        """Return a text with every form replaced."""
        for start, end, new in reversed(self.found(text, any_case)):
            text = f"{text[:start]}{new}{text[end:]}"
        return text

    def left_in(self, text: str, any_case: bool = False) -> list[str]:
        """Return the forms that stand in a text."""
        return [text[start:end] for start, end, _ in self.found(text, any_case)]


def _key(form: str) -> str:
    """Return a form as it is looked up, whatever parts its words."""
    between = "" if is_unspaced(form) else " "
    return between.join(re.findall(r"[^\W_]+", form.casefold()))


def _pattern(form: str) -> str:
    """Return what finds a form wherever it is no part of a longer word; underscores, which stand
    between words in file names, part them."""
    parts = map(re.escape, re.findall(r"[^\W_]+", form))
    inside = r"[^\w]{0,3}_?[^\w]{0,3}".join(parts)
    if is_unspaced(form):
        # It may be parted between two captions.
        return r"\s*".join(map(re.escape, "".join(form.split())))
    return rf"(?<![^\W_]){inside}(?![^\W_])"


def taken_out(transcript: Transcript, matcher: Matcher) -> tuple[Transcript, list[Taken]]:
    """Return a text without the forms, and what was taken out, in order.

    A name that begins in one cue and ends in the next is replaced in the first.
    """
    words = [(number, word) for number, cue in enumerate(transcript.cues) for word in cue.words]
    texts = [word.text for _, word in words]
    # Words of scripts without spaces stand close together, as their names do in a form.
    spaces = ["" if word.glued or not at else " " for at, (_, word) in enumerate(words)]
    joined = "".join(f"{space}{text}" for space, text in zip(spaces, texts, strict=True))
    ends = list(accumulate(map(len, map(operator.add, spaces, texts))))
    starts_of = [end - len(text) for end, text in zip(ends, texts, strict=True)]
    changes: dict[int, list[tuple[int, int, str]]] = {}
    first_of = _first_words(transcript.cues)
    for start, end, new in matcher.found(joined):
        first, last = bisect_right(ends, start), bisect_right(ends, end - 1)
        before = joined[starts_of[first] : start]
        behind = joined[end : starts_of[last] + len(texts[last])]
        text = f"{before}{new}{behind}"
        for cue in range(words[first][0], words[last][0] + 1):
            own = [at for at in range(first, last + 1) if words[at][0] == cue]
            if own:
                place = first_of[cue]
                changes.setdefault(cue, []).append((own[0] - place, own[-1] + 1 - place, text))
                text = ""
    cues = list(transcript.cues)
    taken: list[Taken] = []
    for number in sorted(changes):
        cues[number], gone = _changed(cues[number], changes[number])
        taken += gone
    return replace(transcript, cues=tuple(cues)), taken


def _first_words(cues: Sequence[Cue]) -> list[int]:
    return [0, *accumulate(len(cue.words) for cue in cues)]


def _changed(cue: Cue, changes: Sequence[tuple[int, int, str]]) -> tuple[Cue, list[Taken]]:
    words = list(cue.words)
    taken: list[Taken] = []
    moved = 0
    for first, last, text in _apart(changes):
        old = cue.words[first:last]
        tokens = tokens_of(text)
        new = spread(tokens, old[0].start, old[-1].end, shared_spans(old)) if tokens else []
        new[:1] = [replace(one, glued=old[0].glued) for one in new[:1]]
        words[first + moved : last + moved] = new
        taken.append(Taken(cue.id, first + moved, old, tuple(word.text for word in new)))
        moved += len(new) - (last - first)
    made = tuple(words)
    return replace(cue, words=made, breaks=carried_breaks(cue, made)), taken


def _apart(changes: Sequence[tuple[int, int, str]]) -> list[tuple[int, int, str]]:
    """Return changes in order; two that touch the same word are one."""
    kept: list[tuple[int, int, str]] = []
    for first, last, text in sorted(changes):
        if kept and first < kept[-1][1]:
            kept[-1] = kept[-1][0], max(last, kept[-1][1]), f"{kept[-1][2]} {text}".strip()
        else:
            kept.append((first, last, text))
    return kept


def put_back(transcript: Transcript, taken: Iterable[Taken]) -> tuple[Transcript, int]:
    """Return a text with what was taken out back in its place, and how many could not be put back,
    since their words were changed or are gone."""
    cues = {cue.id: cue for cue in transcript.cues}
    missing = 0
    for one in reversed(list(taken)):
        cue = cues.get(one.cue)
        first = None if cue is None else _place_of(one, cue)
        if cue is None or first is None:
            missing += 1
            continue
        words = (*cue.words[:first], *one.words, *cue.words[first + len(one.new) :])
        cues[one.cue] = replace(cue, words=words, breaks=carried_breaks(cue, words))
    return replace(transcript, cues=tuple(cues[cue.id] for cue in transcript.cues)), missing


def _place_of(taken: Taken, cue: Cue) -> int | None:
    """Return where a replacement stands in a cue, the nearest to where it was; None if nowhere."""
    texts = [word.text for word in cue.words]
    count = len(taken.new)
    if not count:
        return taken.first if taken.first <= len(texts) else None
    places = [
        at for at in range(len(texts) - count + 1) if tuple(texts[at : at + count]) == taken.new
    ]
    return min(places, key=lambda at: abs(at - taken.first), default=None)
