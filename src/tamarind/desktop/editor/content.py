"""What a sheet shows, and who takes what is typed into it."""

from __future__ import annotations

from contextlib import AbstractContextManager
from typing import NamedTuple, Protocol

from PySide6.QtGui import QColor

Place = tuple[int, int]
"""A row and an offset in its text."""

Looks = tuple[tuple[int, int, str], ...]
"""Stretches of a row (from, letters) and how they look ("biu": bold, italics, underlined)."""


class Space(NamedTuple):
    """The space above and below a row's text, and the least height of the text (px)."""

    above: float
    below: float
    least: float


class Content(Protocol):
    """Rows of text, counted from 0. Texts are stored with single spaces, none at the ends."""

    def row_count(self) -> int:
        """Return the number of rows."""

    def text(self, row: int) -> str:
        """Return a row's text."""

    def space(self, row: int) -> Space:
        """Return the space around a row's text."""

    def column(self, width: float) -> tuple[float, float]:
        """Return left edge and width (px) of the text in a sheet of a width."""

    def line_starts(self, row: int, text: str) -> list[int]:
        """Return the offsets at which new lines begin, besides wrapping."""

    def looks(self, row: int, text: str) -> Looks:
        """Return the ranges of a row with a format of their own."""

    def ink(self, row: int) -> QColor:
        """Return the colour of a row's text."""

    def height(self, row: int, letters_a_line: float, line_height: float) -> float:
        """Estimate the height (px) of a row that nobody has seen yet."""

    def heights(self, letters_a_line: float, line_height: float) -> list[float]:
        """Estimate the heights (px) of all rows."""

    def description(self, place: Place) -> str:
        """Describe a place for those who do not see it."""


class Writer(Protocol):
    """Takes what is typed; the sheet is refreshed from the changed content."""

    @property
    def joins_rows(self) -> bool:
        """Whether two rows are joined if what lies between them is deleted."""

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Replace what is between two places; with ``typed`` it joins the typing before it for
        undo."""

    def break_row(self, place: Place) -> Place | None:
        """Handle Enter; return where the caret goes, or None."""

    def as_one(self) -> AbstractContextManager[None]:
        """Make everything written within this context one step of undo."""


def guessed_height(letters: int, letters_a_line: float, line_height: float, space: Space) -> float:
    """Estimate a row's height (px) from its length."""
    lines = max(-(-letters // letters_a_line), 1)
    return space.above + space.below + max(lines * line_height, space.least)
