"""The dialog for delivery: the clients of the job, what is left to do for each, and the folder."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from functools import partial
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QPlainTextEdit,
    QProgressBar,
    QWidget,
)

from tamarind.application.delivering import parcels_of
from tamarind.application.session import Session
from tamarind.checks.finding import PlacedFinding, summary
from tamarind.desktop.clients.editor import edit_clients
from tamarind.desktop.openpath import open_path
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone
from tamarind.desktop.widgets.replacing import may_replace
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.filenames import NamePatternError
from tamarind.job.delivery import Made, Parcel, deliver, findings, list_of
from tamarind.job.settings import EXPORT_FOLDER

ROOM_FOR_TICK, MOST_WIDE = 24, 280

Found = Mapping[int, Sequence[PlacedFinding]]


class DeliverDialog(Dialog):
    """Checks all texts when it opens; what is ticked is delivered."""

    progressed = Signal(float)

    def __init__(self, session: Session, folder: Path, parent: QWidget | None) -> None:
        super().__init__("Deliver", (860, 600), parent, "Deliver")
        self._session, self._folder = session, folder
        self._parcels: list[Parcel] = []
        self._found: dict[str, Found] = {}
        self._stopped = self._is_busy = False
        self._checks = tasks_of(self, "checking a delivery", latest_only=False)
        self._work = tasks_of(self, "delivering", latest_only=False)
        self.rows = RowList("Clients", ("client", "recordings", "documents", "checks", "delivered"))
        self.rows.setMaximumHeight(170)
        self.rows.currentItemChanged.connect(lambda _now, _before: self._show_list())
        self.rows.itemChanged.connect(lambda _item, _column: self._count())
        self.list = QPlainTextEdit()
        self.list.setReadOnly(True)
        self.list.setAccessibleName("Left to do")
        self.where = ElidedLabel(str(folder), "note")
        self.said = label("", "note", wrap=True)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.hide()
        self.progressed.connect(lambda share: self.bar.setValue(round(share * 100)))
        self.go = button("", self.deliver, "primary")
        self.go.setDefault(True)
        self.folder = button("Show in folder", lambda: open_path(self._folder))
        self.folder.hide()
        self._lay_out()
        self.refresh()

    def _lay_out(self) -> None:
        place = QHBoxLayout()
        place.addWidget(label("Folder"))
        place.addWidget(self.where, 1)
        place.addWidget(button("Change…", self._ask_folder, "link", "Change the folder"))
        self.body.addWidget(self.rows)
        self.body.addWidget(label("LEFT TO DO", "heading"))
        self.body.addWidget(self.list, 1)
        self.body.addLayout(place)
        self.body.addWidget(self.bar)
        self.body.addWidget(self.said)
        edit = button("Edit client…", self._edit)
        self.set_acts(self.folder, self.go, leave="Close", between=(edit,))

    def refresh(self) -> None:
        """List the clients again, and check their texts."""
        session = self._session
        self._parcels = parcels_of(session)
        self._found.clear()
        self.rows.clear()
        for parcel in self._parcels:
            count = len(parcel.works)
            self.rows.add(
                (
                    parcel.client.name,
                    "1 recording" if count == 1 else f"{count} recordings",
                    ", ".join(parcel.client.delivery.documents),
                    "checking…",
                    self._delivered(parcel),
                ),
                True,
            )
            self._checks.run(
                partial(_found_in, parcel), partial(self._show_found, parcel.client.name)
            )
        for column in range(self.rows.columnCount()):
            self.rows.resizeColumnToContents(column)
        self.rows.setColumnWidth(0, min(self.rows.columnWidth(0) + ROOM_FOR_TICK, MOST_WIDE))
        self.rows.choose(0)
        if not self._parcels:
            self.list.setPlainText("")
            self._say("No recording has a client yet: choose one on Intake, or make one here.")
        self._count()

    def _delivered(self, parcel: Parcel) -> str:
        """Say when all of a client's recordings were delivered, and what has changed since."""
        clients = self._session.clients
        keys = [work.recording.id for work in parcel.works]
        last = [clients.delivered(key) for key in keys]
        days = [one for one in last if one.when]
        if not days:
            return "not yet"
        changed = sum(clients.is_changed_since(key) for key in keys)
        if changed:
            return "1 changed since" if changed == 1 else f"{changed} changed since"
        if len(days) < len(keys):
            return f"{len(days)} of {len(keys)}"
        return max(days, key=lambda one: one.when).day

    def _show_found(self, name: str, found: Found) -> None:
        self._found[name] = found
        for item, parcel in zip(self.rows.items(), self._parcels, strict=True):
            if parcel.client.name == name:
                item.setText(3, summary([one for many in found.values() for one in _others(many)]))
                self.rows.resizeColumnToContents(3)
        self._show_list()

    def _show_list(self) -> None:
        row = self.rows.row()
        if row is None or row >= len(self._parcels):
            return
        parcel = self._parcels[row]
        lines = list_of(parcel, self._found.get(parcel.client.name, {}))
        self.list.setPlainText("\n".join(lines[2:]).strip())

    def _count(self) -> None:
        count = len(self.rows.ticked())
        self.go.setText("Deliver to 1 client" if count == 1 else f"Deliver to {count} clients")
        self.go.setEnabled(count > 0)

    def _say(self, text: str, tone: str = "") -> None:
        self.said.setText(text)
        set_tone(self.said, tone)

    def deliver(self) -> None:
        """Write what is ticked, asking once about files to overwrite."""
        chosen = [self._parcels[row] for row in self.rows.ticked()]
        day = date.today().isoformat()
        try:
            there = [
                file.name
                for parcel in chosen
                for file in parcel.files(day)
                if (self._folder / parcel.folder / file.name).exists()
            ]
        except NamePatternError as error:
            self._say(str(error), "plum")
            return
        if there and not may_replace(there, self):
            return
        self._is_busy = True
        self.go.setEnabled(False)
        self.bar.show()
        self._say("Delivering…")
        self._work.run(partial(self._deliver, chosen), self._finished, self._broke_off)

    def _deliver(self, chosen: Sequence[Parcel]) -> list[Made]:
        """Write in the background, until the dialog is closed."""
        done: list[Made] = []

        def told(number: int, share: float) -> None:
            self.progressed.emit((number + share) / len(chosen))

        for number, parcel in enumerate(chosen):
            if self._stopped:
                break
            done.append(deliver(parcel, self._folder, datetime.now(), partial(told, number)))
        return done

    def _broke_off(self, sentence: str) -> None:
        self._finished([])
        self._say(sentence, "plum")

    def _finished(self, done: list[Made]) -> None:
        self._is_busy = False
        self.bar.hide()
        for made in done:
            for key, delivered in made.delivered.items():
                if self._session.recordings.has(key):
                    self._session.clients.note_delivered(key, delivered)
        files = sum(len(made.files) for made in done)
        failed = [sentence for made in done for sentence in made.failed]
        folders = "1 folder" if len(done) == 1 else f"{len(done)} folders"
        noun = "1 file" if files == 1 else f"{files} files"
        self._say(
            "\n".join([f"{noun} written to {folders}.", *failed[:3]]), "plum" if failed else ""
        )
        self.folder.setVisible(files > 0)
        for item, parcel in zip(self.rows.items(), self._parcels, strict=True):
            item.setText(4, self._delivered(parcel))
        self._count()
        if self._stopped:
            self.done(0)

    def _edit(self) -> None:
        row = self.rows.row()
        key = ""
        if row is not None and self._parcels:
            key = self._session.clients.key_of(self._parcels[row].works[0].recording.id)
        chosen = edit_clients(self._session, key, self)
        if chosen and not self._parcels:
            everyone = [recording.id for recording in self._session.recordings.all()]
            self._session.clients.choose(everyone, chosen)
        self.refresh()

    def _ask_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Deliver to", str(self._folder))
        if name:
            self.set_folder(Path(name))

    def set_folder(self, folder: Path) -> None:
        """Set the folder in which each client gets one."""
        self._folder = folder
        self.where.set_whole(str(folder))
        self._session.settings.keep(EXPORT_FOLDER, folder)

    def done(self, result: int) -> None:
        """Stop after the client whose files are being written, so that it is known what was
        delivered."""
        self._stopped = True
        if self._is_busy:
            self._say("Stopping after this client…")
            return
        self._checks.close(wait=False)
        self._work.close()
        super().done(result)


def _found_in(parcel: Parcel) -> Found:
    return {work.recording.id: findings(parcel, work) for work in parcel.works if work.has_text}


def _others(found: Sequence[PlacedFinding]) -> list[PlacedFinding]:
    """Return the findings that are no uncertain words."""
    return [one for one in found if one.finding.rule != "doubt"]
