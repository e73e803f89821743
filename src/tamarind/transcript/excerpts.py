"""Excerpts: passages that were kept, with in and out points in the sound.

An excerpt holds the words that are said between its points, so it follows them through every edit
of the text by itself: words keep their times. Where times are changed it moves with its words
(``followed``).
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

from tamarind.transcript import anchors
from tamarind.transcript.bounds import LATEST, clean_text, is_clean
from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Cue, Transcript, Word, text_of

Span = tuple[int, int]
"""From and to, in ms."""

SHORTEST_MS = 20
"""An excerpt, or what is left of it between cuts, is at least so long."""

LONGEST_LINE = 1_000
LONGEST_NOTE = 100_000
MOST_TAGS = 100

_DIGITS = "0123456789abcdefghijklmnopqrstuvwxyz"


@dataclass(frozen=True, slots=True)
class Excerpt:
    """A passage from ``start`` to ``end`` (ms) without the ``cuts``, which are in order and apart;
    ``quote`` is its text when it was kept.

    ``place`` is where it stands among all excerpts of the job: a fraction, as its digits in base
    36, so that there is always another one between two.
    """

    id: int
    start: int
    end: int
    place: str
    quote: str = ""
    name: str = ""
    note: str = ""
    tags: tuple[str, ...] = ()
    cuts: tuple[Span, ...] = ()

    @property
    def spans(self) -> tuple[Span, ...]:
        """What is played of it, in order."""
        edges = [self.start, *(time for cut in self.cuts for time in cut), self.end]
        return tuple((a, b) for a, b in zip(edges[::2], edges[1::2], strict=True) if b > a)

    @property
    def length(self) -> int:
        """How long it plays (ms)."""
        return sum(end - start for start, end in self.spans)

    def with_cut(self, start: int, end: int) -> Excerpt:
        """Return the excerpt without what lies between two times (ms). A cut that reaches an end
        shortens it. Raises ValueError if nothing would be left."""
        start, end = max(start, self.start), min(end, self.end)
        if end <= start:
            return self
        merged: list[Span] = []
        for a, b in sorted([*self.cuts, (start, end)]):
            if merged and a <= merged[-1][1] + SHORTEST_MS:
                merged[-1] = merged[-1][0], max(merged[-1][1], b)
            else:
                merged.append((a, b))
        first, last = self.start, self.end
        if merged and merged[0][0] - first < SHORTEST_MS:
            first = merged.pop(0)[1]
        if merged and last - merged[-1][1] < SHORTEST_MS:
            last = merged.pop()[0]
        if last - first < SHORTEST_MS:
            raise ValueError("Nothing would be left of it.")
        return replace(self, start=first, end=last, cuts=tuple(merged))

    def between(self, start: int, end: int) -> Excerpt:
        """Return the excerpt with these points (ms), without cuts outside. Raises ValueError if
        they are invalid."""
        if not 0 <= start <= end - SHORTEST_MS or end > LATEST:
            raise ValueError("An excerpt ends after it begins.")
        inside = [cut for cut in self.cuts if cut[0] < end and cut[1] > start]
        made = replace(self, start=start, end=end, cuts=())
        for a, b in inside:
            made = made.with_cut(a, b)
        return made


def words_between(text: Transcript, start: int, end: int) -> Iterator[tuple[Cue, Word]]:
    """Return the words whose middle lies between two times (ms), with their cues, in order."""
    for cue in _cues_near(text, start, end):
        for word in cue.words:
            if start <= (word.start + word.end) / 2 < end:
                yield cue, word


def words_of(text: Transcript, excerpt: Excerpt) -> list[tuple[Cue, Word]]:
    """Return the words played in an excerpt, with their cues."""
    return [found for span in excerpt.spans for found in words_between(text, *span)]


def quote_of(text: Transcript, excerpt: Excerpt) -> str:
    """Return an excerpt's current text, with "…" where words are cut."""
    parts: list[str] = []
    waiting = False
    for before, span in pairwise([(excerpt.start, excerpt.start), *excerpt.spans]):
        waiting = waiting or any(True for _ in words_between(text, before[1], span[0]))
        words = [word for _, word in words_between(text, *span)]
        if not words:
            continue
        if waiting and parts:
            parts.append("…")
        waiting = False
        parts.append(text_of(words))
    return " ".join(parts)


def speakers_of(text: Transcript, excerpt: Excerpt) -> list[int]:
    """Return who speaks in an excerpt, in the order in which they begin."""
    found = dict.fromkeys(cue.speaker for cue, _ in words_of(text, excerpt))
    return [speaker for speaker in found if speaker is not None]


def followed(
    excerpts: Sequence[Excerpt], before: Transcript, after: Transcript
) -> tuple[Excerpt, ...]:
    """Return the excerpts after an edit: moved with their words if these have new times; those
    whose words are gone stay."""
    first, old_last, new_last = changed_range(before.cues, after.cues)
    old = [word for cue in before.cues[first:old_last] for word in cue.words]
    new = [word for cue in after.cues[first:new_last] for word in cue.words]
    moved = _moves(old, new)
    if not moved:
        return tuple(excerpts)
    return tuple(_followed(one, moved) for one in excerpts)


