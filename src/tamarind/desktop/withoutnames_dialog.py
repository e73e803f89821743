"""The dialog that takes names out of a copy of the job: what was found, what stands instead, what
is heard."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QFileDialog, QGridLayout, QLineEdit, QWidget

from tamarind.application.session import Session
from tamarind.desktop.export.queue_strip import ExportQueueStrip
from tamarind.desktop.openpath import open_path
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.desktop.widgets.row_list import RowList
from tamarind.job.keylist import SUFFIX
from tamarind.job.settings import GLOSSARY, KEY_LIST
from tamarind.job.withoutnames import WithoutNames, names_in, names_left
from tamarind.language.identifying import Identifier, Tells
from tamarind.language.takingout import KeyEntry, entries_of
from tamarind.picture.covering import Cover

COVERS = {"silence": Cover.SILENCE, "a tone": Cover.TONE}
IN_JOB, IN_FILE = "in this job", "in a file beside the copy"
_REPLACEMENT, _COUNT = 2, 3


class WithoutNamesDialog(Dialog):
    """The job and its recordings stay as they are. A replacement is edited by a double click."""

    def __init__(self, session: Session, parent: QWidget | None) -> None:
        super().__init__("Copy without names", (820, 620), parent, "Copy without names")
        self._session = session
        self._found: list[Identifier] = []
        self._order: WithoutNames | None = None
        self._checks = tasks_of(self, "looking for names", latest_only=False)
        self.body.addWidget(
            label(
                "Untick what may stay. The same name has the same replacement in all recordings,"
                " their translations, and the names of their files; in the copies of sound and"
                " video it cannot be heard.",
                "note",
                wrap=True,
            )
        )
        self.rows = RowList("Names", ("kind", "found", "replaced by", "times"))
        self.rows.itemDoubleClicked.connect(self._edit)
        self.rows.itemChanged.connect(lambda _item, _column: self._follow())
        self.body.addWidget(self.rows, 1)
        self.cover = QComboBox()
        self.cover.addItems(list(COVERS))
        self.key = QComboBox()
        self.key.addItems([IN_JOB, IN_FILE])
        self.password = QLineEdit()
        self.password.setEchoMode(QLineEdit.EchoMode.Password)
        self.password.setPlaceholderText("no password")
        self.key.currentTextChanged.connect(lambda _text: self._follow())
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        for column, (name, field) in enumerate(
            (("Heard instead", self.cover), ("Key list", self.key), ("Password", self.password))
        ):
            field.setAccessibleName(name)
            grid.addWidget(label(name), 0, column)
            grid.addWidget(field, 1, column)
            grid.setColumnStretch(column, 1)
        self.body.addLayout(grid)
        self.strip = ExportQueueStrip(session.export_queue)
        self.strip.hide()
        self.body.addWidget(self.strip)
        self.said = label("", "note", wrap=True)
        self.body.addWidget(self.said)
        self.folder = button("Show in folder", self._show_folder)
        self.folder.hide()
        self.go = button("Copy…", self._ask, "primary")
        self.go.setDefault(True)
        session.export_queue.changed.connect(self._follow)
        self.finished.connect(self._leave)
        self.set_acts(self.folder, self.go, leave="Close")
        self._look()

    def _look(self) -> None:
        """Look for names in all texts, in the background."""
        session = self._session
        texts = [session.texts.transcript(one.id) for one in session.recordings.all()]
        terms = [term.text for term in session.settings.get(GLOSSARY).terms]
        self._say("Looking for names…")
        self.go.setEnabled(False)
        self._checks.run(lambda: names_in(texts, terms), self.show_found)

    def show_found(self, found: list[Identifier]) -> None:
        """List what was found, the sure ones ticked."""
        self._found = found
        self.rows.clear()
        for one, entry in zip(found, entries_of(found), strict=True):
            row = (one.tells.value, ", ".join(one.forms), entry.replacement, str(one.count))
            self.rows.add(row, one.sure)
        for column in range(self.rows.columnCount()):
            self.rows.resizeColumnToContents(column)
        self.rows.setColumnWidth(0, self.rows.columnWidth(0) + 24)
        self._say("" if found else "Nothing was found that tells who somebody is.")
        self._follow()

    def entries(self) -> tuple[KeyEntry, ...]:
        """Return what is ticked, with its replacements."""
        items = self.rows.items()
        return tuple(
            KeyEntry(
                Tells(items[row].text(0)),
                self._found[row].forms,
                items[row].text(_REPLACEMENT).strip() or "…",
            )
            for row in self.rows.ticked()
        )

    def _edit(self, item: object, _column: int) -> None:
        row = self.rows.row()
        if row is not None:
            found = self.rows.items()[row]
            found.setFlags(found.flags() | Qt.ItemFlag.ItemIsEditable)
            self.rows.editItem(found, _REPLACEMENT)

    def _ask(self) -> None:
        job = self._session.store.path
        folder = QFileDialog.getExistingDirectory(self, "Where the copy goes", str(job.parent))
        if folder:
            self.copy_to(Path(folder) / f"{job.stem} without names")

    def copy_to(self, folder: Path) -> None:
        """Make the copy in a new folder."""
        key = folder.with_name(f"{folder.name}{SUFFIX}")
        for path in (folder, key):
            if path.exists():
                self._say(
                    f"“{path}” already exists: move it away, or choose another place.", "plum"
                )
                return
        self._order = WithoutNames(
            self._session.store.path,
            folder,
            self.entries(),
            key,
            cover=COVERS[self.cover.currentText()],
            password=self.password.text() if self.key.currentText() == IN_FILE else "",
        )
        self._session.export_queue.add([(self._order, ())])

    def _follow(self) -> None:
        busy = self._session.export_queue.is_busy
        self.password.setEnabled(self.key.currentText() == IN_FILE and not busy)
        self.go.setEnabled(not busy and bool(self.rows.ticked()))
        self.strip.setVisible(self._order is not None)
        order = self._order
        if order is not None and not busy and self.folder.isHidden() and order.folder.is_dir():
            self.folder.show()
            self._take_key(order)
            self._say("Checking the copy…")
            self._checks.run(lambda: names_left(order.folder, order.entries), self._tell_left)

    def _take_key(self, order: WithoutNames) -> None:
        """Keep the key list with the job, if that is wanted, and not beside the copy."""
        if self.key.currentText() == IN_JOB and order.key.is_file():
            self._session.settings.keep(KEY_LIST, order.key.read_text("utf-8"))
            order.key.unlink()

    def _tell_left(self, left: list[str]) -> None:
        if left:
            self._say("\n".join(["Names still stand there:", *left[:6]]), "plum")
        else:
            self._say("Checked: no name that was ticked stands in the copy any more.")

    def _say(self, text: str, tone: str = "") -> None:
        self.said.setText(text)
        set_tone(self.said, tone)

    def _show_folder(self) -> None:
        if self._order is not None:
            open_path(self._order.folder)

    def _leave(self, _result: int) -> None:
        self._session.export_queue.changed.disconnect(self._follow)
        self._checks.close(wait=False)
