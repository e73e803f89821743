"""A list of rows in columns, some of which may have a tick."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QTreeWidget, QTreeWidgetItem

_CHECKED, _UNCHECKED = Qt.CheckState.Checked, Qt.CheckState.Unchecked


class RowList(QTreeWidget):
    """Rows are given by their number, from 0."""

    def __init__(self, name: str, headings: Sequence[str] = ()) -> None:
        """``name`` is read by screen readers."""
        super().__init__()
        self.setAccessibleName(name)
        self.setRootIsDecorated(False)
        if headings:
            self.setHeaderLabels(list(headings))
        else:
            self.setHeaderHidden(True)

    def items(self) -> list[QTreeWidgetItem]:
        """Return all rows."""
        found = (self.topLevelItem(row) for row in range(self.topLevelItemCount()))
        return [item for item in found if item is not None]

    def add(self, texts: Sequence[str], ticked: bool | None = None) -> QTreeWidgetItem:
        """Append a row; None means no tick."""
        item = QTreeWidgetItem(self, list(texts))
        if ticked is not None:
            item.setCheckState(0, _CHECKED if ticked else _UNCHECKED)
        return item

    def row(self) -> int | None:
        """Return the selected row."""
        item = self.currentItem()
        return None if item is None else self.indexOfTopLevelItem(item)

    def choose(self, row: int) -> None:
        """Select a row; an unknown one is ignored."""
        item = self.topLevelItem(row)
        if item is not None:
            self.setCurrentItem(item)

    def ticked(self) -> list[int]:
        """Return the ticked rows."""
        return [row for row, item in enumerate(self.items()) if item.checkState(0) is _CHECKED]

    def tick_all(self, ticked: bool) -> None:
        """Tick all rows, or none."""
        for item in self.items():
            item.setCheckState(0, _CHECKED if ticked else _UNCHECKED)
