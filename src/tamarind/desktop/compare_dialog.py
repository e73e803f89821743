"""The dialog with what differs between the shown text and another version of it."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHeaderView, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats import documents
from tamarind.formats.documents import READ
from tamarind.formats.reading.compared import SUFFIXES, Versions, write_compared
from tamarind.formats.timecode import clock
from tamarind.job.jobfile import PACKED_SUFFIX, SUFFIX, JobError, is_packed
from tamarind.job.takingback import came_back
from tamarind.system.errors import ToldError
from tamarind.system.files import write_whole
from tamarind.transcript.comparison import compare
from tamarind.transcript.model import Transcript

MOST_LISTED = 5_000


class CompareDialog(Dialog):
    """``place`` is the cue of the change to which a person wants to go."""

    def __init__(self, versions: Versions, other: str, parent: QWidget | None) -> None:
        super().__init__("Compare", (880, 540), parent, f"“{versions.name}” and {other}")
        self._versions = versions
        self.place: int | None = None
        self.changes = compare(versions.before.cues, versions.after.cues).changes
        count = len(self.changes)
        told = "No word differs." if not count else "1 change" if count == 1 else f"{count} changes"
        self.said = label(told, "note", wrap=True)
        self.body.addWidget(self.said)
        self.list = RowList("Changes", ("time", other, "this text"))
        self.list.header().setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        self.list.setColumnWidth(1, 360)
        for one in self.changes[:MOST_LISTED]:
            time = clock(one.start, 1, hours=False)
            self.list.add((time, one.before or "(nothing)", one.after or "(left out)"))
        self.list.itemActivated.connect(lambda _item: self.go())
        self.body.addWidget(self.list, 1)
        go = button("Go to it", self.go, "primary")
        save = button("Save with changes marked…", self._ask)
        go.setEnabled(bool(count))
        self.set_acts(go, leave="Close", between=(save,))
        self.list.choose(0)
        self.list.setFocus()

    def go(self) -> None:
        """Go to the selected change in the text."""
        row = self.list.row()
        if row is not None:
            self.place = self.changes[row].place
            self.accept()

    def _ask(self) -> None:
        kinds = " ".join(f"*.{suffix}" for suffix in SUFFIXES)
        name, _ = QFileDialog.getSaveFileName(
            self, "Save with changes marked", f"{self._versions.name}, changes.docx",
            f"Documents ({kinds})",
        )  # fmt: skip
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Write both versions as one document; a failure is told."""
        try:
            data = write_compared(path.suffix.lstrip("."), [self._versions], datetime.now())
            write_whole(path, data)
        except ToldError as error:
            self._say(str(error), "plum")
        except OSError as error:
            self._say(f"“{path.name}” cannot be written: {error.strerror}.", "plum")
        else:
            self._say(f"Saved as “{path.name}”.")

    def _say(self, text: str, tone: str = "") -> None:
        self.said.setText(text)
        set_tone(self.said, tone)


def version_in(path: Path, name: str, language: str) -> Transcript:
    """Return another version of a recording's text: that of its name in a job, or a text file.
    Raises ToldError."""
    if path.suffix != SUFFIX and not is_packed(path):
        return documents.read(path, language).transcript
    with came_back(path) as store:
        there = {one.name: one.id for one in store.recordings()}
        if name not in there:
            raise JobError(f"“{path.name}” has no recording “{name}”.")
        return store.document(there[name]).transcript


def ask_to_compare(session: Session, parent: QWidget) -> int | None:
    """Ask for another version of the shown text, and show what differs; return the cue to go to."""
    suffixes = " ".join(f"*.{suffix}" for suffix in READ)
    name, _ = QFileDialog.getOpenFileName(
        parent, "Compare with", str(session.store.path.parent),
        f"Texts and jobs ({suffixes} *{SUFFIX} *{PACKED_SUFFIX})",
    )  # fmt: skip
    return compare_with(session, Path(name), f"“{Path(name).name}”", parent) if name else None


def compare_with(session: Session, path: Path, other: str, parent: QWidget) -> int | None:
    """Show what differs from another version; what is wrong with it is told."""
    recording = session.shown_recording()
    if recording is None:
        return None
    text = session.texts.transcript(recording.id)
    try:
        before = version_in(path, recording.name, text.language)
    except ToldError as error:
        session.trouble.emit(str(error))
        return None
    dialog = CompareDialog(Versions(recording.name, before, text), other, parent)
    return dialog.place if dialog.exec() else None
