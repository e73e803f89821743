"""Send translations to people and services elsewhere, and bring them back: by the clipboard and by
files."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from tamarind.application.session import Session
from tamarind.desktop.translation.returned_dialog import ReturnedDialog
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.formats.documents import LARGEST_FILE
from tamarind.system.files import read_file, write_whole
from tamarind.transcript.languages import name_of
from tamarind.translation.exchange import files, handing, tmx
from tamarind.translation.exchange.returned import Returned, fitted
from tamarind.translation.tracks import with_edit

OUT = (
    "Table for a word processor (*.docx);;Table (*.csv);;XLIFF (*.xlf);;SRT (*.srt);;WebVTT (*.vtt)"
    ";;Numbered lines (*.txt);;Translation memory of the job (*.tmx)"
)
BACK = "Translations (*.docx *.csv *.tsv *.xlf *.xliff *.srt *.vtt *.txt *.tmx);;All files (*)"
MEMORY = ".tmx"
NOTHING_COPIED = "The clipboard has no translated lines."


class Outside:
    """Acts on the shown track."""

    def __init__(self, session: Session, sheet: TranslationSheet, parent: QWidget) -> None:
        self._session, self._sheet, self._parent = session, sheet, parent

    def copy(self) -> None:
        """Copy the translation, to be translated elsewhere."""
        text = self._sheet.text
        rows = handing.rows_of(text.transcript, text.track)
        QApplication.clipboard().setText(handing.as_lines(rows))
        self._session.told.emit(f"{len(rows)} numbered lines are on the clipboard.")

    def paste(self) -> None:
        """Put numbered lines from the clipboard into the track."""
        rows = handing.from_lines(QApplication.clipboard().text())
        if rows:
            self._take(rows, "the clipboard")
        else:
            self._session.told.emit(NOTHING_COPIED)

    def ask_write(self) -> None:
        """Ask for a file, and write the translation."""
        recording = self._session.shown_recording()
        if recording is None:
            return
        usual = recording.path.parent / f"{recording.name}.{self._sheet.text.track.language}.docx"
        name, kind = QFileDialog.getSaveFileName(
            self._parent.window(), "Export the translation", str(usual), OUT
        )
        if name:
            path = Path(name)
            if not path.suffix:
                path = path.with_suffix(kind[kind.rfind(".") :].rstrip(")"))
            self.write(path)

    def write(self, path: Path) -> None:
        """Write the shown translation, or the job's translation memory; a failure is told."""
        if path.suffix.lower() == MEMORY:
            self.write_memory(path)
            return
        text, recording = self._sheet.text, self._session.shown_recording()
        if recording is None:
            return
        limits = self._session.styles.limits_of(recording.id, text.track.language)
        suffix = path.suffix.lower().lstrip(".")
        try:
            data = files.write(suffix, text.transcript, text.track, recording.name, limits)
            write_whole(path, data)
        except FormatError as error:
            self._session.trouble.emit(str(error))
        except OSError as error:
            self._session.trouble.emit(f"“{path.name}” cannot be written: {error.strerror}.")
        else:
            self._session.told.emit(f"Written to “{path.name}”.")

    def ask_read(self) -> None:
        """Ask for a file, show where its texts go, and take them."""
        recording = self._session.shown_recording()
        if recording is None:
            return
        name, _ = QFileDialog.getOpenFileName(
            self._parent.window(), "Import a translation", str(recording.path.parent), BACK
        )
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Match a file with the shown text, or keep the sentences of a translation memory."""
        if path.suffix.lower() == MEMORY:
            self.bring_memory(path)
            return
        try:
            data = read_file(path, LARGEST_FILE)
            rows = files.read(path, data, self._sheet.text.track.language)
        except FormatError as error:
            self._session.trouble.emit(f"“{path.name}”: {error}")
        except OSError as error:
            self._session.trouble.emit(f"“{path.name}” cannot be read: {error.strerror}.")
        else:
            self._take(rows, f"“{path.name}”")

    def bring_memory(self, path: Path) -> None:
        """Keep a translation memory's sentences with the job."""
        source, target = self._languages()
        try:
            found = tmx.read(decode(read_file(path, LARGEST_FILE)).text, source, target)
        except FormatError as error:
            self._session.trouble.emit(f"“{path.name}”: {error}")
        except OSError as error:
            self._session.trouble.emit(f"“{path.name}” cannot be read: {error.strerror}.")
        else:
            self._session.translating.bring_memory(source, target, found)
            said = f"{len(found)} sentences from “{path.name}” are used from now on."
            self._session.told.emit(said)

    def write_memory(self, path: Path) -> None:
        """Write the translation memory; a failure is told."""
        source, target = self._languages()
        found = self._session.translating.memory(source, target)
        try:
            write_whole(path, tmx.write(found, source, target).encode())
        except OSError as error:
            self._session.trouble.emit(f"“{path.name}” cannot be written: {error.strerror}.")
        else:
            self._session.told.emit(f"{len(found)} sentences were written to “{path.name}”.")

    def _languages(self) -> tuple[str, str]:
        text = self._sheet.text
        return text.transcript.language, text.track.language

    def _take(self, rows: Sequence[Returned], where: str) -> None:
        text, recording = self._sheet.text, self._session.shown
        if recording is None:
            return
        track, cues = text.track, text.transcript.cues
        found = fitted(cues, rows, track.language)
        new = {
            cue.id: found.texts[cue.id]
            for cue in cues
            if cue.id in found.texts and found.texts[cue.id] != track.text(cue.id)
        }
        dialog = ReturnedDialog(where, found, len(new), cues, self._parent.window())
        if not dialog.exec() or not new:
            return
        for cue in cues:
            if cue.id in new:
                track = with_edit(track, cue, new[cue.id])
        document = self._session.texts.document(recording)
        label = f"import {name_of(track.language)} from {where}"
        self._session.texts.close_edit_group()
        self._session.texts.edit_document(recording, label, document.with_track(track))
        self._session.told.emit(f"{len(new)} translations imported from {where}.")
