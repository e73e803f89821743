"""The dialog for models of the person's own: which there are, adding a folder, fetching by name."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, clear, label
from tamarind.speech.recognisers import fetching
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import look_into
from tamarind.speech.recognisers.shelf import Shelf

_WHAT = (
    "English and many other languages are heard by what comes with Tamarind. A model in a folder "
    "of your own can hear more of them, or hear better and more slowly. It may be in the built-in "
    "model’s format or in CTranslate2 format."
)


class ModelsDialog(Dialog):
    """Every change is kept at once; what is wrong with a folder is said in a sentence."""

    def __init__(self, shelf: Shelf, home: Path, parent: QWidget | None = None) -> None:
        super().__init__("Models for hearing", (560, 420), parent, "Models for hearing")
        self._shelf, self._home = shelf, home
        self._tasks = tasks_of(self, "fetching a model")
        listed = QWidget()
        listed.setObjectName("page")
        self._rows = QVBoxLayout(listed)
        self._rows.setContentsMargins(0, 0, 8, 0)
        self._rows.setSpacing(8)
        # However many there are, none is cut off.
        rows = QScrollArea()
        rows.setWidgetResizable(True)
        rows.setWidget(listed)
        self.note = label("", "note", wrap=True)
        self._names = QComboBox()
        self._names.setAccessibleName("Model to fetch")
        self._names.addItems(fetching.names())
        self._fetch = button("Fetch", self.fetch)
        fetch = QHBoxLayout()
        fetch.addWidget(label("Fetch a model by name, from the internet"))
        fetch.addWidget(self._names, 1)
        fetch.addWidget(self._fetch)
        self.body.addWidget(label(_WHAT, "note", wrap=True))
        self.body.addWidget(rows, 1)
        self.body.addWidget(self.note)
        if self._names.count():
            self.body.addLayout(fetch)
        self.set_acts(button("Add a folder…", self._choose, "primary"), leave="Close")
        self._show()

    def add(self, folder: Path) -> None:
        """Put a folder on the list, or say why not."""
        try:
            self.note.setText(f"{self._shelf.add(folder).path.name} is on the list.")
        except RecogniserError as error:
            self.note.setText(str(error))
        self._show()

    def remove(self, folder: Path) -> None:
        """Take a folder off the list; it stays on the disk."""
        try:
            self._shelf.remove(folder)
            self.note.setText(f"{folder.name} is off the list; its folder is still there.")
        except RecogniserError as error:
            self.note.setText(str(error))
        self._show()

    def fetch(self) -> None:
        """Fetch the chosen model in the background; the dialog can be closed meanwhile."""
        name = self._names.currentText()
        self._fetch.setEnabled(False)
        self.note.setText(f"Fetching “{name}”. Large models take long…")

        self._tasks.run(
            lambda: fetching.fetch(name, self._home).path, self._fetched, self._not_fetched
        )

    def _fetched(self, folder: Path) -> None:
        self._fetch.setEnabled(True)
        self.add(folder)

    def _not_fetched(self, sentence: str) -> None:
        self._fetch.setEnabled(True)
        self.note.setText(sentence)

    def _choose(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Folder with a model", str(Path.home()))
        if name:
            self.add(Path(name))

    def _show(self) -> None:
        clear(self._rows)
        for folder in self._shelf.folders():
            try:
                text = look_into(folder).sentence()
            except RecogniserError as error:
                text = str(error)
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(label(text, wrap=True), 1)
            remove = button("Take off", partial(self.remove, folder), "link")
            row.addWidget(remove, 0, Qt.AlignmentFlag.AlignTop)
            self._rows.addWidget(line)
        if not self._shelf.folders():
            self._rows.addWidget(label("No model of your own yet."))
        self._rows.addStretch(1)
