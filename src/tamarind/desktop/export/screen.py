"""The Export page: what to write, the list of files, and a preview of each."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QHBoxLayout,
    QMessageBox,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from tamarind.application import correctednames
from tamarind.application.checking import Checking
from tamarind.application.session import Session
from tamarind.desktop.export.file_button import DragFolder, FileButton
from tamarind.desktop.export.orders import Orders
from tamarind.desktop.export.panel import ExportPanel
from tamarind.desktop.export.queue_strip import ExportQueueStrip
from tamarind.desktop.export.readable import readable
from tamarind.desktop.export.rendering import Make, Rendering
from tamarind.desktop.openpath import open_path
from tamarind.desktop.theme import fonts
from tamarind.desktop.widgets.parts import ElidedLabel, button, clear, label, set_tone
from tamarind.desktop.widgets.replacing import may_replace
from tamarind.formats.documents import WRITTEN, how_written
from tamarind.formats.filenames import NamePatternError
from tamarind.formats.timecode import clock
from tamarind.job.export import ExportOptions, Planned, WrittenFile, plan, written
from tamarind.job.settings import EXPORT_FOLDER
from tamarind.language.housestyle import Level

FOLLOWS_MS = 150
CHECKS_HEIGHT = 190
MOST_SHOWN = 400_000
"""Letters of a preview; the file has all of them."""


class ExportScreen(QWidget):
    """Shows the effect of every choice in the preview at once."""

    checks_asked = Signal(int)
    names_corrected = Signal(list, list)
    """Names were corrected in recordings that have been written, and nobody has said yet whether
    such names may be kept: the names, and the recordings."""
    style_asked = Signal()
    videos_asked = Signal()
    pages_asked = Signal()
    everybody_asked = Signal()

    def __init__(self, session: Session, checking: Checking) -> None:
        super().__init__()
        self._session, self._checking = session, checking
        self.files: list[Planned] = []
        self._previewed: Planned | None = None
        self.shown: tuple[Planned, WrittenFile] | None = None
        self._folder = session.settings.get(EXPORT_FOLDER) or session.store.path.parent
        self._written_to: Path | None = None
        self.is_waiting = False
        self._lines: dict[int, QPushButton] = {}
        """What is said of the checks of each recording."""
        self.panel = ExportPanel(session)
        self.panel.where.set_whole(str(self._folder))
        self.orders = Orders(session, self)
        self.rendering = Rendering(self)
        self.queue_strip = ExportQueueStrip(session.export_queue)
        self.panel.videos_asked.connect(self.videos_asked)
        self.panel.pages_asked.connect(self.pages_asked)
        self.panel.everybody_asked.connect(self.everybody_asked)
        self.go = button("Write", self.write, "primary")
        self.said = label("", "note", wrap=True)
        self.said.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._open = button("Show in folder", self._open_folder, "link")
        self._open.hide()
        self.panel.foot.addWidget(self.go)
        self.panel.foot.addWidget(self.said)
        self.panel.foot.addWidget(self._open, 0, Qt.AlignmentFlag.AlignCenter)

        self._lay_out()
        self._follow(session, checking)

    def _lay_out(self) -> None:
        """Place the files, the preview, and the choices."""
        self._buttons = QButtonGroup(self)
        self._buttons.setExclusive(True)
        inside = QWidget()
        inside.setObjectName("page")
        self._names = QVBoxLayout(inside)
        self._names.setContentsMargins(0, 0, 4, 8)
        self._names.setSpacing(5)
        names = QScrollArea()
        names.setWidgetResizable(True)
        names.setWidget(inside)
        names.setFixedWidth(250)
        names.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        checks = QWidget()
        checks.setObjectName("page")
        self._checks = QVBoxLayout(checks)
        self._checks.setContentsMargins(0, 0, 4, 0)
        self._checks.setSpacing(2)
        self.checked = QScrollArea()
        self.checked.setWidgetResizable(True)
        self.checked.setWidget(checks)
        self.checked.setFixedWidth(250)
        self.checked.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._title = ElidedLabel("", "job")
        self.facts = ElidedLabel("", "note")
        self.preview = QPlainTextEdit()
        self.preview.setReadOnly(True)
        self.preview.setAccessibleName("Preview")
        self._count = label("", "title")

        self._place(names)

    def _place(self, names: QScrollArea) -> None:
        """Place the columns side by side."""
        files = QVBoxLayout()
        files.setContentsMargins(24, 16, 0, 12)
        files.setSpacing(8)
        files.addWidget(self._count)
        files.addWidget(names, 1)
        files.addWidget(label("CHECKS", "heading"))
        files.addWidget(self.checked)
        files.addWidget(self.queue_strip)
        head = QHBoxLayout()
        head.addWidget(self._title, 1)
        head.addWidget(self.facts, 1)
        sheet = QVBoxLayout()
        sheet.setContentsMargins(10, 20, 18, 12)
        sheet.setSpacing(10)
        sheet.addLayout(head)
        sheet.addWidget(self.preview, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(files)
        row.addLayout(sheet, 1)
        row.addWidget(self.panel)

    def _follow(self, session: Session, checking: Checking) -> None:
        """Connect to what changes."""
        self._dragging = DragFolder(partial(self._say, tone="plum"))
        self._later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._later.timeout.connect(self._render)
        self._checks_later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._checks_later.timeout.connect(self._checks_changed)
        self.panel.changed.connect(self.refresh)
        self.panel.folder_asked.connect(self._choose_folder)
        self.panel.style_asked.connect(self.style_asked)
        self.rendering.made.connect(self._show_made)
        self.rendering.progressed.connect(self._show_progress)
        self.rendering.finished.connect(self._finished)
        session.shown_changed.connect(self.refresh)
        session.texts.changed.connect(lambda _id: self.refresh())
        session.recordings.list_changed.connect(self.refresh)
        session.styles.changed.connect(self.refresh)
        checking.changed.connect(self._check_made)

    def showEvent(self, event: object) -> None:
        """Show changes made on other pages."""
        self.refresh()

    def hideEvent(self, event: object) -> None:
        """Cancel a write that waits for the checks."""
        if self.is_waiting:
            self.is_waiting = False
            self._name_the_act()
            self._say("")

    def close_thread(self) -> None:
        """Finish the file being written."""
        self._later.stop()
        self._checks_later.stop()
        self.rendering.close()

    def refresh(self) -> None:
        """Plan the files again and keep the selected one, if it still exists."""
        if not self.isVisible():
            return
        self.panel.show_languages(self._languages())
        self.panel.show_recordings(self._session.recordings.all())
        chosen_options = self.panel.export_options()
        self._checking.set_files(chosen_options.suffixes, chosen_options.options())
        shown = self._session.shown
        chosen = [
            (recording, self._session.texts.document(recording.id))
            for recording in self._session.recordings.all()
            if self.panel.is_wanted(recording.id)
        ]
        try:
            files = plan(chosen, self.panel.export_options())
        except NamePatternError as error:
            self.go.setEnabled(False)
            self._say(str(error), "plum")
            return
        if files != self.files or not files:
            self.files = files
            self.is_waiting = False
            self._list_files()
        self.go.setEnabled(bool(files))
        if self._previewed not in files:
            here = [file for file in files if file.recording_id == shown]
            self._previewed = next(iter(here or files), None)
        self._checking.check(sorted({file.recording_id for file in files}))
        self._show_checks()
        self._show_preview()

    def set_folder(self, folder: Path) -> None:
        """Set the folder to write to."""
        self._folder = folder
        self.panel.where.set_whole(str(folder))
        self._session.settings.keep(EXPORT_FOLDER, folder)

    def write(self) -> None:
        """Write all files, asking once about files to overwrite and errors that stand.

        While checks are still running it waits for them, but no longer than a person does.
        """
        unknown = self.unchecked()
        if unknown and not self.is_waiting:
            self.is_waiting = True
            self.go.setText("Write without waiting")
            noun = "1 recording" if len(unknown) == 1 else f"{len(unknown)} recordings"
            self._say(f"Checking {noun} first…")
            return
        self.is_waiting = False
        self._name_the_act()
        musts = self.musts()
        if musts and not self._may_write_all_the_same(musts):
            return
        there = [file.name for file in self.files if (self._folder / file.name).exists()]
        if there and not may_replace(there, self):
            return
        self._open.hide()
        self._written_to = self._folder
        export_options = self.panel.export_options()
        files = [(file, self._maker(file, export_options)) for file in self.files]
        self.go.setEnabled(False)
        self.rendering.write(self._folder, files)

    def _maker(self, file: Planned, export_options: ExportOptions) -> Make:
        """Return the function that makes the bytes of a file, or those of its preview if they are
        current."""
        if self.shown is not None and self.shown[0] == file and not self._later.isActive():
            made = self.shown[1]
            return lambda: made
        session = self._session
        recording = session.recordings.get(file.recording_id)
        document = session.texts.document(file.recording_id)
        style = session.styles.of(recording, file.language or "")
        look = session.looks.of(recording.id)
        return lambda: written(file, recording, document, style, export_options, look)

    def _languages(self) -> list[str]:
        session = self._session
        found = {
            t.language
            for r in session.recordings.all()
            for t in session.texts.document(r.id).tracks
        }
        return sorted(found)

    def _name_the_act(self) -> None:
        count = len(self.files)
        words = {0: "Nothing to write", 1: "Write 1 file"}
        self.go.setText(words.get(count, f"Write {count} files"))

    def _list_files(self) -> None:
        count = len(self.files)
        self._count.setText("1 file" if count == 1 else f"{count} files")
        self._name_the_act()
        self._say("" if count else "Tick a document and a recording that has text.")
        self._open.hide()
        clear(self._names)
        for file in self.files:
            choice = FileButton(
                file.name, partial(self._place_of, file), partial(self._write_for_drag, file)
            )
            choice.clicked.connect(partial(self.choose, file))
            choice.setToolTip(f"{file.name}: {WRITTEN[file.suffix].label.lower()}")
            choice.setChecked(file == self._previewed)
            self._buttons.addButton(choice)
            self._names.addWidget(choice)
        self._names.addStretch(1)

    def _place_of(self, file: Planned) -> Path:
        return self._folder / file.name

    def _write_for_drag(self, file: Planned) -> Path | None:
        """Write one file to a folder of its own, to be dragged from there; a failure is told."""
        make = self._maker(file, self.panel.export_options())
        return self._dragging.write(file.name, lambda: make().data)

    def _show_checks(self) -> None:
        """Show a line for each recording that will be written."""
        if not self.isVisible():
            return
        keys = sorted({file.recording_id for file in self.files})
        if keys != list(self._lines):
            clear(self._checks)
            self._lines = {
                key: button("\n", partial(self.checks_asked.emit, key), "listed", "Show errors")
                for key in keys
            }
            for line in self._lines.values():
                self._checks.addWidget(line)
            self._checks.addStretch(1)
            # All have two lines of text.
            each = next((line.sizeHint().height() for line in self._lines.values()), 0)
            needed = len(keys) * (each + self._checks.spacing())
            self.checked.setFixedHeight(min(needed, CHECKS_HEIGHT))
        for key, line in self._lines.items():
            known = self._checking.is_known(key)
            said = self._checking.summary(key) if known else "checking…"
            text = f"{self._session.recordings.get(key).name}\n{said}"
            if line.text() != text:
                line.setText(text)
                line.setAccessibleName(text)

    def _check_made(self, _recording_id: int) -> None:
        if not self._checks_later.isActive():
            self._checks_later.start()

    def _checks_changed(self) -> None:
        """Refresh a moment later, since many recordings are checked one after the other."""
        self._show_checks()
        if self.is_waiting and not self.unchecked():
            self._say("")
            # Questions are not asked from within the news.
            QTimer.singleShot(0, self, self.write_if_waiting)

    def write_if_waiting(self) -> None:
        """Write what was asked for, now that everything is checked."""
        if self.is_waiting:
            self.write()

    def unchecked(self) -> list[int]:
        """Return the recordings whose checks are not done."""
        keys = {file.recording_id for file in self.files}
        return [key for key in keys if not self._checking.is_known(key)]

    def musts(self) -> int:
        """Count the errors, which the client does not accept."""
        keys = {file.recording_id for file in self.files}
        told = [one for key in keys for one in self._checking.findings(key)]
        return sum(one.level is Level.MUST for one in told)

    def choose(self, file: Planned) -> None:
        """Show a file in the preview."""
        self._previewed = file
        self._show_preview()

    def _show_preview(self) -> None:
        file = self._previewed
        for choice in self._buttons.buttons():
            choice.setChecked(file is not None and choice.text() == file.name)
        self._title.set_whole(file.name if file else "Nothing to write")
        if file is None:
            self.facts.set_whole("")
            self.preview.setPlainText("")
        self.shown = None
        self._later.start()

    def _render(self) -> None:
        file = self._previewed
        if file is not None and self._session.recordings.has(file.recording_id):
            self.shown = None
            self.rendering.preview(file, self._maker(file, self.panel.export_options()))

    def _show_made(self, file: Planned, result: WrittenFile | str) -> None:
        if file != self._previewed:
            return
        if isinstance(result, str):
            self.facts.set_whole(result)
            self.preview.setPlainText("")
            return
        self.shown = file, result
        facts = result.facts
        size = len(result.data)
        self.facts.set_whole(
            f"{facts.words} words · {facts.cues} cues · {clock(facts.duration, 0)}"
            f" · {size / 1000:.1f} kB"
        )
        encoding = how_written(file.suffix, self.panel.export_options().bytes).encoding
        text = readable(file.suffix, file.name, result.data, encoding)
        self.preview.document().setDefaultFont(fonts.mono(13))
        if self.preview.toPlainText() != text:
            self.preview.setPlainText(text[:MOST_SHOWN])

    def _show_progress(self, done: int, count: int) -> None:
        self._say(f"Writing {done + 1} of {count}…")

    def _finished(self, count: int, problems: list[str]) -> None:
        self.go.setEnabled(bool(self.files))
        noun = "file" if count == 1 else "files"
        lines = [f"{count} {noun} written."] if count else []
        self._say("\n".join(lines + problems[:3]), "plum" if problems else "")
        self._open.setVisible(count > 0)
        if count:
            self._keep_names()

    def _keep_names(self) -> None:
        """Keep corrected names for later recordings, asking once whether that is allowed."""
        session = self._session
        keys = sorted({file.recording_id for file in self.files})
        keys = [key for key in keys if session.recordings.has(key)]
        if correctednames.is_allowed():
            session.keep_corrected_names(keys)
        elif not correctednames.is_decided():
            names = [name for key in keys for name in session.corrected_names(key)]
            if names:
                self.names_corrected.emit(list(dict.fromkeys(names)), keys)

    def _say(self, text: str, tone: str = "") -> None:
        self.said.setText(text)
        set_tone(self.said, tone)

    def _may_write_all_the_same(self, musts: int) -> bool:
        what = "1 error" if musts == 1 else f"{musts} errors"
        answer = QMessageBox.question(self, "Export anyway?", f"{what} the house style.")
        return answer == QMessageBox.StandardButton.Yes

    @property
    def folder(self) -> Path:
        """The folder to write to."""
        return self._folder

    def _choose_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Write to", str(self._folder))
        if name:
            self.set_folder(Path(name))

    def _open_folder(self) -> None:
        if self._written_to is not None:
            open_path(self._written_to)
