"""The dialog for a folder before it is added: which files would come, and which are left out."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.job.bringing import FoundFiles

MOST_KINDS = 6


class FolderDialog(Dialog):
    """Lists the files found, each with a tick."""

    def __init__(self, folder: Path, found: FoundFiles, parent: QWidget | None = None) -> None:
        super().__init__(f"Add “{folder.name}”", (560, 460), parent, f"In “{folder.name}”")
        self.list = QListWidget()
        self.list.setAccessibleName("Recordings in the folder")
        for path in [*found.media, *found.captions]:
            item = QListWidgetItem(str(path.relative_to(folder)), self.list)
            item.setData(Qt.ItemDataRole.UserRole, path)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked)
        self.list.itemChanged.connect(self._count)
        self.skipped = label(_skipped(found), "note", wrap=True)
        self.bring = button("", self.accept, "primary")
        self._count()
        self.body.addWidget(self.list, 1)
        self.body.addWidget(self.skipped)
        self.set_acts(self.bring)

    def chosen(self) -> list[Path]:
        """Return the ticked files."""
        items = [self.list.item(row) for row in range(self.list.count())]
        return [
            item.data(Qt.ItemDataRole.UserRole)
            for item in items
            if item.checkState() is Qt.CheckState.Checked
        ]

    def _count(self) -> None:
        count = len(self.chosen())
        self.bring.setText(f"Add {count}" if count else "Nothing to add")
        self.bring.setEnabled(count > 0)


def _skipped(found: FoundFiles) -> str:
    if not found.skipped:
        return "All files can be added."
    kinds = Counter(path.suffix.lower() or "no suffix" for path in found.skipped)
    named = ", ".join(f"{count} {kind}" for kind, count in kinds.most_common(MOST_KINDS))
    more = " and others" if len(kinds) > MOST_KINDS else ""
    return f"Not added because they are no sound, video or captions: {named}{more}."
