"""Rows of a list that are as high as the lines of their text."""

from __future__ import annotations

from PySide6.QtCore import QAbstractItemModel, QEvent, QModelIndex, QPersistentModelIndex, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

ROOM = 12
Index = QModelIndex | QPersistentModelIndex


class LinesDelegate(QStyledItemDelegate):
    """For texts with line breaks, which are not wrapped; what has one line, and the tick, stands
    beside the first line."""

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        """Return a size as high as the lines of the text."""
        lines = str(index.data()).count("\n") + 1
        hint = super().sizeHint(option, index)
        return QSize(hint.width(), lines * option.fontMetrics.lineSpacing() + ROOM)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        """Paint tick and time at the top of the row, on a ground as high as all of it."""
        placed = _at_the_top(option, index)
        if placed is not option and option.widget is not None:
            ground = QStyle.PrimitiveElement.PE_PanelItemViewItem
            option.widget.style().drawPrimitive(ground, option, painter, option.widget)
        super().paint(painter, placed, index)

    def editorEvent(
        self,
        event: QEvent,
        model: QAbstractItemModel,
        option: QStyleOptionViewItem,
        index: Index,
    ) -> bool:
        """Let a click on the tick count where it is painted."""
        return super().editorEvent(event, model, _at_the_top(option, index), index)


def _at_the_top(option: QStyleOptionViewItem, index: Index) -> QStyleOptionViewItem:
    ticked = index.data(Qt.ItemDataRole.CheckStateRole) is not None
    if ticked and "\n" not in str(index.data()):
        option = QStyleOptionViewItem(option)
        option.rect.setHeight(min(option.rect.height(), option.fontMetrics.lineSpacing()))
    return option
