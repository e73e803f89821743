"""The list of excerpts, ordered by dragging or by key."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QDropEvent, QFont, QFontMetrics, QKeyEvent, QPainter
from PySide6.QtWidgets import (
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from tamarind.application.excerpting import Key
from tamarind.desktop.theme import colours, fonts
from tamarind.formats.timecode import clock
from tamarind.job.excerpts import Chosen

HEIGHT = 62
_KEY, _ABOUT, _WARNS = (Qt.ItemDataRole.UserRole + number for number in range(3))


class ExcerptList(QListWidget):
    """Rows are given by the keys of their excerpts."""

    chosen = Signal(object)
    moved = Signal(object, object)
    """An excerpt is to stand before another one, or at the end (None)."""
    removed = Signal(object)
    played = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Excerpts")
        self.setItemDelegate(_Delegate(self))
        self.setDragDropMode(QListWidget.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.currentItemChanged.connect(self._current_changed)
        self.itemDoubleClicked.connect(lambda item: self.played.emit(item.data(_KEY)))
        self._fills = False

    def show_excerpts(self, found: Sequence[tuple[Chosen, str]], current: Key | None) -> None:
        """Show excerpts, each with what is wrong with it, if anything."""
        self._fills = True
        self.clear()
        for number, (one, warning) in enumerate(found, 1):
            excerpt = one.excerpt
            begins = clock(excerpt.start, 0, hours=False)
            about = f"{one.recording.name} · {begins} · {excerpt.length / 1000:.1f} s"
            if excerpt.tags:
                about += f" · {', '.join(excerpt.tags)}"
            item = QListWidgetItem(f"{number}  {one.name}", self)
            item.setData(_KEY, one.key)
            item.setData(_ABOUT, warning or about)
            item.setData(_WARNS, bool(warning))
            item.setData(Qt.ItemDataRole.AccessibleTextRole,
                         f"{number}, {one.name}. {about}. {warning}")  # fmt: skip
            item.setToolTip(f"{one.name}\n{about}\n\n{one.quote or excerpt.quote}")
            item.setSizeHint(QSize(100, HEIGHT))
            if one.key == current:
                self.setCurrentItem(item)
        self._fills = False

    def choose(self, key: Key) -> None:
        """Select an excerpt without emitting a signal."""
        keys = self.keys()
        if key in keys and key != self.current_key():
            self._fills = True
            self.setCurrentRow(keys.index(key))
            self._fills = False

    def keys(self) -> list[Key]:
        """Return the keys of the excerpts in the order of their rows."""
        return [tuple(self.item(row).data(_KEY)) for row in range(self.count())]

    def current_key(self) -> Key | None:
        """Return the key of the selected excerpt."""
        item = self.currentItem()
        if item is None:
            return None
        recording, number = item.data(_KEY)
        return recording, number

    def move_current(self, step: int) -> None:
        """Move the selected excerpt up or down among those shown."""
        keys, key = self.keys(), self.current_key()
        if key is None:
            return
        place = keys.index(key)
        new = place + step
        if 0 <= new < len(keys):
            keys.insert(new, keys.pop(place))
            self.moved.emit(key, keys[new + 1] if new + 1 < len(keys) else None)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Play with Enter, remove with Delete, move with Ctrl and the arrows."""
        key = self.current_key()
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if control and event.key() in steps:
            self.move_current(steps[Qt.Key(event.key())])
        elif key is not None and event.key() == Qt.Key.Key_Delete:
            self.removed.emit(key)
        elif key is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.played.emit(key)
        else:
            super().keyPressEvent(event)

    def dropEvent(self, event: QDropEvent) -> None:
        """Reorder what was dragged within the list."""
        key = self.current_key()
        index = self.indexAt(event.position().toPoint())
        if key is None or event.source() is not self:
            return
        row = index.row()
        below = QListWidget.DropIndicatorPosition.BelowItem
        if row >= 0 and self.dropIndicatorPosition() == below:
            row += 1
        keys = self.keys()
        before = keys[row] if 0 <= row < len(keys) else None
        event.accept()
        if before != key:
            self.moved.emit(key, before)

    def _current_changed(self, item: QListWidgetItem | None) -> None:
        if not self._fills and item is not None:
            self.chosen.emit(item.data(_KEY))


class _Delegate(QStyledItemDelegate):
    """Paints the name, with the source below it."""

    def paint(
        self,
        painter: QPainter,
        option: QStyleOptionViewItem,
        index: QModelIndex | QPersistentModelIndex,
    ) -> None:
        painter.save()
        area = QRectF(option.rect).adjusted(3, 2, -3, -2)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.setPen(QColor(colours.LEAF))
            painter.setBrush(QColor(colours.LEAF_PALE))
            painter.drawRoundedRect(area, 7, 7)
        inside = area.adjusted(10, 6, -10, -6)
        half = inside.height() / 2
        plum = bool(index.data(_WARNS))
        for top, text, font, colour in (
            (0.0, index.data(), fonts.interface(15, QFont.Weight.Medium), colours.INK),
            (half, index.data(_ABOUT), fonts.interface(13), colours.PLUM if plum else colours.GREY),
        ):
            painter.setFont(font)
            painter.setPen(QColor(colour))
            line = QRectF(inside.left(), inside.top() + top, inside.width(), half)
            said = QFontMetrics(font).elidedText(
                str(text), Qt.TextElideMode.ElideRight, int(line.width())
            )
            painter.drawText(line, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, said)
        painter.restore()
