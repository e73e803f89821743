"""Move the caret by keys: letters, words, lines, pages, ends."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF
from PySide6.QtGui import QKeyEvent, QKeySequence, QTextLayout

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.content import Content, Place
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.editor.rowlayout import line_x
from tamarind.desktop.editor.shown import ShownText
from tamarind.transcript.direction import is_right_to_left

_Key = QKeySequence.StandardKey
_PAGE = 0.8
"""How much of the viewport a page is."""


class Movement:
    """Computes each step from where the caret is."""

    def __init__(
        self, content: Content, shown: ShownText, geometry: RowGeometry, caret: Caret
    ) -> None:
        self._content, self._shown = content, shown
        self._geometry, self._caret = geometry, caret

    def by_key(self, event: QKeyEvent) -> bool:
        """Move as a key says, selecting with Shift; return whether it is a movement key."""
        row, _ = self._caret.place
        bottom = self._content.row_count() - 1
        # Where text runs to the left, the key to the right goes back.
        ahead = -1 if self._shown.of(row) and is_right_to_left(self._shown.of(row)) else 1
        moves: tuple[tuple[_Key, _Key, Callable[[], Place]], ...] = (
            (_Key.MoveToNextChar, _Key.SelectNextChar, lambda: self.step(ahead)),
            (_Key.MoveToPreviousChar, _Key.SelectPreviousChar, lambda: self.step(-ahead)),
            (_Key.MoveToNextWord, _Key.SelectNextWord, lambda: self.step_word(ahead)),
            (_Key.MoveToPreviousWord, _Key.SelectPreviousWord, lambda: self.step_word(-ahead)),
            (_Key.MoveToStartOfLine, _Key.SelectStartOfLine, lambda: self._line_edge(False)),
            (_Key.MoveToEndOfLine, _Key.SelectEndOfLine, lambda: self._line_edge(True)),
            (_Key.MoveToStartOfDocument, _Key.SelectStartOfDocument, lambda: (0, 0)),
            (
                _Key.MoveToEndOfDocument,
                _Key.SelectEndOfDocument,
                lambda: (bottom, len(self._shown.of(bottom))),
            ),
        )
        for move, select, where in moves:
            if event.matches(move) or event.matches(select):
                self._caret.set(where(), keep_anchor=event.matches(select))
                return True
        up_and_down = (
            (_Key.MoveToNextLine, _Key.SelectNextLine, 1, self._line),
            (_Key.MoveToPreviousLine, _Key.SelectPreviousLine, -1, self._line),
            (_Key.MoveToNextPage, _Key.SelectNextPage, 1, self._page),
            (_Key.MoveToPreviousPage, _Key.SelectPreviousPage, -1, self._page),
        )
        for move, select, direction, go in up_and_down:
            if event.matches(move) or event.matches(select):
                go(direction, event.matches(select))
                return True
        return False

    def step(self, direction: int) -> Place:
        """Return the place one letter forward (1) or back (-1), across row ends."""
        row, offset = self._caret.place
        layout = self._geometry.layout(row)
        if direction > 0:
            if offset < len(self._shown.of(row)):
                return row, layout.nextCursorPosition(offset)
            return (row + 1, 0) if row + 1 < self._content.row_count() else self._caret.place
        if offset > 0:
            return row, layout.previousCursorPosition(offset)
        return (row - 1, len(self._shown.of(row - 1))) if row else self._caret.place

    def step_word(self, direction: int) -> Place:
        """Return the place one word forward or back."""
        row, offset = self._caret.place
        if offset == (len(self._shown.of(row)) if direction > 0 else 0):
            return self.step(direction)
        layout = self._geometry.layout(row)
        mode = QTextLayout.CursorMode.SkipWords
        if direction > 0:
            return row, layout.nextCursorPosition(offset, mode)
        return row, layout.previousCursorPosition(offset, mode)

    def _line_edge(self, end: bool) -> Place:
        row, offset = self._caret.place
        line = self._geometry.layout(row).lineForTextPosition(offset)
        if not line.isValid():
            return self._caret.place
        stop = line.textStart() + line.textLength()
        last_line = stop >= len(self._shown.of(row))
        return row, (stop if last_line else stop - 1) if end else line.textStart()

    def _goal(self) -> float:
        """Return the x in the viewport that Up and Down keep to."""
        if self._caret.goal is not None:
            return self._caret.goal
        row, offset = self._caret.place
        line = self._geometry.layout(row).lineForTextPosition(offset)
        x = line_x(line, offset) if line.isValid() else 0.0
        return self._geometry.column()[0] + x

    def _line(self, direction: int, select: bool) -> None:
        row, offset = self._caret.place
        goal = self._goal()
        layout = self._geometry.layout(row)
        line = layout.lineForTextPosition(offset)
        number = (line.lineNumber() if line.isValid() else 0) + direction
        if not 0 <= number < layout.lineCount():
            following = row + direction
            if not 0 <= following < self._content.row_count():
                edge = 0 if direction < 0 else len(self._shown.of(row))
                self._caret.set((row, edge), select)
                return
            row, layout = following, self._geometry.layout(following)
            number = 0 if direction > 0 else layout.lineCount() - 1
        position = layout.lineAt(number).xToCursor(goal - self._geometry.column()[0])
        self._caret.set((row, position), select, goal)

    def _page(self, direction: int, select: bool) -> None:
        goal, here = self._goal(), self._geometry.edge_area(self._caret.place)
        y = here.top() + direction * self._geometry.height_in_view() * _PAGE
        target = self._geometry.place_at(QPointF(goal, y))
        self._caret.set(target or self._caret.place, select)
