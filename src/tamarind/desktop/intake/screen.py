"""The Intake page: the recordings as cards in order, and their settings."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

from PySide6.QtCore import QPoint, Qt, QTimer, Signal
from PySide6.QtGui import QAction, QKeySequence, QMouseEvent
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QMessageBox,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.application import personal
from tamarind.application.session import Session
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.intake.card import Card
from tamarind.desktop.intake.card_column import CardColumn
from tamarind.desktop.intake.folder_dialog import FolderDialog
from tamarind.desktop.intake.importing import Importing
from tamarind.desktop.intake.offers import Offers
from tamarind.desktop.intake.settings_panel import SettingsPanel
from tamarind.desktop.intake.speech_dialog import SpeechDialog, can_be_typed
from tamarind.desktop.intake.terms_dialog import ask_for_terms, with_terms
from tamarind.desktop.openpath import open_path
from tamarind.desktop.player import Player
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.captionfile import FormatError
from tamarind.formats.documents import READ, is_captions
from tamarind.job.bringing import FoundFiles, captions_for, found, media_suffixes, paths_in
from tamarind.job.recording import Recording, State
from tamarind.job.settings import MEDIA_FOLDER

REFRESH_MS = 120
TEXTS = " ".join(f"*.{suffix}" for suffix in READ)
OF_THE_SYSTEM = (QKeySequence.StandardKey.Paste, QKeySequence.StandardKey.SelectAll)
"""Keys that mean here what they mean in every program."""

CARDS_AT_ONCE = 3
"""New cards made before the window is given a chance to paint and to take keys."""


class IntakeScreen(QWidget):
    """Shows the cards, and the panel for the selected ones."""

    proof_asked = Signal(int)
    speakers_asked = Signal()
    listen_clean_asked = Signal()

    def __init__(self, session: Session, player: Player, hearing_dialog: HearingDialog) -> None:
        super().__init__()
        self._session, self._player = session, player
        self.cards: dict[int, Card] = {}
        self._chosen: list[int] = []
        self._stale: set[int] = set()
        self.note = label("", "note")
        self.panel = SettingsPanel(session)
        self.panel.transcribe_asked.connect(self.transcribe)
        self.panel.type_asked.connect(lambda: self.make_empty_cues(self._chosen[0]))
        self.panel.listen_clean_asked.connect(self.listen_clean_asked)
        self.column = CardColumn()
        self.column.dropped.connect(self._dropped)
        self.column.pressed_beside.connect(lambda: self._choose_only([]))
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setWidget(self.column)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._pages = QStackedWidget()
        self._pages.addWidget(self._scroll)
        self._pages.addWidget(_empty_page(self.choose_files, self.choose_folder))
        self._make_ways(session, hearing_dialog)
        self._lay_out()
        self._add_keys()
        # News of a busy batch come faster than anyone can read; cards follow at their own pace.
        self._later = QTimer(self, singleShot=True, interval=REFRESH_MS)
        self._later.timeout.connect(self._refresh_stale)
        self._card_timer = QTimer(self, singleShot=True, interval=0)
        self._card_timer.timeout.connect(self._make_cards)
        session.recordings.list_changed.connect(self.refresh)
        for signal in (session.recordings.changed, session.texts.changed):
            signal.connect(self._went_stale)
        player.moved.connect(self._playhead_moved)
        session.shown_changed.connect(lambda: self._playhead_moved(self._player.position))
        self.refresh()

    def _make_ways(self, session: Session, hearing_dialog: HearingDialog) -> None:
        """Make the parts by which recordings come in."""
        self.importing = Importing(session, hearing_dialog, self)
        self.offers = Offers(session, self.import_text)

        self._small = personal.read(personal.SMALL_CARDS)
        self._size = button("", self.change_size, "link")
        self._name_size()
        self._ways = QWidget()
        ways = QHBoxLayout(self._ways)
        ways.setContentsMargins(0, 0, 0, 0)
        ways.setSpacing(4)
        ways.addWidget(label("Drop files anywhere, or", "note"))
        ways.addWidget(button("add files", self.choose_files, "link"))
        ways.addWidget(label("or", "note"))
        ways.addWidget(button("add a folder", self.choose_folder, "link"))
        ways.addStretch(1)
        ways.addWidget(self.note)
        ways.addSpacing(10)
        ways.addWidget(self._size)

    def _add_keys(self) -> None:
        """Add keys for what is done with selected recordings."""
        for keys, do in (
            (QKeySequence(OF_THE_SYSTEM[0]), self.paste),
            (QKeySequence(OF_THE_SYSTEM[1]), self._choose_all),
            (QKeySequence(Qt.Key.Key_Escape), lambda: self._choose_only([])),
            (QKeySequence(Qt.Key.Key_Delete), self._ask_remove_chosen),
        ):
            action = QAction(self)
            action.setShortcut(keys)
            action.setShortcutContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
            action.triggered.connect(lambda _=False, act=do: act())
            self.addAction(action)

    def _lay_out(self) -> None:
        """Place the recordings beside the settings."""
        left = QVBoxLayout()
        left.setContentsMargins(24, 16, 14, 0)
        left.setSpacing(4)
        left.addWidget(label("Recordings", "title"))
        left.addWidget(self._ways)
        left.addSpacing(4)
        left.addWidget(self.offers)
        left.addWidget(self._pages, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(left, 1)
        row.addWidget(self.panel)

    def rest(self) -> None:
        """Stop using the job, which is being closed."""
        self._later.stop()
        self._card_timer.stop()
        self._session.recordings.list_changed.disconnect(self.refresh)
        for signal in (self._session.recordings.changed, self._session.texts.changed):
            signal.disconnect(self._went_stale)

    # Bringing in

    def add(self, paths: list[Path]) -> None:
        """Add files and folders; caption files are offered as the text of their recordings."""
        self._bring(found(paths))

    def paste(self) -> None:
        """Add the files on the clipboard, or those that a copied text names."""
        data = QApplication.clipboard().mimeData()
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
        paths = paths or paths_in(data.text())
        if paths:
            self.add(paths)
        else:
            self.note.setText("The clipboard has no files that exist.")

    def choose_files(self) -> None:
        """Ask for files."""
        names, _ = QFileDialog.getOpenFileNames(
            self, "Add recordings", self._folder(), _file_filter()
        )
        if names:
            self._remember(Path(names[0]).parent)
            self.add([Path(name) for name in names])

    def choose_folder(self) -> None:
        """Ask for a folder, and show what it holds."""
        name = QFileDialog.getExistingDirectory(self, "Add a folder", self._folder())
        if name:
            self._remember(Path(name))
            dialog = FolderDialog(Path(name), found([Path(name)]), self)
            if dialog.exec():
                self._bring(found(dialog.chosen()))

    def _bring(self, what: FoundFiles) -> None:
        added, known = self._session.add_files(what.media) if what.media else (0, 0)
        said = []
        if added:
            said.append(f"{added} added")
        if known:
            said.append(f"{known} already here")
        if what.skipped:
            said.append(f"{len(what.skipped)} not added: no sound or video")
        self.note.setText(", ".join(said))
        self._offer(what.captions)
        for path in what.papers:
            self._ask_for_terms(path)

    def _ask_for_terms(self, path: Path) -> None:
        """Ask for terms of a document, since an agenda has names that will be said."""
        glossary = self._session.glossary()
        language = self._session.usual().how.expected
        try:
            terms = ask_for_terms(path, glossary, language, self)
        except FormatError as error:
            self._session.trouble.emit(str(error))
            return
        if terms:
            self._session.set_glossary(with_terms(glossary, terms))
            count = "1 term is" if len(terms) == 1 else f"{len(terms)} terms are"
            self.note.setText(f"{count} used in what is transcribed next")

    def _offer(self, captions: list[Path]) -> None:
        """Offer a caption file to the recording of its name, else to the selected one."""
        left = list(captions)
        for recording in self._session.recordings.all():
            path = captions_for(recording.name, left)
            if path is not None:
                left.remove(path)
                self.offers.offer(recording.id, path)
        for path in left:
            if len(self._chosen) == 1:
                self.offers.offer(self._chosen[0], path)
            else:
                self._session.trouble.emit(
                    f"{path.name}: select the recording it belongs to, then drop it again."
                )

    # The batch

    def transcribe(self) -> None:
        """Start the batch: the selected recordings that can be transcribed, or all if none is
        selected."""
        self._session.queue.transcribe([recording.id for recording in self._ready()])

    def _ready(self) -> list[Recording]:
        can_hear = self._session.queue.can_hear
        ready = [r for r in self._session.recordings.all() if can_hear(r)]
        chosen = [r for r in ready if r.id in self._chosen]
        return chosen or ready

    # The cards

    def refresh(self) -> None:
        """Show recordings that have come, gone or moved."""
        there = [recording.id for recording in self._session.recordings.all()]
        for key in [key for key in self.cards if not self._session.recordings.has(key)]:
            self.cards.pop(key).deleteLater()
        self._chosen = [key for key in self._chosen if key in there]
        self._pages.setCurrentIndex(0 if there else 1)
        self._ways.setVisible(bool(there))
        self._make_cards()
        self.column.arrange([self.cards[key] for key in there if key in self.cards])
        self._stale.update(there)
        if not self._later.isActive():
            self._later.start()
        self._refresh_panel()

    def _make_cards(self) -> None:
        missing = [r for r in self._session.recordings.all() if r.id not in self.cards]
        for recording in missing[:CARDS_AT_ONCE]:
            card = Card(self._session, recording)
            card.chosen.connect(self.choose)
            card.opened.connect(self._open)
            card.speakers_asked.connect(self._ask_speakers)
            card.menu_asked.connect(self.show_menu)
            card.move_asked.connect(self._move)
            card.listened.connect(self._listen)
            card.part_chosen.connect(self.panel.choose_part)
            card.set_small(self._small)
            self.cards[recording.id] = card
        if missing:
            there = [r.id for r in self._session.recordings.all() if r.id in self.cards]
            self.column.arrange([self.cards[key] for key in there])
        if len(missing) > CARDS_AT_ONCE:
            self._card_timer.start()

    def change_size(self) -> None:
        """Switch between small and large cards; remembered for all jobs."""
        self._small = not self._small
        personal.keep(personal.SMALL_CARDS, self._small)
        for card in self.cards.values():
            card.set_small(self._small)
        self._name_size()

    def _name_size(self) -> None:
        self._size.setText("Show waveforms" if self._small else "Compact list")

    def _went_stale(self, key: int) -> None:
        self._stale.add(key)
        if not self._later.isActive():
            self._later.start()

    def _refresh_stale(self) -> None:
        stale, self._stale = self._stale, set()
        for key in stale:
            if key in self.cards and self._session.recordings.has(key):
                self.cards[key].refresh()
        self._refresh_panel()

    def _refresh_panel(self) -> None:
        for key, card in self.cards.items():
            card.set_chosen(key in self._chosen)
        self.panel.show_choice(self._chosen)
        self.panel.show_work(self._ready())

    def choose(self, key: int, modifiers: Qt.KeyboardModifier) -> None:
        """Select one card; with Ctrl one more or less; with Shift all up to it."""
        if modifiers & Qt.KeyboardModifier.ShiftModifier and self._chosen:
            keys = [recording.id for recording in self._session.recordings.all()]
            a, b = sorted((keys.index(self._chosen[0]), keys.index(key)))
            first = self._chosen[0]
            self._chosen = [first, *(k for k in keys[a : b + 1] if k != first)]
        elif not modifiers & Qt.KeyboardModifier.ControlModifier:
            self._chosen = [key]
        elif key in self._chosen:
            self._chosen.remove(key)
        else:
            self._chosen.append(key)
        self._session.show(key)
        self._refresh_panel()

    def _choose_only(self, keys: list[int]) -> None:
        self._chosen = keys
        self._refresh_panel()

    def _choose_all(self) -> None:
        self._choose_only([recording.id for recording in self._session.recordings.all()])

    def _open(self, key: int) -> None:
        self._session.show(key)
        self.proof_asked.emit(key)

    def _ask_speakers(self, key: int) -> None:
        self._open(key)
        self.speakers_asked.emit()

    def _dropped(self, key: int, place: int) -> None:
        keys = self._chosen if key in self._chosen else [key]
        self._session.move(keys, place)

    def _move(self, key: int, step: int) -> None:
        keys = [recording.id for recording in self._session.recordings.all()]
        place = keys.index(key) + (2 if step > 0 else -1)
        if 0 <= place <= len(keys):
            self._session.move([key], place)
            self.cards[key].setFocus()
            self._scroll.ensureWidgetVisible(self.cards[key])

    def _listen(self, key: int, time: int) -> None:
        self._session.show(key)
        self._player.play(time)

    def _playhead_moved(self, position: int) -> None:
        shown = self._session.shown
        for key, card in self.cards.items():
            card.sound.set_position(position if key == shown and position else None)

    # One recording

    def _ask_details(self, keys: list[int]) -> None:
        from tamarind.desktop.clients.details_dialog import ask_details  # seldom wanted

        ask_details(self._session, keys, self.window())

    def show_menu(self, key: int, point: QPoint) -> None:
        """Show what can be done with a recording, or with all that are selected."""
        if key not in self._chosen:
            self._choose_only([key])
        session, queue = self._session, self._session.queue
        keys = list(self._chosen)
        chosen = [session.recordings.get(k) for k in keys]
        menu = QMenu(self)

        def add(text: str, do: Callable[[], object], enabled: bool) -> None:
            menu.addAction(text, do).setEnabled(enabled)

        hear = [r.id for r in chosen if queue.can_hear(r)]
        stop = [r.id for r in chosen if r.state is State.QUEUED]
        again = [r.id for r in chosen if r.state is State.FAILED]
        add("Transcribe", lambda: queue.transcribe(hear), bool(hear))
        add("Cancel", lambda: queue.cancel(*stop), bool(stop))
        add("Try again", lambda: queue.look_again(*again), bool(again))
        menu.addSeparator()
        add("Open to proof", lambda: self._open(key), len(keys) == 1)
        add(
            "Empty cues from speech…",
            lambda: self.make_empty_cues(key),
            len(keys) == 1 and can_be_typed(session, key),
        )
        add("Import a transcript…", lambda: self._ask_captions(key), len(keys) == 1)
        add("Document details…", lambda: self._ask_details(keys), True)
        folder = session.recordings.get(key).path.parent
        add("Show in folder", lambda: open_path(folder), len(keys) == 1 and folder.is_dir())
        menu.addSeparator()
        order = [r.id for r in session.recordings.all()]
        add("Move to the front of the queue", lambda: session.move(keys, 0), order[0] not in keys)
        add("Move to the end of the queue", lambda: session.move(keys, len(order)), True)
        what = "Remove from the job" if len(keys) == 1 else f"Remove {len(keys)} from the job"
        add(what, self._ask_remove_chosen, True)
        menu.exec(point)

    def make_empty_cues(self, key: int) -> None:
        """Ask how to find speech, and make cues for typing into."""
        playhead = self._player.position if self._session.shown == key else 0
        if SpeechDialog(self._session, key, playhead, self).exec():
            self._open(key)

    def _ask_captions(self, key: int) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Import a transcript", self._folder(), f"Texts ({TEXTS})"
        )
        if name:
            self.import_text(key, Path(name))

    def import_text(self, key: int, path: Path) -> None:
        """Import a file as a recording's text, replacing one that is there, with undo."""
        self.importing.take(key, path)

    def _ask_remove_chosen(self) -> None:
        keys = list(self._chosen)
        with_text = [key for key in keys if self._session.texts.transcript(key).cues]
        if with_text:
            name = self._session.recordings.get(with_text[0]).name
            what = f"“{name}” and its text" if len(with_text) == 1 else (
                f"The texts of {len(with_text)} recordings"
            )  # fmt: skip
            answer = QMessageBox.question(
                self,
                "Remove from the job?",
                f"{what} will be removed from the job. The recordings themselves are not deleted.",
            )
            if answer != QMessageBox.StandardButton.Yes:
                return
        for key in keys:
            self._session.remove(key)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Clear the selection on a press beside the cards: the settings are those for new
        recordings then."""
        self._choose_only([])

    def _folder(self) -> str:
        return str(self._session.settings.get(MEDIA_FOLDER) or Path.home())

    def _remember(self, folder: Path) -> None:
        self._session.settings.keep(MEDIA_FOLDER, folder)


def _empty_page(choose_files: Callable[[], object], choose_folder: Callable[[], object]) -> QWidget:
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
    ways.addWidget(button("Add files…", choose_files))
    ways.addWidget(button("Add a folder…", choose_folder))
    ways.addStretch(1)
    column.addSpacing(8)
    column.addLayout(ways)
    column.addStretch(3)
    return page


def _file_filter() -> str:
    """Return the filter for a file dialog."""

    def patterns(suffixes: Iterable[str]) -> str:
        # Cameras and recorders write in capitals.
        return " ".join(f"*.{one}" for suffix in suffixes for one in (suffix, suffix.upper()))

    sounds, texts = patterns(media_suffixes()), patterns(filter(is_captions, READ))
    return f"Sound and video ({sounds});;Captions ({texts});;All files (*)"
