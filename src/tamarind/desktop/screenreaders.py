"""Tell screen readers about sheets, whose caret's row is an editable text, and about choices, which
have a label."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QObject, QPoint, QRect, Qt
from PySide6.QtGui import QAccessible, QAccessibleTextCursorEvent, QAccessibleTextInterface
from PySide6.QtWidgets import QAccessibleWidget, QComboBox, QLabel, QWidget
from shiboken6 import VoidPtr

from tamarind.desktop.editor.sheet import Sheet

_kept: list[QAccessibleWidget] = []
"""Qt holds these by their addresses; they must not be collected before it lets go of them."""


class _RowText(QAccessibleTextInterface):
    """The text of the caret's row; offsets are within the row."""

    def __init__(self, sheet: Sheet) -> None:
        super().__init__()
        self._sheet = sheet

    def _row(self) -> int:
        return self._sheet.caret.place[0]

    def _whole(self) -> str:
        return self._sheet.shown.of(self._row()) if self._sheet.rows.row_count() else ""

    def characterCount(self) -> int:
        """Return the number of characters in the row."""
        return len(self._whole())

    def text(self, start: int, end: int) -> str:
        """Return a part of the row."""
        return self._whole()[start:end]

    def cursorPosition(self) -> int:
        """Return the caret's offset in the row."""
        return self._sheet.caret.place[1]

    def setCursorPosition(self, position: int) -> None:
        """Move the caret within the row."""
        self._sheet.caret.set((self._row(), position))

    def selectionCount(self) -> int:
        """Return 1 if part of the row is selected, else 0."""
        return int(self._sheet.caret.selected_in(self._row()) is not None)

    def selection(self, index: int) -> tuple[int, int]:
        """Return the first and last offset of a selection."""
        return self._sheet.caret.selected_in(self._row()) or (0, 0)

    def setSelection(self, index: int, start: int, end: int) -> None:
        """Select a part of the row."""
        row = self._row()
        self._sheet.caret.select((row, start), (row, end))

    def addSelection(self, start: int, end: int) -> None:
        """Select a part of the row, since there is only one selection."""
        self.setSelection(0, start, end)

    def removeSelection(self, index: int) -> None:
        """Select nothing."""
        self._sheet.caret.set(self._sheet.caret.place)

    def characterRect(self, offset: int) -> QRect:
        """Return the caret's area, which is all that screen readers ask for in practice."""
        area = self._sheet.row_geometry.edge_area(self._sheet.caret.place).toAlignedRect()
        return area.translated(self._sheet.viewport().mapToGlobal(QPoint(0, 0)))

    def offsetAtPoint(self, point: QPoint) -> int:
        """Return the offset in the row at a point of the screen, or -1 for another row."""
        here = self._sheet.viewport().mapFromGlobal(point).toPointF()
        place = self._sheet.row_geometry.place_at(here)
        return place[1] if place is not None and place[0] == self._row() else -1

    def scrollToSubstring(self, start: int, end: int) -> None:
        """Do nothing, since the caret's row is in view."""
        self._sheet.row_geometry.show_row(self._row())

    def attributes(self, offset: int) -> tuple[str, int, int]:
        """Return one run without attributes."""
        return "", 0, self.characterCount()


class _SheetAccess(QAccessibleWidget):
    def __init__(self, sheet: Sheet) -> None:
        super().__init__(sheet, QAccessible.Role.EditableText, sheet.accessibleName())
        self._sheet = sheet
        self._row_text = _RowText(sheet)
        sheet.caret.moved.connect(self._caret_moved)

    def text(self, kind: QAccessible.Text) -> str:
        """Return the name, the caret's row as the value, and its description."""
        if kind is QAccessible.Text.Value:
            return self._row_text.text(0, self._row_text.characterCount())
        if kind is QAccessible.Text.Description:
            return self._sheet.rows.description(self._sheet.caret.place)
        return super().text(kind)

    def interface_cast(self, kind: QAccessible.InterfaceType) -> Any:
        """Return the text interface, or that of the widget's actions."""
        if kind is QAccessible.InterfaceType.TextInterface:
            return self._row_text
        if kind is QAccessible.InterfaceType.ActionInterface:
            return super().interface_cast(kind)
        # Where Qt asks for an address, None ends the program.
        return VoidPtr(0)

    def _caret_moved(self) -> None:
        if QAccessible.isActive():
            moved = QAccessibleTextCursorEvent(self._sheet, self._sheet.caret.place[1])
            QAccessible.updateAccessibility(moved)


def tell_screen_readers() -> None:
    """Register our interfaces with Qt, once for an application."""
    QAccessible.installFactory(_made)


def _made(name: str, thing: QObject | None) -> QAccessibleWidget | None:
    if isinstance(thing, QComboBox):
        _label(thing)
    if not isinstance(thing, Sheet):
        return None
    _kept.append(_SheetAccess(thing))
    return _kept[-1]


def _label(box: QComboBox) -> None:
    """Give a choice a label, since on Linux its own name is what is chosen. The one beside it is
    taken if it says the same, else one that is not shown."""
    around, name = box.parentWidget(), box.accessibleName()
    if around is None or not name:
        return
    line = box.lineEdit()
    if line is not None:
        line.setAccessibleName(name)
    beside = around.findChildren(QLabel, options=Qt.FindChildOption.FindDirectChildrenOnly)
    if any(label.buddy() is box for label in beside):
        return
    same = (one for one in beside if one.text().casefold() == name.casefold())
    label = next(same, None) or _hidden_label(name, around)
    label.setBuddy(box)


def _hidden_label(name: str, around: QWidget) -> QLabel:
    label = QLabel(name.replace("&", "&&"), around)
    label.hide()
    return label
