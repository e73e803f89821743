"""Place captions on a grid of rows and columns, as teletext and line 21 do."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from tamarind.formats.colours import colour_of
from tamarind.formats.placing import region_of
from tamarind.formats.spans import looks_of
from tamarind.transcript.model import Cue, Word

_MOST_LETTERS = 12
_EDGE = 5.0
"""Percent of the picture beside the columns and above the rows, where a place is in percent."""


@dataclass(frozen=True, slots=True)
class Grid:
    """A grid of ``rows`` and ``columns``; a row of text takes ``height`` of them."""

    rows: int
    columns: int
    height: int = 1


@dataclass(frozen=True, slots=True)
class Row:
    """Words on one row, which begins in a column; both are counted from 0."""

    number: int
    column: int
    words: tuple[Word, ...]


Width = Callable[[Sequence[Word]], int]
"""How many columns some words take on a row, with the codes for how they look."""


_region = lru_cache(100)(region_of)


def gaps(words: Sequence[Word]) -> int:
    """Count the spaces between some words."""
    return sum(not word.glued for word in words[1:])


def lines_of(cue: Cue) -> list[tuple[Word, ...]]:
    """Return the words of each line."""
    edges = [0, *(cue.breaks or ()), len(cue.words)]
    return [cue.words[first:last] for first, last in pairwise(edges) if first < last]


def within(cue: Cue, grid: Grid, width: Width) -> list[tuple[Word, ...]]:
    """Return the lines of a cue, with lines too wide broken again; what does not fit on the picture
    is left out."""
    lines = [part for line in lines_of(cue) for part in _parted(line, grid.columns, width)]
    return lines[: grid.rows // grid.height]


def is_within(cue: Cue, grid: Grid, width: Width) -> bool:
    """Whether no line of a cue is too wide."""
    return all(width(line) <= grid.columns for line in lines_of(cue))


def rows_of(cue: Cue, grid: Grid, width: Width) -> list[Row]:
    """Return a cue's rows at their places on the picture, from the top."""
    lines = within(cue, grid, width)
    region = _region(cue.placement)
    taken = len(lines) * grid.height
    span = 100.0 - 2 * _EDGE
    top = (region.top - _EDGE) / span * grid.rows
    bottom = (region.top + region.height - _EDGE) / span * grid.rows
    if region.edge == "before":
        first = round(top)
    elif region.edge == "center":
        first = round((top + bottom - taken) / 2)
    else:
        first = round(bottom) - taken
    first = min(max(first, 0), grid.rows - taken)
    left = (region.left - _EDGE) / span * grid.columns
    right = (region.left + region.width - _EDGE) / span * grid.columns
    rows = []
    for number, line in enumerate(lines):
        taken_up = width(line)
        free = grid.columns - taken_up
        if region.align == "left":
            column = round(left)
        elif region.align == "right":
            column = round(right) - taken_up
        else:
            column = int((left + right - taken_up) / 2)
        rows.append(Row(first + number * grid.height, min(max(column, 0), max(free, 0)), line))
    return rows


def unlike(cue: Cue, colours: Sequence[int], looks: str) -> list[str]:
    """Describe which formats of a cue's words change; ``colours`` are those available (0xRRGGBB),
    ``looks`` of "biu"."""
    found = []
    own = [colour for word in cue.words for colour in map(colour_of, word.spans) if colour]
    if any(int(colour[1:], 16) not in colours for colour in own):
        found.append("a colour becomes the nearest")
    missing = {look for word in cue.words for look in looks_of(word)} - set(looks)
    names = {"b": "bold", "i": "italics", "u": "underlined"}
    if missing:
        found.append(f"left out: {', '.join(names[look] for look in sorted(missing))}")
    return found


def first_of(letters: Iterable[str]) -> str:
    """Return some characters for a sentence: the first ones, if they are many."""
    found = list(letters)
    return "".join(found[:_MOST_LETTERS]) + ("…" if len(found) > _MOST_LETTERS else "")


def placement_at(row: int, column: int, taken: int, width: int, grid: Grid) -> str:
    """Return the WebVTT settings for a caption at this first row and column with so many rows and
    columns; the inverse of ``rows_of``."""
    parts = []
    if row <= 0:
        parts.append("line:0")
    elif row + taken < grid.rows:
        parts.append(f"line:{_percent(row, grid.rows):g}%")
    beside = grid.columns - width
    if abs(column - beside / 2) > 1:
        if column <= 0:
            parts.append("position:0% align:left")
        elif column >= beside:
            parts.append("position:100% align:right")
        else:
            parts.append(f"position:{_percent(column, grid.columns):g}% align:left")
    return " ".join(parts)


def _percent(place: int, of: int) -> float:
    return round(_EDGE + (100.0 - 2 * _EDGE) * place / of, 1)


def _parted(line: Sequence[Word], columns: int, width: Width) -> Iterator[tuple[Word, ...]]:
    """Split a line into parts that fit; a word longer than a row stands alone."""
    if width(line) <= columns:
        yield tuple(line)
        return
    part: list[Word] = []
    for word in line:
        if part and width([*part, word]) > columns:
            yield tuple(part)
            part = []
        part.append(word)
    if part:
        yield tuple(part)
