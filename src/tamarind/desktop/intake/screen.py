"""The Intake screen: the recordings as cards, and how to hear them."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPoint, Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QMessageBox,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.intake.card import Card
from tamarind.desktop.intake.settings_panel import SettingsPanel
from tamarind.desktop.session import Session
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.captionfile import FormatError
from tamarind.formats.documents import CAPTION_SUFFIXES

REFRESH_MS = 120


class IntakeScreen(QWidget):
    """Cards in order, and the panel for those that are chosen."""

    proof_asked = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._cards: dict[int, Card] = {}
        self._chosen: list[int] = []
        self._note = label("", "note")
        self._panel = SettingsPanel(session)
        self._panel.transcribe_asked.connect(self.transcribe)
        inside = QWidget(objectName="page")
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(0, 0, 6, 12)
        self._column.setSpacing(10)
        self._column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inside)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._pages = QStackedWidget()
        self._pages.addWidget(scroll)
        self._pages.addWidget(_empty_page(self.choose_files, self.choose_folder))

        self._ways = QWidget()
        ways = QHBoxLayout(self._ways)
        ways.setContentsMargins(0, 0, 0, 0)
        ways.setSpacing(4)
        ways.addWidget(label("Drop sound or video files anywhere on this page, or", "note"))
        ways.addWidget(button("choose files", self.choose_files, "link"))
        ways.addWidget(label("or", "note"))
        ways.addWidget(button("a whole folder", self.choose_folder, "link"))
        ways.addStretch(1)
        ways.addWidget(self._note)
        left = QVBoxLayout()
        left.setContentsMargins(24, 16, 14, 0)
        left.setSpacing(4)
        left.addWidget(label("Recordings to hear", "title"))
        left.addWidget(self._ways)
        left.addSpacing(4)
        left.addWidget(self._pages, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(left, 1)
        row.addWidget(self._panel)

        # News of a busy batch come faster than anyone can read; cards follow at their own pace.
        self._later = QTimer(self, singleShot=True, interval=REFRESH_MS)
        self._later.timeout.connect(self._refresh_cards)
        session.recordings_changed.connect(self.refresh)
        for signal in (session.recording_changed, session.document_changed):
            signal.connect(lambda _id: self._later.start() if not self._later.isActive() else None)
        self.refresh()

    def add(self, paths: list[Path]) -> None:
        """Bring files and folders in; caption files become the text of the chosen recording."""
        captions = [path for path in paths if path.suffix.lower().lstrip(".") in CAPTION_SUFFIXES]
        media = [path for path in paths if path not in captions]
        added, known = self._session.add_files(media) if media else (0, 0)
        said = []
        if added:
            said.append(f"{added} added")
        if known:
            said.append(f"{known} already here")
        self._note.setText(", ".join(said))
        for path in captions:
            self._take_captions(path)

    def choose_files(self) -> None:
        """Ask for files."""
        names, _ = QFileDialog.getOpenFileNames(self, "Bring recordings in", self._folder())
        if names:
            self._remember(Path(names[0]).parent)
            self.add([Path(name) for name in names])

    def choose_folder(self) -> None:
        """Ask for a folder."""
        name = QFileDialog.getExistingDirectory(self, "Bring a folder in", self._folder())
        if name:
            self._remember(Path(name))
            self.add([Path(name)])

    def transcribe(self) -> None:
        """Start the batch: the chosen recordings that can be heard, or all if none is chosen."""
        self._session.transcribe([recording.id for recording in self._ready()])

    def refresh(self) -> None:
        """Recordings have come, gone or changed places in line."""
        there = {recording.id: recording for recording in self._session.recordings()}
        for key in [key for key in self._cards if key not in there]:
            self._cards.pop(key).deleteLater()
        self._chosen = [key for key in self._chosen if key in there]
        for place, recording in enumerate(there.values()):
            if recording.id not in self._cards:
                card = Card(self._session, recording)
                card.chosen.connect(self._choose)
                card.opened.connect(self._open)
                card.menu_asked.connect(self._menu)
                self._cards[recording.id] = card
                self._column.insertWidget(place, card)
        self._pages.setCurrentIndex(0 if there else 1)
        self._ways.setVisible(bool(there))
        self._refresh_cards()

    def _refresh_cards(self) -> None:
        for key, card in self._cards.items():
            card.refresh()
            card.set_chosen(key in self._chosen)
        self._panel.show_choice(self._chosen)
        busy = any(r.state.value == "queued" for r in self._session.recordings())
        self._panel.show_work(self._ready(), busy)

    def _ready(self) -> list:
        ready = [r for r in self._session.recordings() if self._session.can_hear(r)]
        chosen = [r for r in ready if r.id in self._chosen]
        return chosen or ready

    def _choose(self, key: int, adding: bool) -> None:
        if not adding:
            self._chosen = [key]
        elif key in self._chosen:
            self._chosen.remove(key)
        else:
            self._chosen.append(key)
        self._session.show(key)
        self._refresh_cards()

    def _open(self, key: int) -> None:
        self._session.show(key)
        self.proof_asked.emit(key)

    def _menu(self, key: int, point: QPoint) -> None:
        recording = self._session.recording(key)
        menu = QMenu(self)
        hear = menu.addAction("Transcribe", lambda: self._session.transcribe([key]))
        hear.setEnabled(self._session.can_hear(recording))
        menu.addAction("Open to proof", lambda: self._open(key))
        menu.addAction("Take its text from a caption file…", lambda: self._ask_captions(key))
        menu.addSeparator()
        menu.addAction("Take it out of the job", lambda: self._ask_remove(key))
        menu.exec(point)

    def _ask_captions(self, key: int) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Text for this recording", self._folder(), "Captions (*.srt *.vtt *.json *.txt)"
        )
        if name:
            self.import_text(key, Path(name))

    def import_text(self, key: int, path: Path) -> None:
        """Take a caption file as a recording's text; a text that is there goes, with undo."""
        try:
            self._session.import_text(key, path)
        except FormatError as error:
            self._session.trouble.emit(f"{path.name}: {error}")

    def _take_captions(self, path: Path) -> None:
        """A dropped caption file belongs to the recording of its name, else to the one chosen."""
        named = [r.id for r in self._session.recordings() if path.stem.startswith(r.name)]
        target = named or self._chosen[:1]
        if target:
            self.import_text(target[0], path)
        else:
            self._session.trouble.emit(
                f"{path.name}: choose the recording it belongs to, then drop it again."
            )

    def _ask_remove(self, key: int) -> None:
        recording = self._session.recording(key)
        if self._session.transcript(key).cues:
            answer = QMessageBox.question(
                self,
                "Take it out?",
                f"“{recording.name}” and its text will be taken out of the job for good. "
                "The sound file itself stays where it is.",
            )
            if answer != QMessageBox.StandardButton.Yes:
                return
        self._session.remove(key)

    def _folder(self) -> str:
        return self._session.store.setting("media folder", str(Path.home()))

    def _remember(self, folder: Path) -> None:
        self._session.store.set_setting("media folder", str(folder))


def _empty_page(choose_files: object, choose_folder: object) -> QWidget:
    page = QWidget()
    column = QVBoxLayout(page)
    column.addStretch(2)
    for text, role in (
        ("Drop your recordings here", "title"),
        ("Sound or video, one or eighty at a time. They stay where they are.", "note"),
    ):
        column.addWidget(label(text, role), 0, Qt.AlignmentFlag.AlignCenter)
    ways = QHBoxLayout()
    ways.addStretch(1)
    ways.addWidget(button("Choose files…", choose_files))
    ways.addWidget(button("Choose a folder…", choose_folder))
    ways.addStretch(1)
    column.addSpacing(8)
    column.addLayout(ways)
    column.addStretch(3)
    return page
