"""Edit the text in another program: write it, and bring the edits back with their times."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import RECORDING, command
from tamarind.formats.captionfile import FormatError, names_of
from tamarind.formats.decoding import decode
from tamarind.formats.format import Origin
from tamarind.formats.timecode import clock
from tamarind.job.settings import WRITTEN_OUT
from tamarind.system.files import read_file, write_whole
from tamarind.system.later import Later
from tamarind.transcript.edits import with_cues
from tamarind.transcript.model import Transcript
from tamarind.transcript.takeback import Part, with_parts, with_words

if TYPE_CHECKING:
    from tamarind.desktop.widgets import changes_dialog
    from tamarind.formats import documents
    from tamarind.formats.reading import editeddocument, plaintext
else:
    documents = Later("tamarind.formats.documents")
    editeddocument = Later("tamarind.formats.reading.editeddocument")
    plaintext = Later("tamarind.formats.reading.plaintext")
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")

STRUCTURE = -1
FILTER = (
    "Plain text (*.txt);;OpenDocument text (*.odt);;Word processor (*.docx);;WebVTT (*.vtt)"
    ";;SRT (*.srt)"
)


class Exchange(QObject):
    """Remembers where each recording's text was written last."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._parent = session, parent

    @command(
        "Edit in another program…",
        "Draft",
        "Ctrl+Shift+W",
        name="write_out",
        opens="proof",
        needs=RECORDING,
        also="docx word",
    )
    def ask_write(self) -> None:
        """Ask where to, and write the shown text there."""
        recording = self._session.shown_recording()
        if recording is None or not self._session.texts.transcript(recording.id).cues:
            self._session.told.emit("There is no transcript yet.")
            return
        path = self._kept(recording.id) or recording.path.parent / f"{recording.name} to edit.txt"
        name, _ = QFileDialog.getSaveFileName(
            self._parent.window(), "Edit in another program", str(path), FILTER
        )
        if name:
            self.write(recording.id, Path(name))

    def write(self, recording_id: int, path: Path) -> None:
        """Write a recording's text; a failure is told."""
        text = self._session.texts.transcript(recording_id)
        recording = self._session.recordings.get(recording_id)
        if not path.suffix:
            path = path.with_suffix(".txt")
        try:
            suffix = documents.suffix_of(path)
            written = documents.write(suffix, text, Origin(recording.name, recording.duration))
            write_whole(path, written)
        except FormatError as error:
            self._session.trouble.emit(str(error))
            return
        except OSError as error:
            self._session.trouble.emit(f"“{path.name}” cannot be written: {error.strerror}.")
            return
        self._session.settings.keep(WRITTEN_OUT.numbered(recording_id), path)
        self._session.told.emit(f"Written to “{path.name}”. Edit it, then choose Bring edits back.")

    @command(
        "Bring edits back…",
        "Draft",
        "Ctrl+Shift+B",
        name="take_back",
        opens="proof",
        needs=RECORDING,
        also="docx word",
    )
    def ask_take_back(self) -> None:
        """Ask for the file, show what would change, and change it."""
        recording = self._session.shown_recording()
        if recording is None:
            return
        path = self._kept(recording.id) or recording.path.parent
        name, _ = QFileDialog.getOpenFileName(
            self._parent.window(), "Bring edits back", str(path), FILTER
        )
        if name:
            self.take_back(recording.id, Path(name))

    def take_back(self, recording_id: int, path: Path) -> None:
        """Match a file with a recording's text; the person decides which changes are taken."""
        text = self._session.texts.transcript(recording_id)
        try:
            parts, paragraphs = self._parts(text, path)
            worded = with_words(text, parts)
        except OSError as error:
            self._session.trouble.emit(f"“{path.name}” cannot be read: {error.strerror}.")
            return
        except (FormatError, ValueError) as error:
            self._session.trouble.emit(str(error))
            return
        whole = with_parts(worded, parts, paragraphs)
        changes = _changes(text, worded, whole)
        if not changes:
            self._session.told.emit("The file has no changes.")
            return
        dialog = changes_dialog.ChangesDialog(
            f"From “{path.name}”",
            changes,
            self._parent.window(),
            note="Unchanged words keep their times; new ones are placed between them.",
            texts=True,
            about="where",
        )
        if dialog.exec():
            chosen = set(dialog.chosen())
            complete = len(chosen) == len(changes)
            self._session.texts.close_edit_group()
            new = whole if complete else _partly(text, worded, chosen)
            self._session.texts.edit(recording_id, f"text from {path.name}", new)

    def _parts(self, text: Transcript, path: Path) -> tuple[list[Part], bool]:
        suffix = documents.suffix_of(path)
        names = [name for name in names_of(text).values() if name]
        headings = {cue.heading for cue in text.cues if cue.heading}
        if suffix in editeddocument.READERS:
            data = read_file(path, documents.LARGEST_FILE)
            return editeddocument.read_parts(data, suffix, names, headings), True
        if suffix == "txt":
            written = decode(read_file(path, documents.LARGEST_FILE)).text
            return plaintext.read_parts(written, names, headings), True
        read = documents.read(path, text.language).transcript
        known = names_of(read)
        return [Part(cue.text, known.get(cue.speaker)) for cue in read.cues], False

    def _kept(self, recording_id: int) -> Path | None:
        return self._session.settings.get(WRITTEN_OUT.numbered(recording_id))


def _changes(
    text: Transcript, worded: Transcript, whole: Transcript
) -> list[changes_dialog.ProposedChange]:
    """Return a change for every cue with other words, and one for speakers, paragraphs and
    borders."""
    now = {cue.id: cue for cue in worded.cues}
    found = []
    for cue in text.cues:
        new = now.get(cue.id)
        after = new.text if new is not None else ""
        if after != cue.text:
            time = clock(cue.start, 1, hours=False)
            found.append(
                changes_dialog.ProposedChange(
                    cue.id, cue.text or "(empty)", after or "(deleted)", time
                )
            )
    if whole != worded:
        found.append(
            changes_dialog.ProposedChange(
                STRUCTURE,
                "speakers and paragraphs as they are",
                "speakers and paragraphs of the file",
                "together with the others only",
            )
        )
    return found


def _partly(text: Transcript, worded: Transcript, chosen: set[int]) -> Transcript:
    """Return the text with new words only in the chosen cues."""
    now = {cue.id: cue for cue in worded.cues}
    for place in range(len(text.cues) - 1, -1, -1):
        cue = text.cues[place]
        if cue.id in chosen:
            new = now.get(cue.id)
            text = with_cues(text, place, place + 1, *([new] if new is not None else []))
    return text
