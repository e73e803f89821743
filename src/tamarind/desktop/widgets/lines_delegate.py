"""Rows of a list that are as high as the lines of their text."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QSize
from PySide6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

ROOM = 12


class LinesDelegate(QStyledItemDelegate):
    """For texts with line breaks, none of which is wrapped."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """As high as the text has lines."""
        lines = str(index.data()).count("\n") + 1
        hint = super().sizeHint(option, index)
        return QSize(hint.width(), lines * option.fontMetrics.lineSpacing() + ROOM)
