"""What would be changed, before and after, to be taken as a whole or one by one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.widgets.parts import button, label


@dataclass(frozen=True, slots=True)
class Change:
    """A change at a place of the text, and the text that it concerns."""

    place: int
    before: str
    after: str
    text: str


class ChangesDialog(QDialog):
    """A row for each change, with a tick."""

    def __init__(
        self, title: str, changes: Sequence[Change], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(760, 480)
        self._rows = QTreeWidget()
        self._rows.setAccessibleName(title)
        self._rows.setRootIsDecorated(False)
        self._rows.setHeaderLabels(["before", "after", "text"])
        for column in (0, 1):
            mode = QHeaderView.ResizeMode.ResizeToContents
            self._rows.header().setSectionResizeMode(column, mode)
        for change in changes:
            row = QTreeWidgetItem(self._rows, [change.before, change.after, change.text])
            row.setData(0, Qt.ItemDataRole.UserRole, change.place)
            row.setCheckState(0, Qt.CheckState.Checked)
        self._rows.itemChanged.connect(self._count)
        self._take = button("", self.accept, "primary")
        self._count()
        acts = QHBoxLayout()
        acts.addWidget(button("Leave all as it is", self.reject))
        acts.addStretch(1)
        acts.addWidget(self._take)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 16)
        column.setSpacing(10)
        column.addWidget(label(title, "title"))
        column.addWidget(self._rows, 1)
        column.addLayout(acts)

    def chosen(self) -> list[int]:
        """The places whose change is to be made."""
        rows = map(self._rows.topLevelItem, range(self._rows.topLevelItemCount()))
        return [
            row.data(0, Qt.ItemDataRole.UserRole)
            for row in rows
            if row.checkState(0) is Qt.CheckState.Checked
        ]

    def _count(self) -> None:
        count = len(self.chosen())
        self._take.setText("Make 1 change" if count == 1 else f"Make {count} changes")
        self._take.setEnabled(count > 0)
