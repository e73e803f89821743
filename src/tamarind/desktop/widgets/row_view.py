"""Rows of laid-out text that scroll: what the sheets of Proof and Translation are drawn on.

Rows are laid out only when they come into view, so that ten thousand of them open at once. What a
row is, and what stands beside it, is up to the subclass.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontMetricsF,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QTextLayout,
)
from PySide6.QtWidgets import QAbstractScrollArea, QSizePolicy

from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.row_layout import LINE_SEPARATOR, LINE_SPACING, lay_out

HANGING = 26.0
"""How far a line that is too long for the column is set in where it goes on."""

Looks = tuple[tuple[int, int, str], ...]
"""Stretches of a row (from, letters) and how they look ("biu": bold, italics, underlined)."""

Place = tuple[int, int]
"""A row and an offset in its text."""


@dataclass(slots=True)
class _Row:
    """A row's finished layout, and what it was made from."""

    layout: QTextLayout
    text: str
    width: float
    height: float
    looks: Looks


class RowView(QAbstractScrollArea):
    """Base of all sheets; knows nothing of a caret."""

    def __init__(self, font: QFont) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._text_font = font
        self._rows: dict[int, _Row] = {}
        self._heights = np.zeros(0)
        self._tops = np.zeros(1)
        self._letters_a_line = self._line_height = 1.0
        self._estimated_for = 0.0
        self._version = 0
        self._measured: object = None
        self.verticalScrollBar().valueChanged.connect(self.viewport().update)

    # What a subclass says

    def row_count(self) -> int:
        """How many rows there are."""
        raise NotImplementedError

    def row_text(self, row: int) -> str:
        """A row's text as it is kept: single spaces, none at the ends."""
        raise NotImplementedError

    def row_length(self, row: int) -> int:
        """About how many letters a row has."""
        return len(self.row_text(row))

    def row_space(self, row: int) -> tuple[float, float, float]:
        """Room above and below a row's text, and the least height of the text itself."""
        raise NotImplementedError

    def text_span(self) -> tuple[float, float]:
        """Where the text stands: its left edge and its width."""
        raise NotImplementedError

    def shown_text(self, row: int) -> str:
        """A row's text as it stands on the screen."""
        return self.row_text(row)

    def line_starts(self, row: int, text: str) -> list[int]:
        """Where in a row's text new lines begin, besides where the width asks for it."""
        return []

    def looks(self, row: int) -> Looks:
        """Stretches of a row that look otherwise than the rest."""
        return ()

    def composed(self, row: int) -> tuple[int, str]:
        """Text that an input method is making, and where in a row it stands."""
        return 0, ""

    def text_colour(self, row: int) -> QColor:
        """The ink of a row's text."""
        return QColor(colours.INK)

    def selected(self, row: int) -> tuple[int, int] | None:
        """From where to where a row's text is selected."""
        return None

    def paint_ground(self, painter: QPainter) -> None:
        """What lies under all rows."""

    def paint_row(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint all of a row but its text; ``area`` has the whole width."""

    def paint_over(self, painter: QPainter, row: int) -> None:
        """What lies over a row's text."""

    # Contents

    def reset(self) -> None:
        """Show other contents, from their start."""
        self._rows.clear()
        self._estimate()
        self.verticalScrollBar().setValue(0)
        self.viewport().update()

    def refresh(self, first: int, old_last: int, new_last: int) -> None:
        """Rows from ``first`` up to ``old_last`` have become those up to ``new_last``."""
        moved = new_last - old_last
        self._version += 1
        self._rows = {
            row if row < first else row + moved: made
            for row, made in self._rows.items()
            if row < first or row >= old_last
        }
        if moved:
            heights = [self.estimated_height(row) for row in range(first, new_last)]
            self._heights = np.concatenate(
                [self._heights[:first], heights, self._heights[old_last:]]
            )
            self._sum()
        self._measure_visible()
        self.viewport().update()

    def restyle(self, row: int | None = None) -> None:
        """The looks of a row's text, or of all, have changed but not the text."""
        self._version += 1
        if row is None:
            self._rows.clear()
        else:
            self._rows.pop(row, None)
        self.viewport().update()

    def set_text_font(self, font: QFont) -> None:
        """Another size of the text."""
        self._text_font = font
        self._rows.clear()
        self._estimate()
        self.viewport().update()

    # Where things are

    def show_row(self, row: int) -> None:
        """Scroll as little as needed to have a row in view, with some room around it."""
        if not 0 <= row < self.row_count():
            return
        self._measure(row)
        bar = self.verticalScrollBar()
        room = min(60, self.viewport().height() // 6)
        top, bottom = self._tops[row], self._tops[row + 1]
        if top - room < bar.value():
            bar.setValue(int(top - room))
        elif bottom + room > bar.value() + self.viewport().height():
            bar.setValue(int(min(bottom + room - self.viewport().height(), top - room)))
        self._measure_visible()

    def row_area(self, row: int) -> QRectF:
        """Where a row is on the viewport."""
        top = self._tops[row] - self.verticalScrollBar().value()
        return QRectF(0, top, self.viewport().width(), self._heights[row])

    def text_area(self, row: int) -> QRectF:
        """Where a row's text is on the viewport."""
        area = self.row_area(row)
        above, below, _ = self.row_space(row)
        left, width = self.text_span()
        return QRectF(left, area.top() + above, width, area.height() - above - below)

    def row_at(self, y: float) -> int | None:
        """The row at a height of the viewport; beyond the ends the first or last."""
        if not self.row_count():
            return None
        at = y + self.verticalScrollBar().value()
        row = int(self._tops.searchsorted(at, "right")) - 1
        return min(max(row, 0), self.row_count() - 1)

    def place_at(self, point: QPointF) -> Place | None:
        """The place in the text nearest to a point of the viewport."""
        row = self.row_at(point.y())
        if row is None:
            return None
        made = self._made(row)
        area = self.text_area(row)
        y = min(max(point.y() - area.top(), 0.0), made.height - 1)
        for index in range(made.layout.lineCount()):
            line = made.layout.lineAt(index)
            if y < line.y() + line.height() * LINE_SPACING:
                break
        return row, line.xToCursor(point.x() - area.left())

    # Layout

    def estimated_height(self, row: int) -> float:
        """A row's height from its length, for rows that nobody has seen yet."""
        above, below, least = self.row_space(row)
        lines = max(-(-self.row_length(row) // self._letters_a_line), 1)
        return above + below + max(lines * self._line_height, least)

    def estimated_heights(self) -> list[float]:
        """That of every row."""
        return [self.estimated_height(row) for row in range(self.row_count())]

    def _estimate(self) -> None:
        self._version += 1
        metrics = QFontMetricsF(self._text_font)
        self._letters_a_line = max(self.text_span()[1] / max(metrics.averageCharWidth(), 1), 8)
        self._line_height = metrics.height() * LINE_SPACING
        self._estimated_for = self.text_span()[1]
        self._heights = np.array(self.estimated_heights(), float)
        self._sum()
        self._measure_visible()

    def _sum(self) -> None:
        self._tops = np.concatenate([[0.0], np.cumsum(self._heights)])
        bar = self.verticalScrollBar()
        bar.setRange(0, max(int(self._tops[-1]) + 40 - self.viewport().height(), 0))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(36)

    def _made(self, row: int) -> _Row:
        text = self.shown_text(row)
        width = self.text_span()[1]
        looks = self.looks(row)
        made = self._rows.get(row)
        if made is None or made.text != text or made.width != width or made.looks != looks:
            made = self._rows[row] = self._lay_out(row, text, width, looks)
        return made

    def _lay_out(self, row: int, text: str, width: float, looks: Looks) -> _Row:
        letters = list(text)
        starts = self.line_starts(row, text)
        for start in starts:
            # In place of the space before the word, so that no offset changes.
            letters[start - 1] = LINE_SEPARATOR
        layout = QTextLayout("".join(letters), self._text_font)
        formats = [_format(*look) for look in looks]
        offset, composed = self.composed(row)
        if composed:
            layout.setPreeditArea(offset, composed)
            formats = [_format(offset, len(composed), "u")]
        if formats:
            layout.setFormats(formats)
        height = lay_out(layout, width, HANGING if starts else 0.0)
        return _Row(layout, text, width, height, looks)

    def _measure(self, row: int) -> bool:
        above, below, least = self.row_space(row)
        height = above + below + max(self._made(row).height, least)
        if abs(height - self._heights[row]) < 0.5:
            return False
        self._heights[row] = height
        self._sum()
        return True

    def _visible_rows(self) -> range:
        if not self.row_count():
            return range(0)
        first = self.row_at(0) or 0
        last = self.row_at(self.viewport().height())
        return range(first, (last if last is not None else first) + 1)

    def _measure_visible(self) -> None:
        state = (self._version, self._visible_rows(), self.text_span())
        if state == self._measured:
            return
        for _ in range(4):
            changed = [self._measure(row) for row in self._visible_rows()]
            if not any(changed):
                break
        self._measured = (self._version, self._visible_rows(), self.text_span())
        if len(self._rows) > 600:
            keep = self._visible_rows()
            self._rows = {row: made for row, made in self._rows.items() if row in keep}

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Lines break anew."""
        super().resizeEvent(event)
        place = self.row_at(0)
        if self.text_span()[1] == self._estimated_for:
            self._sum()
            return
        self._rows.clear()
        self._estimate()
        if place is not None and self.verticalScrollBar().value() > 0:
            self.verticalScrollBar().setValue(int(self._tops[place]))

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        """Rows in view, from the ground up."""
        self._measure_visible()
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint_ground(painter)
        for row in self._visible_rows():
            area, text = self.row_area(row), self.text_area(row)
            self.paint_row(painter, row, area, text)
            layout = self._made(row).layout
            painter.setPen(self.text_colour(row))
            layout.draw(painter, text.topLeft(), self._shaded(row))
            self.paint_over(painter, row)
        painter.end()

    def _shaded(self, row: int) -> list[QTextLayout.FormatRange]:
        selected = self.selected(row)
        if selected is None:
            return []
        part = QTextLayout.FormatRange()
        part.start, part.length = selected[0], selected[1] - selected[0]
        part.format.setBackground(QColor(colours.CHOSEN))
        return [part]


def _format(start: int, length: int, look: str) -> QTextLayout.FormatRange:
    part = QTextLayout.FormatRange()
    part.start, part.length = start, length
    part.format.setFontItalic("i" in look)
    part.format.setFontUnderline("u" in look)
    if "b" in look:
        part.format.setFontWeight(QFont.Weight.DemiBold)
    return part
