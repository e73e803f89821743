"""The main window: header, the four screens, the transport, and the keys that reach them all."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import (
    QAction,
    QActionGroup,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QLabel,
    QMainWindow,
    QMenu,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.audio.media import names_others
from tamarind.desktop import keys, personal, placement
from tamarind.desktop.actions import BY_NAME, COMMANDS, SHEETS, SPEAKER_KEYS
from tamarind.desktop.anything import AnythingDialog, Finder
from tamarind.desktop.aside import Aside
from tamarind.desktop.attention import Attention, DesktopNotices, Notices
from tamarind.desktop.awake import Awake
from tamarind.desktop.background import Totals
from tamarind.desktop.checking import Checking
from tamarind.desktop.export.screen import ExportScreen
from tamarind.desktop.failures import failures
from tamarind.desktop.help import GuideDialog, PageDialog, about, news
from tamarind.desktop.intake.screen import IntakeScreen
from tamarind.desktop.job_commands import JobCommands
from tamarind.desktop.keys_dialog import KeysDialog
from tamarind.desktop.pedals import PedalDialog, Pedals
from tamarind.desktop.player import SPEED_STEP, VOLUME_STEP, Player
from tamarind.desktop.proof.listening import STEPS_BACK_MS
from tamarind.desktop.proof.screen import ProofScreen
from tamarind.desktop.room_dialog import RoomDialog
from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours
from tamarind.desktop.theme.apply import apply
from tamarind.desktop.translation.screen import TranslationScreen
from tamarind.desktop.unsaved_dialog import UnsavedDialog
from tamarind.desktop.widgets.header import STEPS, Header
from tamarind.desktop.widgets.hints import refresh_hints
from tamarind.desktop.widgets.transport import Transport
from tamarind.desktop.words import proofing_seconds
from tamarind.job.jobfile import SUFFIX, JobError
from tamarind.job.opening import free_name
from tamarind.job.recording import Recording
from tamarind.translation.engines.apertium import Apertium

NOTICE_MS = 9_000
TELL = "tell when done"
SKIP_MS = 2_000
SMALLEST = (940, 540)
"""What a screen of 1024×640 leaves inside a frame, beside a panel."""

STRIP_FOLLOWS_MS = 600


class MainWindow(QMainWindow):
    """One window, one job."""

    job_asked = Signal(object)
    name_asked = Signal(object)

    def __init__(self, session: Session, notices: Notices | None = None) -> None:
        super().__init__()
        self.session = session
        self.attention = Attention(notices or DesktopNotices(), self)
        self.awake = Awake()
        self.setWindowTitle(f"{session.name} – Tamarind")
        self.resize(*placement.USUAL)
        self.setMinimumSize(*SMALLEST)
        self.setAcceptDrops(True)
        self.player = Player(self)
        self._plays_clean = False
        self._asks = True
        self._actions: dict[str, QAction] = {}
        self.job = JobCommands(session, self)
        self.job.job_asked.connect(self.job_asked)
        self.job.name_asked.connect(self.name_asked)
        self._make_actions()
        self.pedals = Pedals(self.player, self._play, self)
        self.checking = Checking(session)
        self.aside = Aside(session, self)
        self.intake = IntakeScreen(session, self.player, self.aside)
        self.proof = ProofScreen(session, self.player, self.checking, self.aside)
        self.translation = TranslationScreen(session, Apertium())
        self.export = ExportScreen(session, self.checking)
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
        last = session.setting("step", "proof" if has_text else "intake")
        self.show_step(last if last in self._screens else "intake")

    def show_step(self, name: str) -> None:
        """Go to one of the four steps."""
        self._pages.setCurrentWidget(self._screens[name])
        self.header.set_step(name)
        self.session.keep_setting("step", name)
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
        """All is on disk already, or the person is asked; then background work is stopped."""
        if self._asks and not self._may_close():
            event.ignore()
            return
        placement.keep(self)
        self.pedals.close()
        self.job.close()
        self.player.stop()
        self.player.load(None)
        self.awake.let_go()
        self.intake.rest()
        self.aside.stop()
        self.checking.close()
        self.export.close_thread()
        self.session.close()
        event.accept()

    def _may_close(self) -> bool:
        """Whether all is saved, or may be lost."""
        saving = self.session.saving
        if not saving.is_behind or saving.retry():
            return True
        # While it asks, it may be saved after all.
        return bool(UnsavedDialog(self.session, self).exec()) or not saving.is_behind

    def close_at_once(self) -> None:
        """Close without asking, as when the system ends the session."""
        self._asks = False
        self.close()

    def resizeEvent(self, event: QResizeEvent) -> None:
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
            "previous_word": lambda: self._in_proof(lambda: self.proof.go_by_word(-1)),
            "next_word": lambda: self._in_proof(lambda: self.proof.go_by_word(1)),
            "quieter": lambda: self.player.set_volume(self.player.volume - VOLUME_STEP),
            "louder": lambda: self.player.set_volume(self.player.volume + VOLUME_STEP),
            "layout": lambda: self._in_proof(lambda: self.proof.change_layout()),
            "line": lambda: self.proof.cutting.break_line(),
            "fix_elsewhere": lambda: self.proof.fixing.look_elsewhere(),
            "fix_glossary": lambda: self.proof.fixing.to_glossary(),
            "compare": lambda: self._in_proof(lambda: self.proof.compare_with_draft()),
            "restore": lambda: self.proof.restore_draft(),
            "write_out": lambda: self._in_proof(lambda: self.proof.exchange.ask_write()),
            "take_back": lambda: self._in_proof(lambda: self.proof.exchange.ask_take_back()),
            "anything": self.find_anything,
            "loupe": lambda: self.proof.toggle_loupe(),
            "dark": lambda: self.set_dark(not colours.is_dark()),
            "split_turn": lambda: self.proof.speakers.split_turn(),
            "catch": lambda: self._in_proof(lambda: self.proof.catch()),
            "replay_cue": lambda: self.proof.listening.replay_cue(),
            "loop": lambda: self.proof.listening.loop(),
            "stop_at_cues": lambda: self.proof.change_stopping(),
            "follow": lambda: self.proof.change_following(),
            "keep_spelling": lambda: self.proof.doubts.keep_spelling(),
            "word_forward": lambda: self.proof.retiming.move_word(True),
            "word_back": lambda: self.proof.retiming.move_word(False),
            "mark": lambda: self._in_proof(lambda: self.proof.ask_mark()),
            "find": lambda: self._in_proof(lambda: self.proof.find_bar.open()),
            "replace": lambda: self._in_proof(lambda: self.proof.find_bar.open(True)),
            "find_next": lambda: self._in_proof(lambda: self.proof.find_bar.step(1)),
            "find_previous": lambda: self._in_proof(lambda: self.proof.find_bar.step(-1)),
            "go_to_time": lambda: self._in_proof(lambda: self.proof.ask_time()),
            "start_earlier": lambda: self.proof.retiming.nudge(-1, 0),
            "start_later": lambda: self.proof.retiming.nudge(1, 0),
            "end_earlier": lambda: self.proof.retiming.nudge(0, -1),
            "end_later": lambda: self.proof.retiming.nudge(0, 1),
            "start_here": lambda: self.proof.retiming.set_start(),
            "end_here": lambda: self.proof.retiming.set_end(),
            "times": lambda: self._in_proof(lambda: self.proof.retiming.ask_times()),
            "close_gaps": lambda: self._in_proof(lambda: self.proof.retiming.close_gaps()),
            "empty_cue": lambda: self.proof.retiming.insert_empty(),
            "slower": lambda: self.player.set_speed(self.player.speed - SPEED_STEP),
            "faster": lambda: self.player.set_speed(self.player.speed + SPEED_STEP),
            "clean_sound": lambda: self.transport.change_sound(),
            "next_doubt": lambda: self._in_proof(lambda: self.proof.doubts.go_on(1)),
            "previous_doubt": lambda: self._in_proof(lambda: self.proof.doubts.go_on(-1)),
            "hear_doubt": lambda: self.proof.doubts.hear(),
            "keep_doubt": lambda: self.proof.doubts.keep(),
            "hear_again": lambda: self._in_proof(self.proof.again.start),
            "take_heard": lambda: self.proof.again.take(),
            "leave_heard": lambda: self.proof.again.leave(),
            "join": lambda: self.proof.cutting.join_next(),
            "delete_cue": lambda: self.proof.cutting.delete_cue(),
            "proofed": lambda: self.proof.mark_proofed(),
            "paragraph": lambda: self.proof.toggle_paragraph(),
            "speaker": lambda: self._in_proof(lambda: self.proof.speakers.ask_name()),
            "undo": lambda: self._undo(self.session.undo),
            "redo": lambda: self._undo(self.session.redo),
            "shape": lambda: self._in_proof(lambda: self.proof.captioning.shape()),
            "checks": lambda: self._in_proof(lambda: self.proof.open_checks()),
            "next_check": lambda: self._in_proof(lambda: self.proof.checks.step(1)),
            "previous_check": lambda: self._in_proof(lambda: self.proof.checks.step(-1)),
            "fix_check": lambda: self.proof.checks.fix_one(),
            "leave_check": lambda: self.proof.checks.let_be(),
            "house_style": lambda: self._in_proof(lambda: self.proof.edit_style()),
            "dress": lambda: self._in_proof(lambda: self.proof.captioning.dress()),
            "place": lambda: self.proof.captioning.change_place(),
            "italics": lambda: self.proof.captioning.change_italics(),
            "larger": lambda: self.proof.change_text_size(1),
            "smaller": lambda: self.proof.change_text_size(-1),
            "keys": self.show_keys,
            "pedal": lambda: PedalDialog(self.pedals, self).exec(),
            "guide": lambda: GuideDialog(self).exec(),
            "news": lambda: PageDialog("What is new", news(), self).exec(),
            "about": lambda: PageDialog("About Tamarind", about(), self).exec(),
            "open": self._ask_open,
            "new": self._ask_new,
            "save_copy": self._ask_save_copy,
            "rename_job": self.job.rename,
            "job_folder": self.job.show_folder,
            "earlier": self.job.show_earlier,
            "other_window": self.job.open_beside,
            "room": lambda: RoomDialog(self).exec(),
            "quit": self.close,
        }
        for name, _ in STEPS:
            does[name] = partial(self.show_step, name)
        for command in COMMANDS:
            action = QAction(command.label, self)
            action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
            action.triggered.connect(
                lambda _=False, name=command.name, do=does[command.name]: self._run(name, do)
            )
            self.addAction(action)
            self._actions[command.name] = action
        self._give_keys()
        for number, key in enumerate(SPEAKER_KEYS):
            action = QAction(f"Speaker {number}", self)
            action.setShortcut(QKeySequence(key))
            action.triggered.connect(lambda _=False, n=number: self._give_turn(n))
            self.addAction(action)

    def _job_menu(self) -> QMenu:
        menu = QMenu(self)
        groups = (
            ("", ("new", "open", "recent", "other_window")),
            ("This job", ("rename_job", "save_copy", "earlier", "job_folder")),
            ("", ("undo", "redo")),
            ("", ("anything", "compare", "write_out", "take_back")),
            ("", ("house_style", "checks", "shape", "dress")),
            ("Window and keys", ("larger", "smaller", "dark", "keys", "pedal", "room")),
            ("Help", ("guide", "news", "about")),
        )
        for title, names in groups:
            if not title and not menu.isEmpty():
                menu.addSeparator()
            into = menu.addMenu(title) if title else menu
            for name in names:
                if name == "recent":
                    into.addMenu(self.job.recent_menu())
                else:
                    into.addAction(self._actions[name])
        menu.addSeparator()
        menu.addMenu(self._step_back_menu())
        self._tell_when_done = menu.addAction("Tell me when a batch is done")
        self._tell_when_done.setCheckable(True)
        self._tell_when_done.setChecked(self.session.setting(TELL, "yes") == "yes")
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
        self.export.checks_asked.connect(self._show_checks)
        self.export.style_asked.connect(lambda: self._in_proof(self.proof.edit_style))
        self.transport.play_asked.connect(self._play)
        self.transport.skip_asked.connect(self._skip)
        session.trouble.connect(self.notice)
        session.told.connect(self.notice)
        failures.told.connect(self.notice)
        self.player.trouble.connect(self.notice)
        session.saving.changed.connect(self._show_saved)
        session.shown_changed.connect(self._load_shown)
        session.background.prepared.connect(self._prepared)
        session.background.line_changed.connect(self._line_changed)
        session.background.finished.connect(self._batch_done)
        self.intake.listen_clean_asked.connect(self._listen_clean)
        self.transport.sound_asked.connect(self._load_sound)
        self.proof.find_bar.places_changed.connect(
            lambda: self.transport.overview.show_marks(self.proof.find_bar.marks())
        )
        self._later = QTimer(self, singleShot=True, interval=STRIP_FOLLOWS_MS)
        self._later.timeout.connect(self.transport.refresh)
        self._later.timeout.connect(self._give_samples)
        for signal in (session.document_changed, session.recording_changed):
            signal.connect(self._shown_news)
        self._show_saved()

    def _show_saved(self) -> None:
        saving = self.session.saving
        self.header.set_saved("not saved" if saving.is_behind else "saved", saving.reason)

    def _shown_news(self, recording_id: int) -> None:
        # Not while somebody types: drawing a long recording costs more than a keystroke.
        if recording_id == self.session.shown:
            self._later.start()
            recording = self.session.recording(recording_id)
            if not self.player.has_recording and self._is_playable(recording):
                # What it is has only now become known.
                self._load_sound(keep_place=False)

    def _load_shown(self) -> None:
        self._load_sound(keep_place=False)
        self.transport.refresh()

    def _load_sound(self, keep_place: bool = True) -> None:
        """Put the shown recording's sound into the player: as recorded, or cleaned once it is."""
        recording = self.session.shown_recording()
        place = self.player.position
        cleaned, path = None, None
        if recording is not None and self._is_playable(recording):
            if self.transport.wants_clean:
                cleaned = self.session.background.cleaned_sound(recording.id)
            path = cleaned or recording.path
        self.player.load(path)
        self._plays_clean = cleaned is not None
        self._give_samples()
        if keep_place:
            self.player.seek(place)
        self.transport.show_sound(cleaned is not None)

    def _is_playable(self, recording: Recording) -> bool:
        """Whether a file may be given to the player, which would follow a list of addresses."""
        known = recording.info is not None and recording.path.is_file()
        return known and not names_others(recording.path)

    def _give_samples(self) -> None:
        """The decoded sound, once there is one, lets short stretches be played to the sample."""
        shown = self.session.shown
        if shown is not None:
            self.player.set_samples(self.session.samples(shown, self._plays_clean))

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

    def _show_checks(self, recording_id: int) -> None:
        """From Export: the checks of a recording."""
        self.session.show(recording_id)
        self._in_proof(lambda: self.proof.checks.open())

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

    def _run(self, name: str, do: Callable[[], object]) -> None:
        """Do a command, but only where what it does is seen."""
        if self.step() in BY_NAME[name].on:
            do()

    def _give_turn(self, number: int) -> None:
        if self.step() == "proof":
            self.proof.speakers.take(number)

    def _in_proof(self, do: Callable[[], object]) -> None:
        if self.step() != "proof":
            self.show_step("proof")
        do()

    def _undo(self, do: Callable[[], tuple[int, int] | None]) -> None:
        found = do()
        if found is None:
            self.notice(
                "There is nothing more to undo."
                if do == self.session.undo
                else "There is nothing to do again."
            )
            return
        recording_id, place = found
        self.session.show(recording_id)
        if self.step() not in SHEETS:
            self.show_step("proof")
        self.proof.go_to_change(place)

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

    def _ask_save_copy(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save a copy of the job",
            str(free_name(self.session.store.path.parent, self.session.name, "copy")),
            f"Jobs (*{SUFFIX})",
        )  # fmt: skip
        if not name:
            return
        path = Path(name if name.endswith(SUFFIX) else name + SUFFIX)
        try:
            self.session.save_copy(path)
        except JobError as error:
            self.notice(str(error))
        else:
            self.notice(f"A copy of the job as it is now lies in “{path}”.")

    def show_keys(self) -> None:
        """All keys, to be looked up and changed."""
        KeysDialog(keys.current(), self._keys_changed, self).exec()

    def _keys_changed(self) -> None:
        keys.keep_keys(keys.current())
        self._give_keys()
        refresh_hints(self)

    def _give_keys(self) -> None:
        for name, action in self._actions.items():
            action.setShortcuts([QKeySequence(key) for key in keys.current().of(name)])

    def find_anything(self) -> None:
        """Ask what to find, and go there."""
        finder = Finder(self.session, self._run_by_name, self._go_to_text, self._go_to_time)
        dialog = AnythingDialog(finder, self)
        if dialog.exec():
            hit = dialog.chosen()
            if hit is not None:
                hit.go()

    def _run_by_name(self, name: str) -> None:
        self._actions[name].trigger()

    def _go_to_text(self, recording_id: int, place: int, first: int, last: int) -> None:
        self.session.show(recording_id)
        self.show_step("proof")
        self.proof.sheet.cue_caret.go_to((place, first))
        self.proof.sheet.cue_caret.go_to((place, last), keep_anchor=True)

    def _go_to_time(self, time: int) -> None:
        self._in_proof(lambda: self.proof.go_to_time(time))

    def set_dark(self, dark: bool) -> None:
        """By night or by day."""
        app = QApplication.instance()
        if isinstance(app, QApplication):
            apply(app, dark)
        personal.keep("dark", dark)
        self.transport.restyle()
        for widget in self.findChildren(QWidget):
            widget.update()


class _Notice(QLabel):
    """A sentence over the foot of the page, gone after a while or at a click."""

    def __init__(self, window: QMainWindow) -> None:
        super().__init__(window)
        self._window = window
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setObjectName("notice")
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
        window = self._window
        width = min(window.width() - 80, 620)
        self.setFixedWidth(width)
        self.adjustSize()
        foot = window.height() - 120
        self.move((window.width() - width) // 2, foot - self.height())

    def mousePressEvent(self, event: object) -> None:
        """Seen."""
        self.hide()
