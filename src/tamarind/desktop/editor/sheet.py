"""A sheet of text in rows, edited like one text."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QFont,
    QInputMethodEvent,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QTextLayout,
)
from PySide6.QtWidgets import QAbstractScrollArea, QSizePolicy

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.content import Content, Writer
from tamarind.desktop.editor.editing import Editing
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.editor.inputmethod import InputMethod
from tamarind.desktop.editor.layers import CHANGING, EDGE, CaretLayer, Layer, paint_paper
from tamarind.desktop.editor.movement import Movement
from tamarind.desktop.editor.pointer import Pointer
from tamarind.desktop.editor.rowpictures import RowPictures
from tamarind.desktop.editor.shown import ShownText
from tamarind.desktop.theme import colours

AHEAD = 6


class Sheet(QAbstractScrollArea):
    """Combines the parts of the editor and gives each its events."""

    menu_asked = Signal(QPoint)
    """A context menu is wanted at a point of the screen; the caret is where it is about."""

    def __init__(
        self, content: Content, shown: ShownText, writer: Writer, font: QFont, name: str
    ) -> None:
        """``shown`` is the content's text; ``name`` is what a screen reader says of the sheet."""
        super().__init__()
        self.rows = content
        self.shown = shown
        self.row_geometry = geometry = RowGeometry(self, content, shown, font)
        self.caret = caret = Caret(content, shown, geometry, self)
        self.movement = Movement(content, shown, geometry, caret)
        self.editing = Editing(
            content, writer, shown, geometry=geometry, caret=caret, movement=self.movement
        )
        self.pointer = Pointer(self, geometry, caret, self.editing)
        self.under: list[Layer] = []
        self.over: list[Layer] = []
        self._pictures = RowPictures()
        self._ahead = QTimer(self, singleShot=True, interval=0)
        self._ahead.timeout.connect(self._draw_ahead)
        self._input = InputMethod(shown, geometry, caret, self.editing)
        self._caret_layer = CaretLayer(self, geometry, caret)
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_InputMethodEnabled)
        self.setAcceptDrops(True)
        self.viewport().setCursor(Qt.CursorShape.IBeamCursor)
        self.verticalScrollBar().valueChanged.connect(self.viewport().update)
        caret.moved.connect(self._caret_moved)

    # What has changed

    def reset(self) -> None:
        """Show other contents, from their start."""
        self.shown.leave()
        self.caret.reset()
        self.row_geometry.reset()
        self.verticalScrollBar().setValue(0)
        self.viewport().update()

    def refresh(self, first: int, old_last: int, new_last: int) -> None:
        """Replace the rows [``first``, ``old_last``) by those up to ``new_last``."""
        self.shown.arrive()
        self.row_geometry.refresh(first, old_last, new_last)
        self.caret.keep_within()
        self.viewport().update()

    def restyle(self) -> None:
        """Repaint after formats have changed but not the texts."""
        self.row_geometry.forget()
        self.viewport().update()

    def set_text_font(self, font: QFont) -> None:
        """Set the font of the text."""
        self.row_geometry.set_font(font)
        self.viewport().update()

    def _caret_moved(self) -> None:
        self.updateMicroFocus()
        self.viewport().update()

    # Events

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Break lines for the new width."""
        super().resizeEvent(event)
        self.row_geometry.resize()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Move and edit as in any text; pass all other keys on to the window."""
        is_ours = self.rows.row_count() and (
            self.movement.by_key(event) or self.editing.by_key(event)
        )
        event.setAccepted(bool(is_ours))

    def viewportEvent(self, event: QEvent) -> bool:
        """Handle the mouse and drag and drop."""
        return self.pointer.take(event) or super().viewportEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Move the caret to what was pressed, unless that is selected, and ask for a menu."""
        if not self.rows.row_count():
            return
        point = event.globalPos()
        if event.reason() == QContextMenuEvent.Reason.Keyboard:
            caret = self.row_geometry.edge_area(self.caret.place)
            point = self.viewport().mapToGlobal(caret.bottomLeft().toPoint())
        else:
            place = self.row_geometry.place_at(QPointF(event.pos()))
            if place is not None and not self.caret.is_selected(place):
                self.caret.set(place)
        self.menu_asked.emit(point)

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Show the caret."""
        self._caret_layer.wake()
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Hide the caret."""
        self._caret_layer.rest()
        self.viewport().update()

    def inputMethodEvent(self, event: QInputMethodEvent) -> None:
        """Handle composing at the caret."""
        if self.rows.row_count():
            self._input.take(event)
            self.updateMicroFocus()
            self.viewport().update()

    def inputMethodQuery(self, query: Qt.InputMethodQuery) -> object:
        """Answer what an input method asks of the text around the caret."""
        answer = self._input.answer(query) if self.rows.row_count() else None
        return super().inputMethodQuery(query) if answer is None else answer

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the rows in view, from the ground up."""
        geometry = self.row_geometry
        geometry.measure_visible()
        view = QRectF(self.viewport().rect())
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_paper(painter, view)
        painter.setClipRect(view.adjusted(EDGE, 1, -EDGE, 0))
        dirty, shown = QRectF(event.rect()), set[object]()
        for row in geometry.visible_rows():
            area = geometry.row_area(row)
            layout = geometry.layout(row)
            shown.add(layout)
            if not area.intersects(dirty):
                continue
            paint = partial(self._paint_row, row)
            state = self._state(row)
            if state is None or not self._pictures.draw(painter, layout, state, area, paint):
                paint(painter, area)
        self._pictures.drop_all_but(shown, view, self.viewport().devicePixelRatioF())
        painter.end()
        self._ahead.start()

    def _draw_ahead(self) -> None:
        """Draw rows below those in view when idle, one at a time, for whoever scrolls next."""
        geometry, ratio = self.row_geometry, self.viewport().devicePixelRatioF()
        if ratio != int(ratio) or not self.isVisible():
            return
        seen = geometry.visible_rows()
        for row in range(seen.stop, min(seen.stop + AHEAD, self.rows.row_count())):
            geometry.measure(row)
            state = self._state(row)
            if state is None:
                continue
            area, layout = geometry.row_area(row), geometry.layout(row)
            if self._pictures.prepare(layout, state, area, ratio, partial(self._paint_row, row)):
                self._ahead.start()
                return

    def _state(self, row: int) -> tuple[object, ...] | None:
        """Return everything that the look of a row depends on; None where it changes all the
        time."""
        if row == self.caret.place[0]:
            return None
        states = [layer.state(row) for layer in (*self.under, *self.over)]
        if CHANGING in states:
            return None
        return (*states, self.rows.ink(row).rgb(), self.caret.selected_in(row))

    def _paint_row(self, row: int, painter: QPainter, area: QRectF) -> None:
        """Paint a row from the ground up, at any place."""
        geometry = self.row_geometry
        text = geometry.text_area(row)
        text.translate(0, area.top() - geometry.row_area(row).top())
        for layer in self.under:
            layer.paint(painter, row, area, text)
        painter.setPen(self.rows.ink(row))
        geometry.layout(row).draw(painter, text.topLeft(), self._shaded(row))
        for layer in self.over:
            layer.paint(painter, row, area, text)
        self._caret_layer.paint(painter, row, area, text)

    def _shaded(self, row: int) -> list[QTextLayout.FormatRange]:
        selected = self.caret.selected_in(row)
        if selected is None:
            return []
        part = QTextLayout.FormatRange()
        part.start, part.length = selected[0], selected[1] - selected[0]
        part.format.setBackground(QColor(colours.CHOSEN))
        return [part]
