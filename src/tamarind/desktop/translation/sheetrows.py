"""The rows of the translation sheet, each as high as its source needs."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QColor, QFont, QTextLayout

from tamarind.desktop.editor.content import Looks, Place, Space
from tamarind.desktop.editor.rowlayout import lay_out
from tamarind.desktop.theme import colours
from tamarind.desktop.translation.tracktext import TrackText

SOURCE_LEFT, FIT_WIDTH, EDGE, NARROWEST = 164, 150, 34, 80
ROOM, ABOVE_ALL, LEAST, WITH_COMMENT = 16.0, 12.0, 42.0, 62.0
GUESSED = 84.0
"""Two lines and the room around them."""

MOST_LAID_OUT = 600


class TranslationRows:
    """The content that the editor shows."""

    def __init__(self, text: TrackText, width: Callable[[], float], font: QFont) -> None:
        """``width`` returns the current width of the sheet (px)."""
        self._text, self._width, self._font = text, width, font
        self._sources: dict[int, tuple[str, float, float, QTextLayout]] = {}

    def row_count(self) -> int:
        """Return the number of rows, one a cue."""
        return len(self._text.transcript.cues)

    def text(self, row: int) -> str:
        """Return the cue's translation."""
        return self._text.translation(row)

    def space(self, row: int) -> Space:
        """Return the space that makes the row as high as its source and what stands at the
        right."""
        above = ROOM + (ABOVE_ALL if row == 0 else 0)
        least = WITH_COMMENT if self._text.comment(row) else LEAST
        return Space(above, ROOM, max(self._laid_out(row)[2], least))

    def column(self, width: float) -> tuple[float, float]:
        """Return the right-hand column."""
        own = _column_width(width)
        return SOURCE_LEFT + own + EDGE, own

    def line_starts(self, row: int, text: str) -> list[int]:
        """Return none, since lines break where the column ends."""
        return []

    def looks(self, row: int, text: str) -> Looks:
        """Return none, since translations are plain."""
        return ()

    def ink(self, row: int) -> QColor:
        """Return grey for a stale translation until someone has looked at it."""
        stale = self._text.track.is_stale(self._text.transcript.cues[row])
        return QColor(colours.GREY if stale else colours.INK)

    def height(self, row: int, letters_a_line: float, line_height: float) -> float:
        """Return the same estimate for all."""
        return GUESSED

    def heights(self, letters_a_line: float, line_height: float) -> list[float]:
        """Return the same estimate for all."""
        return [GUESSED] * self.row_count()

    def description(self, place: Place) -> str:
        """Return the cue of a place."""
        return f"row {place[0] + 1} of {self.row_count()}"

    def source(self, row: int) -> QTextLayout:
        """Return the cue's own text, laid out for the left-hand column."""
        return self._laid_out(row)[3]

    def _laid_out(self, row: int) -> tuple[str, float, float, QTextLayout]:
        """Lay out a source text for a width; return its height and layout."""
        text, width = self._text.transcript.cues[row].text, _column_width(self._width())
        known = self._sources.get(row)
        if known is not None and known[:2] == (text, width):
            return known
        layout = QTextLayout(text, self._font)
        height = lay_out(layout, width)
        if len(self._sources) > MOST_LAID_OUT:
            self._sources.clear()
        self._sources[row] = text, width, height, layout
        return self._sources[row]


def _column_width(width: float) -> float:
    return max((width - SOURCE_LEFT - FIT_WIDTH - 2 * EDGE) / 2, NARROWEST)
