"""Match what has come back from elsewhere with the cues.

Files come back with lines lost, captions merged or split, times changed. What is returned and the
cues that were handed out are two sequences in the same order, so that the cheapest way to match
them is found by a dynamic program, as for sentences of two languages (Gale and Church, "A Program
for Aligning Sentences in Bilingual Corpora", 1993): one to one, one returned for several cues,
several for one, or nothing on either side. Numbers, times and the source's words say what belongs
together, as far as a format has them. What does not fit is told, and never guessed.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from math import log

from tamarind.transcript.model import Cue
from tamarind.transcript.tokens import joined, tokens_of
from tamarind.translation.spreading import spread_text

MOST_TOGETHER = 3
"""So many cues may have been merged into one, or split from one."""

LEFT_OUT, TOGETHER = 1.0, 0.6
"""What it costs to leave a returned text or a cue alone, and each one more in a merged match."""

NEAR_MS, STRETCHED = 4_000, 2.0
"""What a caption that was moved so far counts as, and one that lasts e times as long or short."""

FAR_MS = 60_000
"""Captions so far from each other have nothing to do with each other."""

DOUBTLESS = 0.2
"""What a row costs whose time and words are those of a cue, though its number may be another."""

WINDOW, BAND = 100, 24
"""So many rows are matched at a time, parted at ones that fit without a doubt; so far they may be
from where they would be in proportion."""


@dataclass(frozen=True, slots=True)
class Returned:
    """A text that has come back, with what its file says of its place."""

    text: str
    number: int | None = None
    source: str = ""
    start: int | None = None
    end: int | None = None

    @property
    def has_place(self) -> bool:
        """Whether the file says anything of its place."""
        return self.number is not None or bool(self.source) or self.start is not None

    def told(self) -> str:
        """Describe it."""
        number = f"{self.number}: " if self.number is not None else ""
        text = self.text if len(self.text) < 60 else f"{self.text[:57]}…"
        return f"{number}“{text}”"


@dataclass
class Fitted:
    """Texts by cue id, and sentences on what could not be placed, or only by spreading or
    joining."""

    texts: dict[int, str] = field(default_factory=dict)
    left_out: list[str] = field(default_factory=list)
    missing: list[int] = field(default_factory=list)
    """Places of cues with words for which nothing has come back."""

    changed: list[str] = field(default_factory=list)


def fitted(cues: Sequence[Cue], returned: Sequence[Returned], language: str) -> Fitted:
    """Match each returned text with a cue; ``cues`` are those that were sent, in order, numbered
    from 1, ``language`` is the translation's."""
    result = Fitted()
    rows = [one for one in returned if one.text.strip()]
    said = [place for place, cue in enumerate(cues, 1) if cue.words]
    if len(rows) == len(said) and not any(one.has_place for one in rows):
        rows = [replace(one, number=place) for one, place in zip(rows, said, strict=True)]
    exact = _by_keys(cues, rows)
    for at, place in exact.items():
        _place(cues[place : place + 1], place, rows[at : at + 1], language, result)
    taken = set(exact.values())
    left = [place for place in range(len(cues)) if place not in taken]
    others = [row for at, row in enumerate(rows) if at not in exact]
    rest = [cues[place] for place in left]
    for (a, b), (c, d) in _parts(rest, left, others):
        _match(rest[a:b], left[a:b], others[c:d], language, result)
    result.missing = [
        place for place, cue in enumerate(cues) if cue.words and cue.id not in result.texts
    ]
    return result


def _by_keys(cues: Sequence[Cue], rows: Sequence[Returned]) -> dict[int, int]:
    """Return the indices of cues that are certain by the rows' keys, by row index, in whatever
    order the rows are.

    Two of number, time and words say the same cue, or the only one that there is; and no other row
    says it too.
    """
    by_time: dict[tuple[int, int], list[int]] = {}
    by_words: dict[str, list[int]] = {}
    for place, cue in enumerate(cues):
        if cue.words:
            by_time.setdefault((cue.start, cue.end), []).append(place)
            by_words.setdefault(_plain(cue.text), []).append(place)
    found: dict[int, int] = {}
    for at, row in enumerate(rows):
        said: list[list[int]] = []
        if row.number is not None:
            real = 0 < row.number <= len(cues) and bool(cues[row.number - 1].words)
            said.append([row.number - 1] if real else [])
        if row.start is not None and row.end is not None:
            said.append(by_time.get((row.start, row.end), []))
        if row.source:
            said.append(by_words.get(_plain(row.source), []))
        votes = Counter(place for places in said for place in places)
        if not votes:
            continue
        (place, most), *others = votes.most_common(2)
        clear = not others or others[0][1] < most
        if clear and most >= min(len(said), 2):
            found[at] = place
    claimed = Counter(found.values())
    return {at: place for at, place in found.items() if claimed[place] == 1}


def _plain(text: str) -> str:
    return " ".join(text.split())


def _parts(
    cues: Sequence[Cue], numbers: Sequence[int], rows: Sequence[Returned]
) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    """Yield stretches of cues and rows that belong together, divided at certain matches;
    ``numbers`` are the indices of the cues."""
    parts = []
    first_cue = first_row = 0
    by_time: dict[tuple[int | None, int | None], int] = {
        (cue.start, cue.end): place for place, cue in enumerate(cues)
    }
    by_number = {number: place for place, number in enumerate(numbers)}
    for at, row in enumerate(rows):
        place = by_time.get((row.start, row.end), by_number.get((row.number or 0) - 1, -1))
        if at - first_row < WINDOW or not first_cue <= place < len(cues):
            continue
        if _cost(cues[place : place + 1], numbers[place], [row]) < DOUBTLESS:
            parts.append(((first_cue, place), (first_row, at)))
            first_cue, first_row = place, at
    parts.append(((first_cue, len(cues)), (first_row, len(rows))))
    return parts


