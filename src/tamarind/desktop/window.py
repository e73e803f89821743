"""The main window: header, pages, transport, and what concerns the whole window."""

from __future__ import annotations

from functools import cached_property, partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.application import correctednames
from tamarind.application.checking import Checking
from tamarind.application.excerpting import Key
from tamarind.application.failures import Unforeseen, failed
from tamarind.application.session import Session
from tamarind.desktop import contextmenus, placement
from tamarind.desktop.anything_commands import AnythingCommands
from tamarind.desktop.attention import DesktopNotices, Notices
from tamarind.desktop.batch_end import BatchEnd
from tamarind.desktop.commandbar import CommandBar
from tamarind.desktop.commands import Where, command
from tamarind.desktop.excerpts.commands import ExcerptCommands
from tamarind.desktop.export.commands import ExportCommands
from tamarind.desktop.finding.commands import FindCommands
from tamarind.desktop.finding.find_bar import FindBar
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.help_commands import HelpCommands
from tamarind.desktop.job_commands import JobCommands
from tamarind.desktop.menubar import MenuBar
from tamarind.desktop.pedals import Pedals
from tamarind.desktop.playback import Playback
from tamarind.desktop.player import Player
from tamarind.desktop.proof.screen import ProofScreen
from tamarind.desktop.systemsettings import has_session_bus
from tamarind.desktop.theme.apply import unstyled
from tamarind.desktop.theme_commands import ThemeCommands
from tamarind.desktop.translation.commands import TranslationCommands
from tamarind.desktop.undo_commands import UndoCommands
from tamarind.desktop.widgets import taborder
from tamarind.desktop.widgets.header import Header
from tamarind.desktop.widgets.notice import Notice
from tamarind.desktop.widgets.transport import Transport
from tamarind.desktop.words import listed
from tamarind.job.jobfile import SUFFIX, is_packed
from tamarind.job.settings import STEP

if TYPE_CHECKING:
    from tamarind.desktop.excerpts.screen import ExcerptsScreen
    from tamarind.desktop.export.screen import ExportScreen
    from tamarind.desktop.intake.screen import IntakeScreen
    from tamarind.desktop.translation.screen import TranslationScreen

LISTEN_AFTER_MS = 800
PAGES = ("intake", "proof", "translation", "export", "excerpts")
SMALLEST = (820, 480)
"""What a screen of 1280×800 leaves inside a frame, with everything half as large again."""


