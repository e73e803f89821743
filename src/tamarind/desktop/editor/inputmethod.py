"""Text composed by an input method at the caret of a sheet."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QInputMethodEvent

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.editing import Editing
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.editor.shown import ShownText

_ASKED = Qt.InputMethodQuery


class InputMethod:
    """Shows what is composed in place; inserts what is committed."""

    def __init__(
        self, shown: ShownText, geometry: RowGeometry, caret: Caret, editing: Editing
    ) -> None:
        self._shown, self._geometry = shown, geometry
        self._caret, self._editing = caret, editing
        geometry.composed_at = self._composed_at

    def take(self, event: QInputMethodEvent) -> None:
        """Handle an event of the input method."""
        composed = event.preeditString()
        if event.commitString():
            self._shown.composed = ""
            self._editing.insert(event.commitString())
        self._shown.composed = composed
        self._geometry.forget(self._caret.place[0])

    def answer(self, query: Qt.InputMethodQuery) -> object:
        """Answer a query of the input method; None for what any widget answers."""
        row, offset = self._caret.place
        anchor = self._caret.anchor
        if query == _ASKED.ImCursorRectangle:
            return self._geometry.edge_area(self._caret.place)
        if query == _ASKED.ImSurroundingText:
            return self._shown.of(row)
        if query == _ASKED.ImCursorPosition:
            return offset
        if query == _ASKED.ImAnchorPosition:
            return anchor[1] if anchor[0] == row else offset
        if query == _ASKED.ImCurrentSelection:
            return self._caret.selected_text()
        return None

    def _composed_at(self, row: int) -> int | None:
        return self._caret.place[1] if row == self._caret.place[0] else None