def _match(
    cues: Sequence[Cue],
    numbers: Sequence[int],
    rows: Sequence[Returned],
    language: str,
    result: Fitted,
) -> None:
    """Match rows with cues, whose indices are ``numbers``, at the least cost."""
    count, size = len(cues), len(rows)
    infinite = float("inf")
    best = [[infinite] * (size + 1) for _ in range(count + 1)]
    came: dict[tuple[int, int], tuple[int, int]] = {}
    best[0][0] = 0.0
    band = abs(count - size) + BAND
    for i in range(count + 1):
        centre = i * size // max(count, 1)
        for j in range(max(centre - band, 0), min(centre + band, size) + 1):
            so_far = best[i][j]
            if so_far == infinite:
                continue
            for more_cues, more_rows in _STEPS:
                to = i + more_cues, j + more_rows
                if to[0] > count or to[1] > size:
                    continue
                if more_cues > 1 and numbers[to[0] - 1] - numbers[i] >= more_cues:
                    # Others that are placed already stand between them.
                    continue
                number = numbers[i] if i < count else 0
                cost = so_far + _cost(cues[i : to[0]], number, rows[j : to[1]])
                if cost < best[to[0]][to[1]]:
                    best[to[0]][to[1]] = cost
                    came[to] = i, j
    at = count, size
    steps = []
    while at != (0, 0) and at in came:
        steps.append((came[at], at))
        at = came[at]
    for (i, j), (k, m) in reversed(steps):
        _place(cues[i:k], numbers[i] if i < count else 0, rows[j:m], language, result)


_STEPS = (
    (1, 1), (1, 0), (0, 1),
    *((n, 1) for n in range(2, MOST_TOGETHER + 1)),
    *((1, n) for n in range(2, MOST_TOGETHER + 1)),
)  # fmt: skip


def _cost(cues: Sequence[Cue], place: int, rows: Sequence[Returned]) -> float:
    """Return the cost of matching rows with cues: 0 if all is the same, and no less than leaving
    them unmatched if nothing fits."""
    if not cues or not rows:
        empty = all(not cue.words for cue in cues)
        return 0.0 if cues and empty else _apart(cues, rows)
    if rows[0].start is not None and abs(rows[0].start - cues[0].start) > FAR_MS:
        return _apart(cues, rows)
    signs: list[float] = []
    first, last = rows[0], rows[-1]
    if first.number is not None:
        is_all = not first.source and first.start is None
        if is_all and (first.number != place + 1 or len(cues) > 1 or len(rows) > 1):
            return _apart(cues, rows)
        signs.append(0.0 if first.number == place + 1 else 0.5)
    if first.source:
        said = _plain(joined(cue.text for cue in cues))
        own = _plain(" ".join(row.source for row in rows))
        signs += [0.0 if said == own else 1.5 * (1 - _likeness(said, own))] * 2
    if first.start is not None and last.end is not None:
        moved = abs(first.start + last.end - cues[0].start - cues[-1].end) / 2
        own_ms, theirs_ms = cues[-1].end - cues[0].start, last.end - first.start
        signs.append(min(moved / NEAR_MS, 2.0))
        signs.append(min(STRETCHED * abs(log(max(theirs_ms, 1) / max(own_ms, 1))), 2.0))
    if not signs or sum(signs) / len(signs) > LEFT_OUT:
        return _apart(cues, rows)
    return sum(signs) / len(signs) + TOGETHER * (max(len(cues), len(rows)) - 1)


def _apart(cues: Sequence[Cue], rows: Sequence[Returned]) -> float:
    return LEFT_OUT * (len(cues) + len(rows))


def _likeness(one: str, other: str) -> float:
    """Return the share of words that two texts have in common (Dice)."""
    a, b = _words(one), _words(other)
    return 2 * (a & b).total() / max(a.total() + b.total(), 1)


@lru_cache(4_096)
def _words(text: str) -> Counter[str]:
    return Counter(text.casefold().split())


def _place(
    cues: Sequence[Cue], place: int, rows: Sequence[Returned], language: str, result: Fitted
) -> None:
    if not rows:
        return
    if not cues:
        result.left_out += [row.told() for row in rows]
        return
    text = joined(tokens_of(" ".join(row.text for row in rows)))
    spoken = [cue for cue in cues if cue.words]
    if not spoken:
        result.left_out += [row.told() for row in rows]
        return
    if _cost(cues, place, rows) >= _apart(cues, rows):
        result.left_out += [row.told() for row in rows]
        return
    if len(rows) > 1:
        result.changed.append(f"{place + 1} had been split into {len(rows)}, and is one again.")
    if len(spoken) > 1:
        names = f"{place + 1} to {place + len(cues)}"
        result.changed.append(f"{names} had been merged: their text was spread over them again.")
    parts = spread_text([cue.text for cue in spoken], text, language)
    result.texts.update({cue.id: part for cue, part in zip(spoken, parts, strict=True) if part})