class MainWindow(QMainWindow):
    """One window for one job."""

    job_asked = Signal(object)
    name_asked = Signal(object)

    def __init__(self, session: Session, notices: Notices | None = None) -> None:
        super().__init__()
        self.session = session
        self.setWindowTitle(f"{session.name} – Tamarind")
        self.resize(*placement.USUAL)
        self.setMinimumSize(*SMALLEST)
        self.setAcceptDrops(True)
        self._asks = True
        self.player = Player(self)
        self.checking = Checking(session)
        self.hearing_dialog = HearingDialog(session, self)
        self.proof = ProofScreen(session, self.player, self.checking, self.hearing_dialog)
        self.transport = Transport(session, self.player)
        self.pages: dict[str, QWidget] = {}
        """Those that have been built."""
        self._kept_last: Key | None = None
        self._stack = QStackedWidget()
        self._take_in("proof", self.proof)
        self.playback = Playback(
            session, self.player, self.transport, self.proof, self._stack.currentWidget
        )
        self.pedals = Pedals(self.player, self.playback.play, self)
        self.batch_end = BatchEnd(session, notices or DesktopNotices(), self)
        self.job = JobCommands(session, self)
        self.help = HelpCommands(self)
        self.anything = AnythingCommands(self)
        self.undoing = UndoCommands(self)
        self.theme = ThemeCommands(self)
        self.finding = FindCommands(self._find_bar, self.show_step)
        self.commands = CommandBar(self, self.where, self.show_step)
        self.commands.add(
            self,
            self.playback,
            self.job,
            self.finding,
            self.help,
            self.anything,
            self.undoing,
            self.theme,
            ExportCommands(self),
            *self.proof.workers,
            TranslationCommands(lambda: self.translation),
            ExcerptCommands(lambda: self.excerpts),
        )
        self._lay_out(session)
        self._connect()
        self._open_last_step()

    def _open_last_step(self) -> None:
        session = self.session
        has_text = any(session.texts.transcript(r.id).cues for r in session.recordings.all())
        last = session.settings.get(STEP) or ("proof" if has_text else "intake")
        self.show_step(last if last in PAGES else "intake")

    def _lay_out(self, session: Session) -> None:
        """Place the header, the page and the transport."""
        menus = self.commands.menus(
            {
                "File": (self.job.recent_menu(),),
                "Play": (self.proof.listening.step_back_menu(self),),
                "Tools": (self.batch_end.action,),
            }
        )
        self.menu_bar = MenuBar(self, menus)
        self.menu_bar.opened.connect(self.undoing.name_undo)
        self.commands.add(self.menu_bar)
        self.header = Header(self.menu_bar.compact)
        self.header.set_job(session.name)
        self.said = Notice(self)
        middle = QWidget()
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.header)
        column.addWidget(self._stack, 1)
        column.addWidget(self.transport)
        self.setCentralWidget(middle)
        self.menu_bar.fit()

    # Pages are built when they are wanted

    @cached_property
    def intake(self) -> IntakeScreen:
        """The Intake page."""
        from tamarind.desktop.intake.screen import IntakeScreen

        page = IntakeScreen(self.session, self.player, self.hearing_dialog)
        page.proof_asked.connect(lambda _id: self.show_step("proof"))
        page.speakers_asked.connect(self.proof.speakers.ask_speakers)
        page.listen_clean_asked.connect(self.playback.listen_clean)
        self._take_in("intake", page)
        return page

    @cached_property
    def translation(self) -> TranslationScreen:
        """The Translation page."""
        from tamarind.desktop.translation.screen import TranslationScreen

        page = TranslationScreen(self.session, self.player, self.checking, self.hearing_dialog)
        page.find_bar.places_changed.connect(self._show_found)
        contextmenus.connect(page.sheet, self.commands, contextmenus.TRANSLATION)
        self._take_in("translation", page)
        return page

    @cached_property
    def export(self) -> ExportScreen:
        """The Export page."""
        from tamarind.desktop.export.screen import ExportScreen

        page = ExportScreen(self.session, self.checking)
        page.checks_asked.connect(self._show_checks)
        page.videos_asked.connect(partial(self.commands.run, "videos"))
        page.pages_asked.connect(partial(self.commands.run, "pages"))
        page.everybody_asked.connect(partial(self.commands.run, "everybody"))
        page.names_corrected.connect(self._ask_for_names)
        page.style_asked.connect(lambda: self.commands.run("house_style"))
        self._take_in("export", page)
        return page

    @cached_property
    def excerpts(self) -> ExcerptsScreen:
        """The Excerpts page."""
        from tamarind.desktop.excerpts.screen import ExcerptsScreen

        page = ExcerptsScreen(self.session, self.player)
        page.source_asked.connect(self._show_source)
        self._take_in("excerpts", page)
        if self._kept_last is not None:
            page.take(self._kept_last)
        return page

    def _take_excerpt(self, key: Key) -> None:
        """Select an excerpt that has just been kept on its page."""
        self._kept_last = key
        if "excerpts" in self.pages:
            self.excerpts.take(key)

    def page(self, name: str) -> QWidget:
        """Return the page of a name in ``PAGES``, making it if needed."""
        found: QWidget = getattr(self, name)
        return found

    def _take_in(self, name: str, page: QWidget) -> None:
        self.pages[name] = page
        self._stack.addWidget(page)

    def _find_bar(self) -> FindBar | None:
        """Return the find bar of the open page, or None."""
        page = self.step()
        if page == "translation":
            return self.translation.find_bar
        return self.proof.find_bar if page == "proof" else None

    @command(
        "Intake",
        "Pages",
        "Ctrl+1",
        name="intake",
        arguments=("intake",),
        also="import transcribe queue batch",
    )
    @command(
        "Proof", "Pages", "Ctrl+2", name="proof", arguments=("proof",), also="edit correct editor"
    )
    @command(
        "Translation",
        "Pages",
        "Ctrl+3",
        name="translation",
        arguments=("translation",),
        also="translate languages subtitles",
    )
    @command(
        "Export",
        "Pages",
        "Ctrl+4",
        name="export",
        arguments=("export",),
        also="save subtitles srt vtt docx text",
    )
    @command("Excerpts", "Pages", "Ctrl+5", name="excerpts", arguments=("excerpts",))
    def show_step(self, name: str) -> None:
        """Open a page."""
        self._stack.setCurrentWidget(self.page(name))
        self.header.set_step(name)
        self.session.settings.keep(STEP, name)
        self._show_found()
        if name == "proof":
            self.proof.sheet.setFocus()
        elif name == "translation":
            self.translation.sheet.setFocus()
        elif name == "excerpts":
            self.excerpts.sequence.setFocus()

    @command(
        "Go to the next recording",
        "Pages",
        "Ctrl+PgDown",
        name="next_recording",
        arguments=(1,),
        also="file",
    )
    @command(
        "Go to the previous recording",
        "Pages",
        "Ctrl+PgUp",
        name="previous_recording",
        arguments=(-1,),
        also="file",
    )
    def go_to_recording(self, direction: int) -> None:
        """Show the next or previous recording of the job, round its ends."""
        keys = [recording.id for recording in self.session.recordings.all()]
        if keys:
            shown = self.session.shown
            place = keys.index(shown) if shown in keys else -max(direction, 0)
            self.session.show(keys[(place + direction) % len(keys)])

    def step(self) -> str:
        """The open page."""
        return next(n for n, page in self.pages.items() if page is self._stack.currentWidget())

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask if something is not on disk, then stop background work."""
        if self._asks and not self._may_close():
            event.ignore()
            return
        placement.keep(self)
        self.proof.picturing.close_window()
        failed.disconnect(self._tell_failure)
        self.pedals.close()
        self.job.close()
        self.playback.close()
        self.batch_end.close()
        if "intake" in self.pages:
            self.intake.rest()
        self.hearing_dialog.stop()
        self.checking.close()
        if "export" in self.pages:
            self.export.close_thread()
        self.session.close()
        event.accept()

    def _may_close(self) -> bool:
        """Whether everything is saved, or may be lost."""
        from tamarind.desktop.unsaved_dialog import UnsavedDialog

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
        """Keep the notice in place; in a narrow window put the menus behind a button."""
        super().resizeEvent(event)
        self.said.place()
        self.menu_bar.fit()

    # Dropping files

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Go on in the order in which everything is laid out."""
        return taborder.go_on(self, forward) or super().focusNextPrevChild(forward)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Accept files on every page."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Add dropped files."""
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        jobs = [path for path in paths if path.suffix == SUFFIX or is_packed(path)]
        if jobs:
            self.job_asked.emit(jobs[0])
            return
        if paths:
            self.show_step("intake")
            self.intake.add(paths)
        event.acceptProposedAction()

    # What the window hears

    def _connect(self) -> None:
        session = self.session
        self.header.step_asked.connect(self.show_step)
        self.job.job_asked.connect(self.job_asked)
        self.job.name_asked.connect(self.name_asked)
        self.job.cue_asked.connect(self._go_to_cue)
        self.job.recordings_asked.connect(lambda: self.intake.choose_files())
        self.proof.intake_asked.connect(lambda: self.show_step("intake"))
        self.proof.checks.track_asked.connect(self._show_translation)
        self.proof.excerpts.kept.connect(self._take_excerpt)
        self.proof.list.menu_asked.connect(lambda *asked: self.intake.show_menu(*asked))
        contextmenus.connect(
            self.proof.sheet, self.commands, contextmenus.PROOF, self.proof.doubts.acts
        )
        self.proof.find_bar.places_changed.connect(self._show_found)
        for said in (
            session.trouble, session.told, self.player.trouble, self.commands.refused,
        ):  # fmt: skip
            said.connect(self._say)
        failed.connect(self._tell_failure)
        session.saving.changed.connect(self._show_saved)
        self._show_saved()
        if has_session_bus():
            QTimer.singleShot(LISTEN_AFTER_MS, self, self.playback.listen_to_media_keys)

    def _show_found(self) -> None:
        self.transport.overview.show_marks(self.finding.marks())

    def _tell_failure(self, sentence: str) -> None:
        """Show a failure, which may have happened in any thread."""
        self.session.loop.post(lambda: self._say(sentence))

    def _say(self, sentence: str) -> None:
        if isinstance(sentence, Unforeseen):
            self.said.say(sentence, "Copy the details", self.help.copy_details)
        else:
            self.said.say(sentence)

    def _ask_for_names(self, names: list[str], recording_ids: list[int]) -> None:
        """Ask, once, whether corrected names may be kept for later recordings."""
        correctednames.allow(False)

        def keep() -> None:
            correctednames.allow(True)
            self.session.keep_corrected_names(recording_ids)

        self.said.say(
            f"You corrected {listed(names)}. Listen for the names that you correct in later"
            " recordings of the same house style? They are kept on this computer; the glossary"
            " shows them.",
            "Remember names",
            keep,
        )

    def _show_saved(self) -> None:
        saving = self.session.saving
        self.header.set_saved("not saved" if saving.is_behind else "saved", saving.reason)

    def _show_checks(self, recording_id: int) -> None:
        """Show the checks of a recording, from Export."""
        self.session.show(recording_id)
        self.show_step("proof")
        self.proof.checks.open()

    def _go_to_cue(self, place: int) -> None:
        """Show a cue of the shown text."""
        self.show_step("proof")
        self.proof.sheet.cue_caret.go_to((place, 0))

    def _show_source(self, recording_id: int, time: int) -> None:
        """Show the text of an excerpt."""
        self.session.show(recording_id)
        self.anything.go_to_time(time)

    def _show_translation(self, language: str, cue: int) -> None:
        """Show the translation of a cue, from the checks."""
        self.show_step("translation")
        self.translation.show_language(language)
        self.translation.go_to_cue(cue)

    # Commands

    def where(self) -> Where:
        """Return what is shown now, for the conditions of commands."""
        recordings = self.session.recordings.all()
        return Where(
            self.step(),
            self.session.shown is not None,
            self.proof.sheet.text.row_count() > 0,
            at_doubt=self.proof.doubts.is_at_one(),
            has_differences=self.proof.again.has_differences,
            has_track=self._has_track(),
            has_excerpts=any(self.session.texts.document(one.id).excerpts for one in recordings),
        )

    def _has_track(self) -> bool:
        if "translation" in self.pages:
            return self.translation.has_track()
        shown = self.session.shown
        return shown is not None and bool(self.session.texts.document(shown).tracks)

    @command("Quit", "File", "Ctrl+Q", last=True)
    def quit(self) -> None:
        """Close the window."""
        self.close()


def make_window(session: Session, notices: Notices | None = None) -> MainWindow:
    """Make a window for a job."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        raise RuntimeError("there is no application yet")
    with unstyled(app):
        return MainWindow(session, notices)
