"""Import a file as a recording's text: captions as they are, other texts matched with the sound."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QListWidget, QMessageBox, QWidget

from tamarind.application.session import Session
from tamarind.application.transcriptionqueue import cannot_hear
from tamarind.captions.relayout import from_script
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.intake.encoding_dialog import EncodingDialog
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError, Repairs
from tamarind.formats.decoding import decode
from tamarind.language.marks import is_bare
from tamarind.system.files import read_file
from tamarind.transcript.model import Transcript, Word


class Importing:
    """Tells what was repaired in a damaged file, and what can be done for one without
    punctuation."""

    def __init__(self, session: Session, hearing_dialog: HearingDialog, parent: QWidget) -> None:
        self._session, self._hearing_dialog, self._parent = session, hearing_dialog, parent
        self._tasks = tasks_of(parent, "matching")

    def take(self, key: int, path: Path) -> None:
        """Import a file as a recording's text, replacing one that is there, with undo."""
        recording = self._session.recordings.get(key)
        try:
            if documents.is_script(path) and self._can_match(key) and self._wants_match(path):
                self.match(key, path)
                return
            encoding = self._encoding_of(path)
            if encoding == "":
                return
            repairs = self._session.texts.import_file(key, path, encoding)
        except FormatError as error:
            self._session.trouble.emit(f"{path.name}: {error}")
            return
        if repairs:
            RepairsDialog(path.name, repairs, self._parent.window()).exec()
        if is_bare(self._session.texts.transcript(recording.id)):
            self._session.show(key)
            self._session.told.emit("It has hardly any punctuation. The Tools menu can restore it.")

    def _encoding_of(self, path: Path) -> str | None:
        """Return the encoding that the person chooses where it is not clear; None to detect it, ""
        to cancel. Raises FormatError."""
        if documents.is_data(path):
            return None
        try:
            data = read_file(path, documents.LARGEST_FILE)
        except (OSError, ValueError):
            return None  # Reading it will say why.
        decoded = decode(data)
        if not decoded.others:
            return None
        dialog = EncodingDialog(path.name, data, decoded, self._parent.window())
        return dialog.encoding if dialog.exec() else ""

    def match(self, key: int, path: Path) -> None:
        """Find the words of a text without times in the recording's sound. Raises FormatError."""
        recording = self._session.recordings.get(key)
        script = documents.read(path, recording.language).transcript
        words = [word.text for cue in script.cues for word in cue.words]

        limits = self._session.styles.limits_of(key)

        def then(timed: tuple[Word, ...]) -> None:
            self._tasks.run(
                lambda: from_script(script, timed, limits),
                lambda text: self._take_matched(key, path, text, timed),
            )

        self._hearing_dialog.hear(key, f"Matching “{path.name}” with its sound…", then, words)

    def _take_matched(
        self, key: int, path: Path, text: Transcript, timed: tuple[Word, ...]
    ) -> None:
        if not self._session.recordings.has(key):
            return
        self._session.texts.take(key, text, f"text from {path.name}")
        unsure = sum(word.is_doubt(self._session.threshold) for word in timed)
        said = f"“{path.name}” is matched with its sound."
        if unsure:
            said += f" {unsure} words do not match the sound well and are marked as uncertain."
        self._session.told.emit(said)

    def _can_match(self, key: int) -> bool:
        recording = self._session.recordings.get(key)
        return self._session.sounds.has(key) and not cannot_hear(recording)

    def _wants_match(self, path: Path) -> bool:
        answer = QMessageBox.question(
            self._parent.window(),
            "Match with the sound?",
            f"“{path.name}” has no times. Its words can be matched with the sound, which"
            " takes about as long as transcribing. Without that, they get times by their length.",
        )
        return answer == QMessageBox.StandardButton.Yes


class RepairsDialog(Dialog):
    """Lists what was repaired in a file."""

    def __init__(self, name: str, repairs: Repairs, parent: QWidget | None = None) -> None:
        count = len(repairs) + repairs.more
        title = "1 thing was repaired" if count == 1 else f"{count} things were repaired"
        super().__init__(title, (640, 420), parent, title)
        self.body.addWidget(
            label(f"“{name}” was imported, but parts of it had to be repaired.", "note")
        )
        rows = QListWidget()
        rows.setAccessibleName(title)
        rows.addItems(repairs)
        if repairs.more:
            rows.addItem(f"and {repairs.more} more of the same kind")
        self.body.addWidget(rows, 1)
        fine = button("Good", self.accept, "primary")
        fine.setDefault(True)
        self.set_acts(fine, leave="Close")
