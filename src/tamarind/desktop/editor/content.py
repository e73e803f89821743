"""What a sheet shows, and who writes what is typed into it."""

from __future__ import annotations

from contextlib import AbstractContextManager
from typing import NamedTuple, Protocol

from PySide6.QtGui import QColor

Place = tuple[int, int]
"""A row and an offset in its text."""

Looks = tuple[tuple[int, int, str], ...]
"""Stretches of a row (from, letters) and how they look ("biu": bold, italics, underlined)."""


class Space(NamedTuple):
    """Room above and below a row's text, and the least height of the text itself (px)."""

    above: float
    below: float
    least: float


class Content(Protocol):
    """Rows of text, counted from 0. A text is as it is kept: single spaces, none at the ends."""

    def row_count(self) -> int:
        """How many rows there are."""

    def text(self, row: int) -> str:
        """A row's text."""

    def space(self, row: int) -> Space:
        """The room around a row's text."""

    def column(self, width: float) -> tuple[float, float]:
        """Where the text stands in a sheet of a width (px): its left edge and its own width."""

    def line_starts(self, row: int, text: str) -> list[int]:
        """Where in a row's text new lines begin, besides where the width asks for it."""

    def looks(self, row: int, text: str) -> Looks:
        """Stretches of a row that look otherwise than the rest."""

    def ink(self, row: int) -> QColor:
        """The colour of a row's text."""

    def height(self, row: int, letters_a_line: float, line_height: float) -> float:
        """About how high a row is (px), which nobody has seen yet."""

    def heights(self, letters_a_line: float, line_height: float) -> list[float]:
        """The same of every row."""

    def description(self, place: Place) -> str:
        """What is known of a place, for those who do not see it."""


class Writer(Protocol):
    """Takes what is typed; the sheet is refreshed from what has become of the content."""

    @property
    def joins_rows(self) -> bool:
        """Whether two rows become one where what is between them is taken out."""

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Replace what is between two places; ``typed`` joins with the typing before it."""

    def break_row(self, place: Place) -> Place | None:
        """Enter was pressed; where the caret goes, if anywhere."""

    def as_one(self) -> AbstractContextManager[None]:
        """Within, all that is written is one step of undo."""


def guessed_height(letters: int, letters_a_line: float, line_height: float, space: Space) -> float:
    """A row's height (px) from its length."""
    lines = max(-(-letters // letters_a_line), 1)
    return space.above + space.below + max(lines * line_height, space.least)
