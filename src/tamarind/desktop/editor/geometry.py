"""Where the rows of a sheet are, and the places in their text.

Rows are laid out only when they come into view, so that ten thousand of them open at once.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QTextLayout
from PySide6.QtWidgets import QAbstractScrollArea

from tamarind.desktop.editor.content import Content, Looks, Place
from tamarind.desktop.editor.rowlayout import LINE_SEPARATOR, LINE_SPACING, lay_out, line_x
from tamarind.desktop.editor.shown import ShownText

HANGING = 26.0
"""How far a line that is too long for the column is set in where it goes on."""

BELOW_ALL = 40
MOST_LAID_OUT = 600


@dataclass(slots=True)
class _Row:
    """A row's finished layout, and what it was made from."""

    layout: QTextLayout
    text: str
    width: float
    height: float
    looks: Looks


class RowGeometry:
    """Lays out rows; all areas and points are in viewport coordinates."""

    def __init__(
        self, area: QAbstractScrollArea, content: Content, shown: ShownText, font: QFont
    ) -> None:
        self._area, self._content, self._shown = area, content, shown
        self.font = font
        self.more_room: Callable[[int], float] = lambda _row: 0.0
        """Room below a row for what is opened there."""
        self.composed_at: Callable[[int], int | None] = lambda _row: None
        """Where in a row an input method is composing."""
        self._rows: dict[int, _Row] = {}
        self._heights = np.zeros(0)
        self._tops = np.zeros(1)
        self._letters_a_line = self._line_height = 1.0
        self._estimated_for = 0.0
        self._version = 0
        self._measured: object = None

    # What has changed

    def reset(self) -> None:
        """Lay out other contents."""
        self._rows.clear()
        self._estimate()

    def refresh(self, first: int, old_last: int, new_last: int) -> None:
        """Replace the rows [``first``, ``old_last``) by those up to ``new_last``."""
        moved = new_last - old_last
        self._version += 1
        self._rows = {
            row if row < first else row + moved: made
            for row, made in self._rows.items()
            if row < first or row >= old_last
        }
        if moved:
            heights = [self._guess(row) for row in range(first, new_last)]
            self._heights = np.concatenate(
                [self._heights[:first], heights, self._heights[old_last:]]
            )
            self._sum()
        self.measure_visible()

    def forget(self, row: int | None = None) -> None:
        """Drop the layout of a row, or of all, after formats have changed but not the text."""
        self._version += 1
        if row is None:
            self._rows.clear()
        else:
            self._rows.pop(row, None)

    def set_font(self, font: QFont) -> None:
        """Set the font of the text."""
        self.font = font
        self.reset()

    def resize(self) -> None:
        """Break lines for another viewport size; the first row in view stays there."""
        place = self.row_at(0)
        if self.column()[1] == self._estimated_for:
            self._sum()
            return
        self.reset()
        bar = self._area.verticalScrollBar()
        if place is not None and bar.value() > 0:
            bar.setValue(int(self._tops[place]))

    # Where things are

    def column(self) -> tuple[float, float]:
        """Return left edge and width of the text."""
        return self._content.column(self._area.viewport().width())

    def show_row(self, row: int) -> None:
        """Scroll as little as needed to have a row in view, with some space around it."""
        if not 0 <= row < self._content.row_count():
            return
        self.measure(row)
        bar, height = self._area.verticalScrollBar(), self._area.viewport().height()
        room = min(60, height // 6)
        top, bottom = self._tops[row], self._tops[row + 1]
        if top - room < bar.value():
            bar.setValue(int(top - room))
        elif bottom + room > bar.value() + height:
            bar.setValue(int(min(bottom + room - height, top - room)))
        self.measure_visible()

    def row_area(self, row: int) -> QRectF:
        """Return the area of a row."""
        top = self._tops[row] - self._area.verticalScrollBar().value()
        return QRectF(0, top, self._area.viewport().width(), self._heights[row])

    def text_area(self, row: int) -> QRectF:
        """Return the area of a row's text."""
        area = self.row_area(row)
        above, below, _ = self._content.space(row)
        below += self.more_room(row)
        left, width = self.column()
        return QRectF(left, area.top() + above, width, area.height() - above - below)

    def span_area(self, row: int, span: tuple[int, int], text: QRectF) -> QRectF:
        """Return the area of letters that stand on one line; ``text`` is the row's text area."""
        return span_in(self.layout(row), span, text)

    def edge_area(self, place: Place) -> QRectF:
        """Return the area of the edge before a letter, as wide as a caret."""
        row, offset = place
        area = self.text_area(row)
        if self.composed_at(row) is not None:
            offset += len(self._shown.composed)
        line = self.layout(row).lineForTextPosition(offset)
        if not line.isValid():
            return QRectF(area.left(), area.top(), 2, QFontMetricsF(self.font).height())
        return QRectF(area.left() + line_x(line, offset), area.top() + line.y(), 2, line.height())

    def row_at(self, y: float) -> int | None:
        """Return the row at a height; the first or last beyond the ends."""
        count = self._content.row_count()
        if not count:
            return None
        at = y + self._area.verticalScrollBar().value()
        return min(max(int(self._tops.searchsorted(at, "right")) - 1, 0), count - 1)

    def place_at(self, point: QPointF) -> Place | None:
        """Return the place in the text nearest to a point."""
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

    def visible_rows(self) -> range:
        """Return the rows in view."""
        first = self.row_at(0)
        if first is None:
            return range(0)
        last = self.row_at(self._area.viewport().height())
        return range(first, (last if last is not None else first) + 1)

    def height_in_view(self) -> int:
        """Return the height of the viewport."""
        return self._area.viewport().height()

    def update_row(self, row: int) -> None:
        """Repaint a row."""
        if 0 <= row < len(self._heights):
            self._area.viewport().update(self.row_area(row).toAlignedRect())

    # Layout

    @property
    def laid_out(self) -> int:
        """Return how many rows have a layout now."""
        return len(self._rows)

    def layout(self, row: int) -> QTextLayout:
        """Return the layout of a row's text."""
        return self._made(row).layout

    def measure(self, row: int) -> None:
        """Compute a row's true height."""
        if self._measure(row):
            self._sum()

    def _measure(self, row: int) -> bool:
        """Compute a row's true height; return whether it has changed."""
        above, below, least = self._content.space(row)
        below += self.more_room(row)
        # Whole pixels, so that a row may be copied from a picture wherever it stands.
        height = ceil(above + below + max(self._made(row).height, least))
        if height == self._heights[row]:
            return False
        self._heights[row] = height
        return True

    def measure_visible(self) -> None:
        """Compute the true heights of the rows in view, which may bring other rows into it."""
        state = (self._version, self.visible_rows(), self.column())
        if state == self._measured:
            return
        for _ in range(4):
            changed = [self._measure(row) for row in self.visible_rows()]
            if not any(changed):
                break
            self._sum()
        self._measured = (self._version, self.visible_rows(), self.column())
        if len(self._rows) > MOST_LAID_OUT:
            keep = self.visible_rows()
            self._rows = {row: made for row, made in self._rows.items() if row in keep}

    def _guess(self, row: int) -> float:
        guessed = self._content.height(row, self._letters_a_line, self._line_height)
        return ceil(guessed + self.more_room(row))

    def _estimate(self) -> None:
        self._version += 1
        metrics = QFontMetricsF(self.font)
        width = self.column()[1]
        self._letters_a_line = max(width / max(metrics.averageCharWidth(), 1), 8)
        self._line_height = metrics.height() * LINE_SPACING
        self._estimated_for = width
        guessed = self._content.heights(self._letters_a_line, self._line_height)
        self._heights = np.ceil(np.array(guessed, float))
        self._sum()
        self.measure_visible()

    def _sum(self) -> None:
        self._tops = np.concatenate([[0.0], np.cumsum(self._heights)])
        bar, height = self._area.verticalScrollBar(), self._area.viewport().height()
        bar.setRange(0, max(int(self._tops[-1]) + BELOW_ALL - height, 0))
        bar.setPageStep(height)
        bar.setSingleStep(36)

    def _made(self, row: int) -> _Row:
        text = self._shown.of(row)
        width = self.column()[1]
        looks = self._content.looks(row, text)
        made = self._rows.get(row)
        if made is None or made.text != text or made.width != width or made.looks != looks:
            made = self._rows[row] = self._lay_out(row, text, width, looks)
        return made

    def _lay_out(self, row: int, text: str, width: float, looks: Looks) -> _Row:
        letters = list(text)
        starts = self._content.line_starts(row, text)
        for start in starts:
            # In place of the space before the word, so that no offset changes.
            letters[start - 1] = LINE_SEPARATOR
        layout = QTextLayout("".join(letters), self.font)
        formats = [_format(*look) for look in looks]
        composed, offset = self._shown.composed, self.composed_at(row)
        if composed and offset is not None:
            layout.setPreeditArea(offset, composed)
            formats = [_format(offset, len(composed), "u")]
        if formats:
            layout.setFormats(formats)
        height = lay_out(layout, width, HANGING if starts else 0.0)
        return _Row(layout, text, width, height, looks)


def letters_seen(painter: QPainter, layout: QTextLayout, text: QRectF) -> tuple[int, int]:
    """Return the first and last letter of a row that are in view, since a paragraph may be higher
    than the view."""
    if not painter.hasClipping():
        return 0, len(layout.text())
    seen = painter.clipBoundingRect()
    lines = [layout.lineAt(number) for number in range(layout.lineCount())]
    shown = [
        line
        for line in lines
        if text.top() + line.y() < seen.bottom()
        and text.top() + line.y() + line.height() * LINE_SPACING > seen.top()
    ]
    if not shown:
        return 0, 0
    return shown[0].textStart(), shown[-1].textStart() + shown[-1].textLength()


def span_in(layout: QTextLayout, span: tuple[int, int], text: QRectF) -> QRectF:
    """Return the area of letters that stand on one line, from a row's layout and text area."""
    line = layout.lineForTextPosition(span[0])
    left, right = sorted((line_x(line, span[0]), line_x(line, span[1])))
    return QRectF(text.left() + left, text.top() + line.y(), right - left, line.height())


def _format(start: int, length: int, look: str) -> QTextLayout.FormatRange:
    part = QTextLayout.FormatRange()
    part.start, part.length = start, length
    part.format.setFontItalic("i" in look)
    part.format.setFontUnderline("u" in look)
    if "b" in look:
        part.format.setFontWeight(QFont.Weight.DemiBold)
    return part