def _moves(old: Sequence[Word], new: Sequence[Word]) -> list[tuple[Word, Word]]:
    """Yield words in both texts, before and after, if any of them has new times."""
    pairs = [
        (old[i + step], new[j + step])
        for i, j, length in anchors.blocks([w.text for w in old], [w.text for w in new])
        for step in range(length)
    ]
    changed = any((a.start, a.end) != (b.start, b.end) for a, b in pairs)
    return pairs if changed else []


def _followed(one: Excerpt, moved: Sequence[tuple[Word, Word]]) -> Excerpt:
    mine = [pair for pair in moved if one.start <= (pair[0].start + pair[0].end) / 2 < one.end]
    if not mine:
        return one
    starts = [was.start for was, _ in mine]

    def shifted(time: int) -> int:
        was, now = mine[max(bisect_left(starts, time) - 1, 0)]
        return (
            time
            + (now.start if time <= was.start else now.end)
            - (was.start if time <= was.start else was.end)
        )

    start, end = shifted(one.start), shifted(one.end)
    cuts = [(shifted(a), shifted(b)) for a, b in one.cuts]
    if start < 0 or end - start < SHORTEST_MS:
        return one
    try:
        made = replace(one, start=start, end=end, cuts=())
        for a, b in cuts:
            made = made.with_cut(a, b)
    except ValueError:
        return one
    return made


def place_between(before: str, after: str) -> str:
    """Return an order key between two others; "" stands for the beginning or the end."""
    digits = ""
    position = 0
    while True:
        low = _DIGITS.index(before[position]) if position < len(before) else 0
        high = _DIGITS.index(after[position]) if after and position < len(after) else len(_DIGITS)
        if high - low > 1:
            return digits + _DIGITS[(low + high) // 2]
        digits += _DIGITS[low]
        if high > low:
            # Anything that goes on after this digit lies before the other one.
            after = ""
        position += 1


def row_of(excerpt: Excerpt) -> dict[str, Any]:
    """Return an excerpt as plain data."""
    return {
        "id": excerpt.id, "in": excerpt.start, "out": excerpt.end, "place": excerpt.place,
        "quote": excerpt.quote, "name": excerpt.name, "note": excerpt.note,
        "tags": list(excerpt.tags), "cuts": [list(cut) for cut in excerpt.cuts],
    }  # fmt: skip


def excerpt_of(row: Any) -> Excerpt:
    """Return an excerpt from plain data. Raises ValueError, KeyError or TypeError."""
    start, end = _time(row["in"]), _time(row["out"])
    number, place = row["id"], row["place"]
    if type(number) is not int or number < 1 or end - start < SHORTEST_MS:
        raise ValueError("an excerpt")
    if not isinstance(place, str) or not 0 < len(place) <= LONGEST_LINE or set(place) - {*_DIGITS}:
        raise ValueError("the place of an excerpt")
    cuts = tuple((_time(a), _time(b)) for a, b in row["cuts"])
    edges = [start, *(time for cut in cuts for time in cut), end]
    if any(a >= b for a, b in pairwise(edges)):
        raise ValueError("cuts")
    tags = tuple(_text(tag, LONGEST_LINE) for tag in row["tags"])
    if len(tags) > MOST_TAGS:
        raise ValueError("tags")
    return Excerpt(
        number, start, end, place=place, quote=_text(row["quote"], 10 * LONGEST_NOTE),
        name=_text(row["name"], LONGEST_LINE), note=_text(row["note"], LONGEST_NOTE),
        tags=tags, cuts=cuts,
    )  # fmt: skip


def lawful(excerpt: Excerpt) -> Excerpt:
    """Return an excerpt with valid texts of limited length.

    Raises ValueError where its times are no excerpt's.
    """
    start, end = excerpt.start, excerpt.end
    edges = [start, *(time for cut in excerpt.cuts for time in cut), end]
    if start < 0 or end > LATEST or end - start < SHORTEST_MS:
        raise ValueError(f"An excerpt is at least {SHORTEST_MS} ms long, within its recording.")
    if any(a >= b for a, b in pairwise(edges)):
        raise ValueError("Cuts lie within their excerpt, one after the other.")
    return replace(
        excerpt,
        quote=clean_text(excerpt.quote)[: 10 * LONGEST_NOTE],
        name=clean_text(excerpt.name)[:LONGEST_LINE],
        note=clean_text(excerpt.note)[:LONGEST_NOTE],
        tags=tags_in(",".join(excerpt.tags)),
    )


def tags_in(text: str) -> tuple[str, ...]:
    """Return the tags in a comma-separated line, each once."""
    tags = (" ".join(tag.split())[:LONGEST_LINE] for tag in clean_text(text).split(","))
    return tuple(dict.fromkeys(tag for tag in tags if tag))[:MOST_TAGS]


def _cues_near(text: Transcript, start: int, end: int) -> Sequence[Cue]:
    """Return the cues that may have words between two times (ms)."""
    first = text.place_at(start)
    last = text.place_at(end)
    # Cues may overlap: one that began earlier may go on.
    return () if last is None else text.cues[max((first or 0) - 2, 0) : last + 1]


def _time(value: Any) -> int:
    if type(value) is not int or not 0 <= value <= LATEST:
        raise ValueError("a time")
    return value


def _text(value: Any, longest: int) -> str:
    if not isinstance(value, str) or len(value) > longest or not is_clean(value):
        raise ValueError("a text")
    return value
