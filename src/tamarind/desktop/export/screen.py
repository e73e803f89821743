"""The Export screen: what to write, the files it makes, and each one exactly as it will be."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QMessageBox,
    QPlainTextEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.export.plan import Planned, plan, text_of
from tamarind.desktop.session import Session
from tamarind.desktop.theme import fonts
from tamarind.desktop.widgets.parts import ElidedLabel, button, clear, label
from tamarind.formats.documents import LABELS
from tamarind.formats.plaintext import TextOptions
from tamarind.formats.safefile import write_whole
from tamarind.translation.languages import name_of


class ExportScreen(QWidget):
    """Every choice shows its effect in the preview at once."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._files: list[Planned] = []
        self._previewed: Planned | None = None
        folder = session.store.setting("export folder")
        self._folder = Path(folder) if folder else session.store.path.parent
        self._written_to: Path | None = None

        self._all = QCheckBox("All recordings of the job")
        self._all.setChecked(True)
        self._kinds = {suffix: QCheckBox(f"{text}   .{suffix}") for suffix, text in LABELS.items()}
        for suffix in ("txt", "srt"):
            self._kinds[suffix].setChecked(True)
        self._speakers = QCheckBox("with speakers")
        self._speakers.setChecked(True)
        self._times = QCheckBox("with times")
        self._source = QCheckBox("As spoken")
        self._source.setChecked(True)
        self._languages: dict[str, QCheckBox] = {}
        self._language_boxes = QVBoxLayout()
        self._where = ElidedLabel(str(self._folder), "note")
        self._go = button("Write", self.write, "primary")
        self._said = label("", "note", wrap=True)
        self._said.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._open = button("open the folder", self._open_folder, "link")
        self._open.hide()
        for box in (self._all, *self._kinds.values(), self._speakers, self._times, self._source):
            box.toggled.connect(self.refresh)

        self._buttons = QButtonGroup(self)
        self._buttons.setExclusive(True)
        inside = QWidget(objectName="page")
        self._names = QVBoxLayout(inside)
        self._names.setContentsMargins(0, 0, 4, 8)
        self._names.setSpacing(5)
        names = QScrollArea()
        names.setWidgetResizable(True)
        names.setWidget(inside)
        names.setFixedWidth(250)
        names.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._title = ElidedLabel("", "job")
        self._size = label("", "note")
        self._preview = QPlainTextEdit()
        self._preview.setReadOnly(True)
        self._preview.setAccessibleName("Preview")
        self._count = label("", "title")

        files = QVBoxLayout()
        files.setContentsMargins(24, 16, 0, 0)
        files.setSpacing(10)
        files.addWidget(self._count)
        files.addWidget(names, 1)
        head = QHBoxLayout()
        head.addWidget(self._title, 1)
        head.addWidget(self._size)
        sheet = QVBoxLayout()
        sheet.setContentsMargins(10, 20, 18, 12)
        sheet.setSpacing(10)
        sheet.addLayout(head)
        sheet.addWidget(self._preview, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(files)
        row.addLayout(sheet, 1)
        row.addWidget(self._panel())
        session.shown_changed.connect(self.refresh)
        session.document_changed.connect(lambda _id: self.refresh())
        session.recordings_changed.connect(self.refresh)

    def showEvent(self, event: object) -> None:
        """Changes made on other screens show now."""
        self.refresh()

    def refresh(self) -> None:
        """Plan the files anew and show the one that was shown, if it is still among them."""
        if not self.isVisible():
            return
        self._show_languages()
        shown = self._session.shown
        chosen = [
            (recording, self._session.document(recording.id))
            for recording in self._session.recordings()
            if self._all.isChecked() or recording.id == shown
        ]
        languages: list[str | None] = [None] if self._source.isChecked() else []
        languages += [key for key, box in self._languages.items() if box.isChecked()]
        suffixes = [suffix for suffix, box in self._kinds.items() if box.isChecked()]
        for box in (self._speakers, self._times):
            box.setEnabled("txt" in suffixes)
        files = plan(chosen, suffixes, languages)
        if files != self._files or not files:
            self._files = files
            self._list_files()
        if self._previewed not in files:
            here = [file for file in files if file.recording_id == shown]
            self._previewed = (here or files or [None])[0]
        self._show_preview()

    def write(self) -> None:
        """Write all files; those that are there already are asked about once."""
        there = [file.name for file in self._files if (self._folder / file.name).exists()]
        if there and not self._may_replace(there):
            return
        written = 0
        for file in self._files:
            try:
                write_whole(self._folder / file.name, self._text(file).encode())
            except OSError as error:
                self._said.setText(
                    f"“{file.name}” could not be written: {error.strerror}. "
                    f"{written} of {len(self._files)} files are written."
                )
                return
            written += 1
        noun = "file is" if written == 1 else "files are"
        self._said.setText(f"{written} {noun} written.")
        self._written_to = self._folder
        self._open.show()

    def set_folder(self, folder: Path) -> None:
        """Where to write."""
        self._folder = folder
        self._where.set_whole(str(folder))
        self._session.store.set_setting("export folder", str(folder))
        self._open.hide()
        self._said.setText("")

    def _panel(self) -> QWidget:
        panel = QWidget()
        panel.setObjectName("side")
        panel.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        panel.setFixedWidth(306)
        column = QVBoxLayout(panel)
        column.setContentsMargins(20, 20, 20, 14)
        column.setSpacing(8)
        column.addWidget(label("WHAT TO WRITE", "heading"))
        column.addWidget(self._all)
        column.addSpacing(8)
        column.addWidget(label("DOCUMENTS", "heading"))
        for suffix, box in self._kinds.items():
            column.addWidget(box)
            if suffix == "txt":
                options = QHBoxLayout()
                options.setContentsMargins(24, 0, 0, 0)
                options.addWidget(self._speakers)
                options.addWidget(self._times)
                options.addStretch(1)
                column.addLayout(options)
        column.addSpacing(8)
        column.addWidget(label("LANGUAGES", "heading"))
        column.addWidget(self._source)
        column.addLayout(self._language_boxes)
        column.addSpacing(8)
        column.addWidget(label("FOLDER", "heading"))
        column.addWidget(self._where)
        column.addWidget(button("choose another", self._choose_folder, "link"))
        column.addStretch(1)
        column.addWidget(self._go)
        column.addWidget(self._said)
        column.addWidget(self._open, 0, Qt.AlignmentFlag.AlignCenter)
        return panel

    def _show_languages(self) -> None:
        there = sorted(
            {
                track.language
                for recording in self._session.recordings()
                for track in self._session.document(recording.id).tracks
            }
        )
        if there == sorted(self._languages):
            return
        clear(self._language_boxes)
        checked = {key for key, box in self._languages.items() if box.isChecked()}
        self._languages = {}
        for language in there:
            box = QCheckBox(f"{name_of(language)}   .{language}")
            box.setChecked(language in checked)
            box.toggled.connect(self.refresh)
            self._language_boxes.addWidget(box)
            self._languages[language] = box

    def _list_files(self) -> None:
        count = len(self._files)
        self._count.setText("1 file" if count == 1 else f"{count} files")
        self._go.setEnabled(count > 0)
        self._go.setText("Write 1 file" if count == 1 else f"Write {count} files")
        self._said.setText("" if count else "Tick a document and a recording that has text.")
        self._open.hide()
        clear(self._names)
        for file in self._files:
            choice = button(file.name, lambda file=file: self._choose(file), "choice")
            choice.setCheckable(True)
            choice.setToolTip(file.name)
            choice.setChecked(file == self._previewed)
            self._buttons.addButton(choice)
            self._names.addWidget(choice)
        self._names.addStretch(1)

    def _choose(self, file: Planned) -> None:
        self._previewed = file
        self._show_preview()

    def _show_preview(self) -> None:
        file = self._previewed
        for choice in self._buttons.buttons():
            choice.setChecked(file is not None and choice.text() == file.name)
        text = self._text(file) if file else ""
        self._title.set_whole(file.name if file else "Nothing to write")
        size = len(text.encode())
        self._size.setText(f"{size / 1000:.1f} kB" if size else "")
        self._preview.document().setDefaultFont(fonts.mono(13))
        if self._preview.toPlainText() != text:
            self._preview.setPlainText(text)

    def _text(self, file: Planned) -> str:
        options = TextOptions(self._speakers.isChecked(), self._times.isChecked())
        document = self._session.document(file.recording_id)
        return text_of(file, self._session.recording(file.recording_id), document, options)

    def _may_replace(self, names: list[str]) -> bool:
        listed = "\n".join(names[:8]) + ("\n…" if len(names) > 8 else "")
        answer = QMessageBox.question(
            self, "Replace files?", f"{len(names)} of these files are there already:\n\n{listed}"
        )
        return answer == QMessageBox.StandardButton.Yes

    def _choose_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Write to", str(self._folder))
        if name:
            self.set_folder(Path(name))

    def _open_folder(self) -> None:
        if self._written_to is not None:
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(self._written_to)))
