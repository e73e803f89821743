"""The dialog at the start for jobs that could not be saved in their place, or were damaged."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.job.rescue import Rescued, discard


class RescuedDialog(Dialog):
    """Lists copies; the chosen one is opened, or deleted."""

    open_asked = Signal(object)

    def __init__(self, found: Sequence[Rescued], parent: QWidget | None = None) -> None:
        super().__init__(
            "Work that could not be saved", (600, 360), parent, "Work that could not be saved"
        )
        self.body.addWidget(
            label(
                "Tamarind ended while these jobs could not be saved in their place. All your work"
                " is in these copies.",
                "note",
                wrap=True,
            )
        )
        self.list = QListWidget()
        self.list.setAccessibleName("Copies")
        for copy in found:
            when = datetime.fromtimestamp(copy.path.stat().st_mtime).strftime("%d %B, %H:%M")
            item = QListWidgetItem(f"{copy.origin.stem}   ·   {when}   ·   {copy.origin}")
            item.setData(Qt.ItemDataRole.UserRole, copy)
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.body.addWidget(self.list, 1)
        opens = button("Open", self._open, "primary")
        opens.setDefault(True)
        self.set_acts(opens, leave="Later", between=(button("Delete", self._delete),))

    def _chosen(self) -> Rescued | None:
        item = self.list.currentItem()
        copy = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        return copy if isinstance(copy, Rescued) else None

    def _open(self) -> None:
        copy = self._chosen()
        if copy is not None:
            self.accept()
            self.open_asked.emit(copy)

    def _delete(self) -> None:
        copy = self._chosen()
        if copy is not None:
            discard(copy.path)
            self.list.takeItem(self.list.currentRow())
        if not self.list.count():
            self.accept()


class ToldDialog(Dialog):
    """Shows several sentences about one thing."""

    def __init__(self, title: str, told: Sequence[str], parent: QWidget | None = None) -> None:
        super().__init__(title, (640, 380), parent, title)
        self.body.addWidget(label(told[0], "", wrap=True))
        rows = QListWidget()
        rows.setAccessibleName(title)
        rows.setWordWrap(True)
        rows.addItems(list(told[1:]))
        rows.setSelectionMode(QListWidget.SelectionMode.NoSelection)
        self.body.addWidget(rows, 1)
        fine = button("Good", self.accept, "primary")
        fine.setDefault(True)
        self.set_acts(fine, leave="Close")

    @classmethod
    def show_later(cls, title: str, told: Sequence[str], parent: QWidget) -> None:
        """Show the dialog over a window without waiting for it."""
        dialog = cls(title, told, parent)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()
