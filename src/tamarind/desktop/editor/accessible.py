"""What a sheet of text tells to screen readers: the row at the caret as text that can be edited."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QObject, QPoint, QRect
from PySide6.QtGui import QAccessible, QAccessibleTextCursorEvent, QAccessibleTextInterface
from PySide6.QtWidgets import QAccessibleWidget

from tamarind.desktop.editor.sheet import Sheet

_kept: list[QAccessibleWidget] = []
"""Qt holds these by their addresses; they must not be collected before it lets go of them."""


class _RowText(QAccessibleTextInterface):
    """The text of the caret's row; offsets are those of the row."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__()
        self._sheet = sheet

    def _row(self) -> int:
        return self._sheet.caret.place[0]

    def _whole(self) -> str:
        return self._sheet.shown.of(self._row()) if self._sheet.rows.row_count() else ""

    def characterCount(self) -> int:
        """How many letters the row has."""
        return len(self._whole())

    def text(self, start: int, end: int) -> str:
        """A part of the row."""
        return self._whole()[start:end]

    def cursorPosition(self) -> int:
        """Where in the row the caret is."""
        return self._sheet.caret.place[1]

    def setCursorPosition(self, position: int) -> None:
        """Move the caret within the row."""
        self._sheet.caret.set((self._row(), position))

    def selectionCount(self) -> int:
        """Whether something of the row is selected."""
        return int(self._sheet.caret.selected_in(self._row()) is not None)

    def selection(self, index: int) -> tuple[int, int]:
        """Return the first and last offset of a selection."""
        return self._sheet.caret.selected_in(self._row()) or (0, 0)

    def setSelection(self, index: int, start: int, end: int) -> None:
        """Select a part of the row."""
        row = self._row()
        self._sheet.caret.select((row, start), (row, end))

    def addSelection(self, start: int, end: int) -> None:
        """There is only one selection."""
        self.setSelection(0, start, end)

    def removeSelection(self, index: int) -> None:
        """Select nothing."""
        self._sheet.caret.set(self._sheet.caret.place)

    def characterRect(self, offset: int) -> QRect:
        """Where the caret is, which is all that is asked for in practice."""
        area = self._sheet.row_geometry.edge_area(self._sheet.caret.place).toAlignedRect()
        return area.translated(self._sheet.viewport().mapToGlobal(QPoint(0, 0)))

    def offsetAtPoint(self, point: QPoint) -> int:
        """The offset in the row at a point of the screen, -1 where another row is."""
        here = self._sheet.viewport().mapFromGlobal(point).toPointF()
        place = self._sheet.row_geometry.place_at(here)
        return place[1] if place is not None and place[0] == self._row() else -1

    def scrollToSubstring(self, start: int, end: int) -> None:
        """The row at the caret is in view."""
        self._sheet.row_geometry.show_row(self._row())

    def attributes(self, offset: int) -> tuple[str, int, int]:
        """All of a row looks the same to those who do not see it."""
        return "", 0, self.characterCount()


class _SheetAccess(QAccessibleWidget):
    def __init__(self, sheet: Sheet) -> None:
        super().__init__(sheet, QAccessible.Role.EditableText, sheet.accessibleName())
        self._sheet = sheet
        self._row_text = _RowText(sheet)
        sheet.caret.moved.connect(self._caret_moved)

    def text(self, kind: QAccessible.Text) -> str:
        """Name, the row at the caret as the value, and what is known of it."""
        if kind is QAccessible.Text.Value:
            return self._row_text.text(0, self._row_text.characterCount())
        if kind is QAccessible.Text.Description:
            return self._sheet.rows.description(self._sheet.caret.place)
        return super().text(kind)

    def interface_cast(self, kind: QAccessible.InterfaceType) -> Any:
        """The text of the row."""
        return self._row_text if kind is QAccessible.InterfaceType.TextInterface else None

    def _caret_moved(self) -> None:
        if QAccessible.isActive():
            moved = QAccessibleTextCursorEvent(self._sheet, self._sheet.caret.place[1])
            QAccessible.updateAccessibility(moved)


def tell_of_sheets() -> None:
    """Let Qt know how sheets are told; once for an application."""
    QAccessible.installFactory(_made)


def _made(name: str, thing: QObject | None) -> QAccessibleWidget | None:
    if not isinstance(thing, Sheet):
        return None
    _kept.append(_SheetAccess(thing))
    return _kept[-1]
