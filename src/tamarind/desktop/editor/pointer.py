"""The mouse on a sheet: placing the caret, selecting, drag and drop."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QMimeData, QPointF, Qt
from PySide6.QtGui import (
    QDrag,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QHelpEvent,
    QMouseEvent,
)
from PySide6.QtWidgets import QAbstractScrollArea, QApplication, QToolTip

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.editing import Editing
from tamarind.desktop.editor.geometry import RowGeometry


class Pointer:
    """Handles the mouse events of a sheet's viewport."""

    def __init__(
        self, area: QAbstractScrollArea, geometry: RowGeometry, caret: Caret, editing: Editing
    ) -> None:
        self._area, self.geometry = area, geometry
        self._caret, self._editing = caret, editing
        self._pressed: QPointF | None = None

    def take(self, event: QEvent) -> bool:
        """Handle an event; return whether it was one of the mouse."""
        match event:
            case QHelpEvent() if event.type() is QEvent.Type.ToolTip:
                said = self.told_at(QPointF(event.pos()))
                QToolTip.showText(event.globalPos(), said, self._area)
            case QDropEvent() if event.type() is QEvent.Type.Drop:
                self._drop(event)
            case QDragEnterEvent():
                # Files are for the window.
                if not event.mimeData().hasText() or event.mimeData().hasUrls():
                    return False
                event.acceptProposedAction()
            case QDragMoveEvent():
                if self.geometry.place_at(event.position()) is not None:
                    event.acceptProposedAction()
            case QMouseEvent():
                return self._take_mouse(event)
            case _:
                return False
        return True

    def _take_mouse(self, event: QMouseEvent) -> bool:
        kind = event.type()
        if kind is QEvent.Type.MouseButtonPress:
            self.press(event)
        elif kind is QEvent.Type.MouseButtonRelease:
            self.release(event)
        elif kind is QEvent.Type.MouseMove:
            self.move(event)
        elif kind is QEvent.Type.MouseButtonDblClick:
            place = self.geometry.place_at(event.position())
            if place is not None:
                self._caret.select_word(place)
        else:
            return False
        return True

    def told_at(self, point: QPointF) -> str:
        """Return the tooltip of a point of the sheet."""
        return ""

    def press(self, event: QMouseEvent) -> None:
        """Move the caret to the pointer; with Shift extend the selection."""
        place = self.geometry.place_at(event.position())
        if event.button() != Qt.MouseButton.LeftButton or place is None:
            return
        extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._caret.is_selected(place) and not extend:
            self._pressed = event.position()
        else:
            self._caret.set(place, keep_anchor=extend)

    def release(self, event: QMouseEvent) -> None:
        """Clear the selection if it was pressed but not dragged."""
        if self._pressed is not None:
            place, self._pressed = self.geometry.place_at(self._pressed), None
            if place is not None:
                self._caret.set(place)

    def move(self, event: QMouseEvent) -> None:
        """Extend the selection, or drag the selected text."""
        if self._pressed is not None:
            moved = (event.position() - self._pressed).manhattanLength()
            if moved >= QApplication.startDragDistance():
                self._pressed = None
                self._drag()
            return
        if event.buttons() & Qt.MouseButton.LeftButton:
            place = self.geometry.place_at(event.position())
            if place is not None and place != self._caret.place:
                self._caret.set(place, keep_anchor=True)

    def _drag(self) -> None:
        data = QMimeData()
        data.setText(self._caret.selected_text())
        drag = QDrag(self._area)
        drag.setMimeData(data)
        drag.exec(Qt.DropAction.CopyAction | Qt.DropAction.MoveAction, Qt.DropAction.MoveAction)

    def _drop(self, event: QDropEvent) -> None:
        """Move the text there; with Ctrl, or from elsewhere, copy it."""
        place = self.geometry.place_at(event.position())
        if place is None:
            return
        own = event.source() is self._area and self._caret.selection() is not None
        if own and event.dropAction() == Qt.DropAction.MoveAction:
            self._editing.move_selection(place)
        else:
            self._editing.drop(place, event.mimeData().text())
        event.acceptProposedAction()
