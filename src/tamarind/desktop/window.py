"""The main window: header, the four screens, the transport, and the keys that reach them all."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import (
    QAction,
    QActionGroup,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
)
from PySide6.QtWidgets import (
    QDialog,
    QFileDialog,
    QGridLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.actions import BY_NAME, COMMANDS
from tamarind.desktop.attention import Attention, DesktopNotices, Notices
from tamarind.desktop.awake import Awake
from tamarind.desktop.background import Totals
from tamarind.desktop.export.screen import ExportScreen
from tamarind.desktop.intake.screen import IntakeScreen
from tamarind.desktop.player import SPEED_STEP, Player
from tamarind.desktop.proof.listening import STEPS_BACK_MS
from tamarind.desktop.proof.screen import ProofScreen
from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours
from tamarind.desktop.translation.screen import TranslationScreen
from tamarind.desktop.widgets.header import STEPS, Header
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.transport import Transport
from tamarind.desktop.words import proofing_seconds
from tamarind.job.store import SUFFIX
from tamarind.translation.engines.apertium import Apertium

AT_THE_CARET = frozenset(
    "keep_doubt keep_spelling join delete_cue word_forward word_back proofed paragraph replay_cue"
    " loop start_earlier start_later end_earlier end_later start_here end_here take_heard"
    " leave_heard".split()
)
NOTICE_MS = 9_000
TELL = "tell when done"
SKIP_MS = 2_000


class MainWindow(QMainWindow):
    """One window, one job."""

    job_asked = Signal(object)

    def __init__(self, session: Session, notices: Notices | None = None) -> None:
        super().__init__()
        self.session = session
        self.attention = Attention(notices or DesktopNotices(), self)
        self.awake = Awake()
        self.setWindowTitle(f"{session.name} – Tamarind")
        self.resize(1280, 800)
        self.setMinimumSize(1000, 600)
        self.setAcceptDrops(True)
        self.player = Player(self)
        self._actions: dict[str, QAction] = {}
        self._make_actions()
        self.intake = IntakeScreen(session, self.player)
        self.proof = ProofScreen(session, self.player)
        self.translation = TranslationScreen(session, Apertium())
        self.export = ExportScreen(session)
        self.transport = Transport(session, self.player)
        self.header = Header(self._job_menu())
        self.header.set_job(session.name)
        self._screens = {
            "intake": self.intake,
            "proof": self.proof,
            "translation": self.translation,
            "export": self.export,
        }
        self._pages = QStackedWidget()
        for screen in self._screens.values():
            self._pages.addWidget(screen)
        self._notice = _Notice(self)
        middle = QWidget()
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.header)
        column.addWidget(self._pages, 1)
        column.addWidget(self.transport)
        self.setCentralWidget(middle)
        self._connect()
        self._load_shown()
        has_text = any(session.transcript(r.id).cues for r in session.recordings())
        last = session.store.setting("step", "proof" if has_text else "intake")
        self.show_step(last if last in self._screens else "intake")

    def show_step(self, name: str) -> None:
        """Go to one of the four steps."""
        self._pages.setCurrentWidget(self._screens[name])
        self.header.set_step(name)
        self.session.store.set_setting("step", name)
        if name == "proof":
            self.proof.sheet.setFocus()
        elif name == "translation":
            self.translation.sheet.setFocus()

    def step(self) -> str:
        """The step that is open."""
        return next(n for n, s in self._screens.items() if s is self._pages.currentWidget())

    def notice(self, text: str) -> None:
        """Say something for a while, over the foot of the page."""
        self._notice.say(text)

    def closeEvent(self, event: QCloseEvent) -> None:
        """All is on disk already; only work in the background is stopped."""
        self.player.stop()
        self.player.load(None)
        self.awake.let_go()
        self.intake.rest()
        self.session.close()
        event.accept()

    def resizeEvent(self, event: object) -> None:
        """The notice keeps its place."""
        super().resizeEvent(event)
        self._notice.place()

    # Dropping files

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Files are welcome on every step."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Bring dropped files in."""
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        jobs = [path for path in paths if path.suffix == SUFFIX]
        if jobs:
            self.job_asked.emit(jobs[0])
            return
        if paths:
            self.show_step("intake")
            self.intake.add(paths)
        event.acceptProposedAction()

    # Building

    def _make_actions(self) -> None:
        does = {
            "play": self._play,
            "back": lambda: self._skip(-SKIP_MS),
            "forward": lambda: self._skip(SKIP_MS),
            "previous_cue": lambda: self.proof.go_to_cue(-1),
            "next_cue": lambda: self.proof.go_to_cue(1),
            "play_word": self._play_from_caret,
            "replay_cue": lambda: self.proof.listening.replay_cue(),
            "loop": lambda: self.proof.listening.loop(),
            "stop_at_cues": lambda: self.proof.change_stopping(),
            "follow": lambda: self.proof.change_following(),
            "keep_spelling": lambda: self.proof.keep_spelling(),
            "word_forward": lambda: self.proof.retiming.move_word(True),
            "word_back": lambda: self.proof.retiming.move_word(False),
            "mark": lambda: self._in_proof(lambda: self.proof.ask_mark()),
            "find": lambda: self._in_proof(lambda: self.proof.find_bar.open()),
            "replace": lambda: self._in_proof(lambda: self.proof.find_bar.open(True)),
            "find_next": lambda: self._in_proof(lambda: self.proof.find_bar.step(1)),
            "find_previous": lambda: self._in_proof(lambda: self.proof.find_bar.step(-1)),
            "go_to_time": lambda: self.proof.ask_time(),
            "start_earlier": lambda: self.proof.retiming.nudge(-1, 0),
            "start_later": lambda: self.proof.retiming.nudge(1, 0),
            "end_earlier": lambda: self.proof.retiming.nudge(0, -1),
            "end_later": lambda: self.proof.retiming.nudge(0, 1),
            "start_here": lambda: self.proof.retiming.set_start(),
            "end_here": lambda: self.proof.retiming.set_end(),
            "times": lambda: self._in_proof(lambda: self.proof.retiming.ask_times()),
            "close_gaps": lambda: self._in_proof(lambda: self.proof.retiming.close_gaps()),
            "empty_cue": lambda: self._in_proof(lambda: self.proof.retiming.insert_empty()),
            "slower": lambda: self.player.set_speed(self.player.speed - SPEED_STEP),
            "faster": lambda: self.player.set_speed(self.player.speed + SPEED_STEP),
            "clean_sound": lambda: self.transport.change_sound(),
            "next_doubt": lambda: self._in_proof(lambda: self.proof.go_to_next_doubt(1)),
            "previous_doubt": lambda: self._in_proof(lambda: self.proof.go_to_next_doubt(-1)),
            "hear_doubt": lambda: self.proof.hear_doubt(),
            "keep_doubt": lambda: self.proof.keep_doubt(),
            "hear_again": lambda: self._in_proof(self.proof.again.start),
            "take_heard": lambda: self.proof.again.take(),
            "leave_heard": lambda: self.proof.again.leave(),
            "join": lambda: self.proof.sheet.join_next(),
            "delete_cue": lambda: self.proof.sheet.delete_cue(),
            "proofed": lambda: self.proof.mark_proofed(),
            "paragraph": lambda: self.proof.toggle_paragraph(),
            "speaker": lambda: self._in_proof(lambda: self.proof.name_speaker()),
            "undo": lambda: self._undo(self.session.undo),
            "redo": lambda: self._undo(self.session.redo),
            "larger": lambda: self.proof.change_text_size(1),
            "smaller": lambda: self.proof.change_text_size(-1),
            "keys": self.show_keys,
            "open": self._ask_open,
            "new": self._ask_new,
            "quit": self.close,
        }
        for name, _ in STEPS:
            does[name] = lambda name=name: self.show_step(name)
        for command in COMMANDS:
            action = QAction(command.label, self)
            action.setShortcuts([QKeySequence(key) for key in command.keys])
            action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
            action.triggered.connect(
                lambda _=False, name=command.name, do=does[command.name]: self._run(name, do)
            )
            self.addAction(action)
            self._actions[command.name] = action
        for number in range(10):
            action = QAction(f"Speaker {number}", self)
            action.setShortcut(QKeySequence(f"Alt+{number}"))
            action.triggered.connect(lambda _=False, n=number: self.proof.take_speaker(n))
            self.addAction(action)

    def _job_menu(self) -> QMenu:
        menu = QMenu(self)
        for name in ("new", "open", None, "undo", "redo", None, "larger", "smaller", "keys"):
            if name is None:
                menu.addSeparator()
            else:
                menu.addAction(self._actions[name])
        menu.addSeparator()
        menu.addMenu(self._step_back_menu())
        self._tell_when_done = menu.addAction("Tell me when a batch is done")
        self._tell_when_done.setCheckable(True)
        self._tell_when_done.setChecked(self.session.store.setting(TELL, "yes") == "yes")
        self._tell_when_done.toggled.connect(
            lambda on: self.session.keep_setting(TELL, "yes" if on else "no")
        )
        menu.addAction(self._actions["quit"])
        menu.aboutToShow.connect(self._name_undo)
        return menu

    def _step_back_menu(self) -> QMenu:
        menu = QMenu("Step back when stopped", self)
        listening = self.proof.listening
        group = QActionGroup(menu)
        for step in STEPS_BACK_MS:
            act = menu.addAction(f"{step / 1000:g} s" if step else "not at all")
            act.setCheckable(True)
            act.setChecked(step == listening.step_back)
            act.triggered.connect(lambda _=False, ms=step: listening.set_step_back(ms))
            group.addAction(act)
        return menu

    def _connect(self) -> None:
        session = self.session
        self.header.step_asked.connect(self.show_step)
        self.intake.proof_asked.connect(lambda _id: self.show_step("proof"))
        self.proof.intake_asked.connect(lambda: self.show_step("intake"))
        self.transport.play_asked.connect(self._play)
        self.transport.skip_asked.connect(self._skip)
        session.trouble.connect(self.notice)
        session.told.connect(self.notice)
        self.player.trouble.connect(self.notice)
        session.saved.connect(lambda: self.header.set_saved("saved"))
        session.trouble.connect(lambda _text: self.header.set_saved(""))
        session.shown_changed.connect(self._load_shown)
        session.background.prepared.connect(self._prepared)
        session.background.line_changed.connect(self._line_changed)
        session.background.finished.connect(self._batch_done)
        self.intake.listen_clean_asked.connect(self._listen_clean)
        self.transport.sound_asked.connect(self._load_sound)
        self.proof.find_bar.places_changed.connect(
            lambda: self.transport.overview.show_marks(self.proof.find_bar.marks())
        )
        self._later = QTimer(self, singleShot=True, interval=150)
        self._later.timeout.connect(self.transport.refresh)
        for signal in (session.document_changed, session.recording_changed):
            signal.connect(self._shown_news)
        self.header.set_saved("saved")

    def _shown_news(self, recording_id: int) -> None:
        if recording_id == self.session.shown and not self._later.isActive():
            self._later.start()

    def _load_shown(self) -> None:
        self._load_sound(keep_place=False)
        self.transport.refresh()

    def _load_sound(self, keep_place: bool = True) -> None:
        """Put the shown recording's sound into the player: as recorded, or cleaned once it is."""
        recording = self.session.shown_recording()
        there = recording is not None and recording.path.is_file()
        place = self.player.position
        wanted = there and self.transport.wants_clean
        cleaned = self.session.background.cleaned_sound(recording.id) if wanted else None
        self.player.load(cleaned or recording.path if there else None)
        if keep_place:
            self.player.seek(place)
        self.transport.show_sound(cleaned is not None)

    def _line_changed(self) -> None:
        """While something is being heard, the computer had better not fall asleep."""
        if self.session.background.totals().side_by_side:
            self.awake.hold()
        else:
            self.awake.let_go()

    def _batch_done(self, totals: Totals) -> None:
        if self._tell_when_done.isChecked():
            session = self.session
            drafts = [r.id for r in session.recordings() if session.transcript(r.id).cues]
            left = sum(proofing_seconds(session.survey(key)) for key in drafts)
            self.attention.batch_done(session.name, totals, left)

    def _listen_clean(self) -> None:
        """From Intake: hear what clean-up would make of the recording."""
        if not self.transport.wants_clean:
            self.transport.change_sound()
        self.player.play()

    def _prepared(self, recording_id: int) -> None:
        if recording_id == self.session.shown and self.transport.wants_clean:
            self._load_sound()

    # Commands

    def _play(self) -> None:
        if self.step() == "proof":
            self.proof.play_or_stop()
        elif self.player.is_playing:
            self.player.stop()
        else:
            self.player.play()

    def _play_from_caret(self) -> None:
        if self.step() == "translation":
            self.player.play(self.translation.sheet.caret_time())
        else:
            self.proof.play_from_caret()

    def _skip(self, milliseconds: int) -> None:
        self.player.seek(self.player.position + milliseconds)

    def _run(self, name: str, do: object) -> None:
        """Do a command; what changes the text at the caret is done only where that is seen."""
        if name not in AT_THE_CARET or self.step() == "proof":
            do()

    def _in_proof(self, do: object) -> None:
        if self.step() != "proof":
            self.show_step("proof")
        do()

    def _undo(self, do: object) -> None:
        recording_id = do()
        if recording_id is None:
            self.notice(
                "There is nothing more to undo."
                if do == self.session.undo
                else "There is nothing to do again."
            )
        elif recording_id != self.session.shown:
            self.session.show(recording_id)

    def _name_undo(self) -> None:
        undo, redo = self.session.undo_labels()
        for name, what in (("undo", undo), ("redo", redo)):
            plain = BY_NAME[name].label
            self._actions[name].setText(f"{plain}: {what}" if what else plain)

    def _ask_open(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Open a job", str(self.session.store.path.parent), f"Jobs (*{SUFFIX})"
        )
        if name:
            self.job_asked.emit(Path(name))

    def _ask_new(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "New job", str(self.session.store.path.parent / f"New job{SUFFIX}"),
            f"Jobs (*{SUFFIX})",
        )  # fmt: skip
        if name:
            self.job_asked.emit(Path(name if name.endswith(SUFFIX) else name + SUFFIX))

    def show_keys(self) -> None:
        """A list of all keys."""
        dialog = QDialog(self)
        dialog.setWindowTitle("Keys")
        dialog.resize(460, 600)
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setColumnStretch(0, 1)
        group = None
        row = 0
        for command in COMMANDS:
            if command.group != group:
                group = command.group
                grid.addWidget(label(group.upper(), "heading"), row, 0)
                row += 1
            keys = "  or  ".join(key.replace("Return", "Enter") for key in command.keys)
            grid.addWidget(label(command.label), row, 0)
            grid.addWidget(label(keys, "note"), row, 1)
            row += 1
        for text, keys in (
            ("Split the cue at the caret", "Enter"),
            ("Hear from a word", "Ctrl+click"),
            ("Give the turn to a speaker", "Alt+1 … Alt+9"),
        ):
            grid.addWidget(label(text), row, 0)
            grid.addWidget(label(keys, "note"), row, 1)
            row += 1
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inside)
        column = QVBoxLayout(dialog)
        column.addWidget(scroll)
        column.addWidget(button("Close", dialog.accept))
        dialog.exec()


class _Notice(QLabel):
    """A sentence over the foot of the page, gone after a while or at a click."""

    def __init__(self, window: QMainWindow) -> None:
        super().__init__(window)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setStyleSheet(
            f"background: {colours.INK}; color: {colours.SHEET}; border-radius: 8px;"
            " padding: 10px 16px;"
        )
        self._timer = QTimer(self, singleShot=True, interval=NOTICE_MS)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def say(self, text: str) -> None:
        """Show a sentence."""
        self.setText(text)
        self.setAccessibleName(text)
        self.place()
        self.show()
        self.raise_()
        self._timer.start()

    def place(self) -> None:
        """In the middle, above the transport."""
        width = min(self.parentWidget().width() - 80, 620)
        self.setFixedWidth(width)
        self.adjustSize()
        foot = self.parentWidget().height() - 120
        self.move((self.parentWidget().width() - width) // 2, foot - self.height())

    def mousePressEvent(self, event: object) -> None:
        """Seen."""
        self.hide()
