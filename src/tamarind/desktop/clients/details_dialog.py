"""The dialog for what documents say of recordings besides their texts."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QGridLayout, QLineEdit, QPlainTextEdit, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.job.about import DATE, TITLE, fields_in, lines_of


class DetailsDialog(Dialog):
    """Of several recordings date and fields are set together, and each keeps its title."""

    def __init__(self, session: Session, keys: Sequence[int], parent: QWidget | None) -> None:
        super().__init__("Document details", (520, 400), parent, "Document details")
        self._session, self._keys = session, list(keys)
        details = session.clients.details(self._keys[0])
        recording = session.recordings.get(self._keys[0])
        is_one = len(self._keys) == 1
        whose = recording.name if is_one else f"{len(self._keys)} recordings"
        self.body.addWidget(label(whose, "note", wrap=True))
        self.title = QLineEdit(details.pop(TITLE, "") if is_one else "")
        self.title.setPlaceholderText(recording.name if is_one else "each its own")
        self.title.setEnabled(is_one)
        details.pop(TITLE, None)
        self.date = QLineEdit(details.pop(DATE, ""))
        self.date.setPlaceholderText("the day of writing")
        self.lines = QPlainTextEdit(lines_of(details))
        self.lines.setTabChangesFocus(True)
        self.lines.setPlaceholderText("Case: 12/26\nPresent: Ann Hale, Joan Moss")
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(9)
        for row, (name, field) in enumerate(
            (("Title", self.title), ("Date", self.date), ("Header", self.lines))
        ):
            field.setAccessibleName(name)
            grid.addWidget(label(name), row, 0)
            grid.addWidget(field, row, 1)
        self.body.addLayout(grid, 1)
        self.body.addWidget(
            label("One field on each line, “Name: value”; empty ones are left out.", "note")
        )
        self.go = button("Use", self.accept, "primary")
        self.go.setDefault(True)
        self.set_acts(self.go)

    def keep(self) -> None:
        """Keep what was entered with the recordings."""
        fields = fields_in(self.lines.toPlainText())
        date = self.date.text().strip()
        for key in self._keys:
            title = self._session.clients.details(key).get(TITLE, "")
            if len(self._keys) == 1:
                title = " ".join(self.title.text().split())
            said = {TITLE: title, DATE: date}
            self._session.clients.set_details(
                key, {name: value for name, value in said.items() if value} | fields
            )


def ask_details(session: Session, keys: Sequence[int], parent: QWidget) -> None:
    """Ask for the details of recordings."""
    dialog = DetailsDialog(session, keys, parent)
    if dialog.exec():
        dialog.keep()
