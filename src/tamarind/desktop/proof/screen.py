"""The Proof page: recordings, the sheet, and the desk."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QHBoxLayout,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.checking import Checking
from tamarind.application.session import Session
from tamarind.desktop.commands import PROOF, RECORDING, SHEET, TEXT, command
from tamarind.desktop.finding.find_bar import FindBar
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.housestyle.opening import open_editor
from tamarind.desktop.player import Player
from tamarind.desktop.proof.captioning import Captioning
from tamarind.desktop.proof.checks_panel import ChecksPanel
from tamarind.desktop.proof.cutting import CutCommands
from tamarind.desktop.proof.describing import Describe
from tamarind.desktop.proof.desk import Desk
from tamarind.desktop.proof.doubts import Doubts
from tamarind.desktop.proof.drafting import Drafting
from tamarind.desktop.proof.excerpting import ExcerptKeeping
from tamarind.desktop.proof.exchange import Exchange
from tamarind.desktop.proof.fixing import Fixing, FixPanel
from tamarind.desktop.proof.headings import Headings
from tamarind.desktop.proof.listening import Listening
from tamarind.desktop.proof.loupe_opening import LoupeOpening
from tamarind.desktop.proof.marking import Marking
from tamarind.desktop.proof.parting import Parting
from tamarind.desktop.proof.picturing import Picturing
from tamarind.desktop.proof.progress import ProofProgress
from tamarind.desktop.proof.retiming import RetimeCommands
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.searching import SearchedTexts
from tamarind.desktop.proof.second_hearing import SecondHearing
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.proof.sheet_bar import SheetBar
from tamarind.desktop.proof.sounds import NamingSounds
from tamarind.desktop.proof.speakers import Speakers
from tamarind.desktop.theme import fonts
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.recordings_list import RecordingsList
from tamarind.job.settings import LAYOUT, SHOWS_LEFT_OUT, TEXT_SIZE
from tamarind.transcript import edits
from tamarind.transcript.survey import Survey

DESK_FOLLOWS_MS = 25
SMALLEST_TEXT, LARGEST_TEXT = 15, 36
LIST_FROM = 930


class ProofScreen(QWidget):
    """Connects sheet, desk, player and session."""

    intake_asked = Signal()

    def __init__(
        self, session: Session, player: Player, checking: Checking, hearing_dialog: HearingDialog
    ) -> None:
        super().__init__()
        self._session, self._player, self._checking = session, player, checking
        self._played_from_caret: tuple[int, int] | None = None
        self.text_size = session.settings.get(TEXT_SIZE)
        kept = session.settings.get(LAYOUT)
        layout = Layout(kept) if kept in set(Layout) else Layout.CUES
        self.sheet = ProofSheet(session, self.text_size, layout)
        self.progress = ProofProgress(session, player, self)
        self.bar = SheetBar(self.progress)
        self.bar.show_layout(layout)
        self.bar.layout_asked.connect(self.set_layout)
        self.again = SecondHearing(session, self.sheet)
        self.listening = Listening(session, self.sheet, player, self)
        self.marking = Marking(session, self.sheet, player, self)
        self.loupe = LoupeOpening(session, self.sheet, player)
        self.retiming = RetimeCommands(session, self.sheet, player, self)
        self.find_bar = FindBar(session, SearchedTexts(session, self.sheet))
        self.doubts = Doubts(session, self.sheet, player)
        self.speakers = Speakers(session, self.sheet)
        self.cutting = CutCommands(session, self.sheet)
        self.parting = Parting(session, self.sheet)
        self.parting.stepped.connect(self.bar.show_step)
        self.bar.step_asked.connect(self.parting.part)
        self.headings = Headings(session, self.sheet)
        self.fixing = Fixing(session, self.sheet)
        self.exchange = Exchange(session, self)
        self.drafting = Drafting(session, self.sheet)
        self.excerpts = ExcerptKeeping(session, self.sheet)
        self.describe = Describe(session, player, self)
        self.sounds = NamingSounds(session, player, self)
        self.checks = ChecksPanel(session, self.sheet, checking)
        self.captioning = Captioning(session, self.sheet, checking, hearing_dialog)
        self.picturing = Picturing(session, player, self.sheet, self)
        self.desk = Desk(session, self.picturing.on_desk, FixPanel(self.fixing), self.again)
        self.desk.set_width(self.picturing.width())
        self.picturing.width_changed.connect(self.desk.set_width)
        self.list = RecordingsList(session)
        self.empty = _Empty(self.intake_asked.emit)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.sheet)
        self.pages.addWidget(self.empty)
        self._lay_out()
        self._follow(session, player, checking)

    def _lay_out(self) -> None:
        """Place the list, the sheet and the desk side by side."""
        middle = QVBoxLayout()
        middle.setContentsMargins(14, 8, 14, 0)
        middle.setSpacing(7)
        middle.addWidget(self.bar)
        middle.addWidget(self.pages, 1)
        middle.addWidget(self.find_bar)
        middle.addWidget(self.checks)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.list)
        row.addLayout(middle, 1)
        row.addWidget(self.desk)

    def resizeEvent(self, event: object) -> None:
        """Leave the room to the text where the page is narrow."""
        self.list.setVisible(self.width() >= LIST_FROM)

    def _follow(self, session: Session, player: Player, checking: Checking) -> None:
        """Connect to what changes."""
        self.list.chosen.connect(session.show)
        session.shown_changed.connect(self.show_recording)
        session.texts.changed.connect(self._document_changed)
        session.recordings.changed.connect(self._recording_changed)
        session.doubts_changed.connect(self._doubts_changed)
        self._desk_later = QTimer(self, singleShot=True, interval=DESK_FOLLOWS_MS)
        self._desk_later.timeout.connect(self.show_desk)
        self.sheet.caret.moved.connect(self._caret_moved)
        self.sheet.play_from.connect(player.play)
        self.desk.hear_asked.connect(self.doubts.hear)
        self.desk.keep_asked.connect(self.doubts.keep)
        self.desk.reading_taken.connect(self.doubts.settle)
        self.desk.doubt_asked.connect(self.doubts.go_to)
        self.desk.naming_asked.connect(self.speakers.ask_name)
        self.desk.speaker_chosen.connect(self.speakers.choose)
        self.desk.speakers_asked.connect(self.speakers.ask_speakers)
        self.desk.checks_asked.connect(self.open_checks)
        self.checks.style_asked.connect(self.edit_style)
        checking.changed.connect(self._checks_changed)
        session.styles.changed.connect(self._style_changed)
        player.moved.connect(self._playhead_moved)
        self.show_recording()

    @property
    def workers(self) -> tuple[object, ...]:
        """Return all objects whose methods are commands."""
        return (
            self, self.again, self.listening, self.marking, self.loupe, self.retiming, self.doubts,
            self.speakers, self.cutting, self.parting, self.headings, self.fixing, self.exchange,
            self.drafting, self.checks, self.captioning, self.picturing, self.excerpts,
            self.describe, self.sounds,
        )  # fmt: skip

    def show_recording(self) -> None:
        """Show another recording."""
        self.loupe.close()
        shown = self._session.shown
        self.desk.await_checks()
        if shown is not None and self._checking.is_known(shown):
            self._checks_changed(shown)
        self.sheet.show_recording(shown)
        self.again.show_recording()
        self.parting.show_recording()
        self.picturing.forget()
        self._show_picture()
        self._choose_page()
        self.bar.refresh()

    def set_layout(self, layout: Layout) -> None:
        """Show the text in cues, or in paragraphs."""
        self.sheet.set_layout(layout)
        self.bar.show_layout(layout)
        self._session.settings.keep(LAYOUT, layout.value)
        self.sheet.setFocus()

    @command("Switch between cues and paragraphs", "View", "Alt+V", name="layout", opens="proof")
    def change_layout(self) -> None:
        """Switch between cues and paragraphs."""
        is_cues = self.sheet.text.layout is Layout.CUES
        self.set_layout(Layout.PARAGRAPHS if is_cues else Layout.CUES)

    @command(
        "Strike out what the house style leaves out",
        "View",
        name="left_out",
        opens="proof",
        also="verbatim clean fillers um",
    )
    def change_left_out(self) -> None:
        """Show or hide what the house style leaves out of transcripts."""
        self.sheet.show_left_out(not self._session.settings.get(SHOWS_LEFT_OUT))

    def go_to_change(self, place: int) -> None:
        """Move the caret to an undone change, unless it is there."""
        self.fixing.forget()
        last = len(self.sheet.transcript.cues) - 1
        if place != self.sheet.cue_caret.place() and last >= 0:
            self.sheet.cue_caret.go_to((min(place, last), 0))

    # Listening

    def play_or_stop(self) -> None:
        """Stop; or play from the caret if it has moved since, else from the playhead."""
        if self._player.is_playing:
            self.listening.stop()
            return
        if self.sheet.rows.row_count() and self.sheet.caret.place != self._played_from_caret:
            self.play_from_caret()
        else:
            self.listening.play()

    def play_from_caret(self) -> None:
        """Play from the word at the caret."""
        self._played_from_caret = self.sheet.caret.place
        self.listening.play(self.sheet.cue_caret.time())

    @command(
        "Go to the previous cue",
        "Listening",
        "Alt+Up",
        name="previous_cue",
        arguments=(-1,),
        needs=TEXT,
    )
    @command(
        "Go to the next cue", "Listening", "Alt+Down", name="next_cue", arguments=(1,), needs=TEXT
    )
    def go_to_cue(self, direction: int) -> None:
        """Move caret and playhead to the start of a neighbouring cue."""
        place = self.sheet.cue_caret.place() + direction
        if 0 <= place < len(self.sheet.transcript.cues):
            self.sheet.cue_caret.go_to((place, 0))
            self._player.seek(self.sheet.transcript.cues[place].start)
            self._played_from_caret = self.sheet.caret.place

    @command("Stop at the word being spoken", "Listening", "F4", opens="proof", needs=RECORDING)
    def catch(self) -> None:
        """Stop at the word being spoken and select it, so that typing replaces it."""
        position = self._player.position
        if self._player.is_playing:
            self._player.stop()
        place = self.sheet.transcript.place_at(position)
        if place is None:
            return
        words = self.sheet.transcript.cues[place].words
        heard = [n for n, word in enumerate(words) if word.start <= position]
        self.sheet.cue_caret.choose_word(place, heard[-1] if heard else 0)
        self.sheet.setFocus()
        self._played_from_caret = None

    @command(
        "Go to the previous word",
        "Listening",
        "Alt+,",
        name="previous_word",
        arguments=(-1,),
        needs=TEXT,
    )
    @command(
        "Go to the next word", "Listening", "Alt+.", name="next_word", arguments=(1,), needs=TEXT
    )
    def go_by_word(self, direction: int) -> None:
        """Move caret and playhead to a neighbouring word."""
        cues = self.sheet.transcript.cues
        place, word = self.sheet.cue_caret.place(), self.sheet.cue_caret.word() + direction
        while 0 <= place < len(cues) and not 0 <= word < len(cues[place].words):
            place += direction
            word = len(cues[place].words) - 1 if direction < 0 and place >= 0 else 0
        if 0 <= place < len(cues):
            self.sheet.cue_caret.go_to_word(place, word)
            self._player.seek(cues[place].words[word].start)
            self._played_from_caret = self.sheet.caret.place

    @command(
        "Stop at the end of every cue",
        "Listening",
        "Alt+E",
        name="stop_at_cues",
        needs=PROOF,
    )
    def change_stopping(self) -> None:
        """Stop at the end of every cue from now on, or no longer."""
        self.listening.stops_at_cues = not self.listening.stops_at_cues
        on = self.listening.stops_at_cues
        self._session.told.emit(
            "Playing stops at the end of every cue." if on else "Playing does not stop at cues."
        )

    @command("Follow the sound", "Listening", "Alt+F", name="follow", needs=PROOF, also="scroll")
    def change_following(self) -> None:
        """Follow the sound from now on, or no longer."""
        self.sheet.following.is_on = not self.sheet.following.is_on
        on = self.sheet.following.is_on
        self._session.told.emit(
            "The sheet follows the sound." if on else "The sheet stays where it is."
        )

    # Text

    @command(
        "Show all checks",
        "Checks",
        "Alt+R",
        name="checks",
        opens="proof",
        also="quality qc errors warnings validate",
    )
    def open_checks(self) -> None:
        """Show all checks under the sheet, or close them if they have the focus."""
        if self.checks.isVisible() and self.checks.list.hasFocus():
            self.checks.close_panel()
            return
        if self.find_bar.isVisible():
            self.find_bar.close_bar()
        self.checks.open()

    @command(
        "House style…",
        "Checks",
        "Alt+Y",
        name="house_style",
        opens="proof",
        also="client rules guidelines settings preferences",
    )
    def edit_style(self) -> None:
        """Edit house styles, with the text around the caret as an example."""
        place = self.sheet.cue_caret.place() if self.sheet.rows.row_count() else 0
        open_editor(self._session, place, self.window())
        self.sheet.setFocus()

    def _checks_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            self.desk.show_checks(*self._checking.beside_doubts(recording_id))
            self._caret_moved()

    def _style_changed(self) -> None:
        """Break lines again after the style has changed."""
        self.sheet.set_layout(self.sheet.text.layout)

    # The loupe

    @command("Mark as proofed or approved up to here", "Text", "Ctrl+Shift+Return",
             name="proofed", needs=TEXT)  # fmt: skip
    def mark_proofed(self) -> None:
        """Mark all cues up to the caret's as proofed; if they were, unmark the caret's."""
        cue = self.sheet.cue_caret.cue()
        if cue is None:
            return
        row = self.sheet.cue_caret.place()
        text = self.sheet.transcript
        if all(each.settled for each in text.cues[: row + 1]):
            self._session.edit_shown("no longer proofed", edits.settle(text, row, row + 1, False))
        else:
            self._session.edit_shown("proofed up to here", edits.settle(text, 0, row + 1))

    @command("Start or join a paragraph here", "Paragraphs", "Alt+P", name="paragraph", needs=TEXT)
    def toggle_paragraph(self) -> None:
        """Open a paragraph with the caret's cue, or close that border."""
        cue = self.sheet.cue_caret.cue()
        if cue is not None:
            row = self.sheet.cue_caret.place()
            new = edits.set_paragraph(self.sheet.transcript, row, not cue.opens_paragraph)
            self._session.edit_shown("paragraph", new)

    @command(
        "Larger text",
        "View",
        "Ctrl+=",
        "Ctrl++",
        name="larger",
        arguments=(1,),
        needs=SHEET,
    )
    @command(
        "Smaller text",
        "View",
        "Ctrl+-",
        name="smaller",
        arguments=(-1,),
        needs=SHEET,
    )
    def change_text_size(self, step: int) -> None:
        """Make the letters on the sheet larger or smaller."""
        self.text_size = min(max(self.text_size + step, SMALLEST_TEXT), LARGEST_TEXT)
        self._session.settings.keep(TEXT_SIZE, self.text_size)
        self.sheet.set_text_font(fonts.text(self.text_size))

    # News

    def _doubts_changed(self) -> None:
        self.sheet.viewport().update()
        self._caret_moved()
        self.bar.refresh()

    def _document_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            loupe_place = self.sheet.overlay.thing
            cues = self.sheet.transcript.cues
            loupe_cue = cues[loupe_place].id if loupe_place is not None else None
            self.sheet.follow_document()
            self.loupe.follow(loupe_cue)
            self.again.follow_document()
            self._choose_page()

    def _recording_changed(self, recording_id: int) -> None:
        if recording_id == self._session.shown:
            self.sheet.take_sound()
            self._show_picture()
            self._choose_page()

    def _show_picture(self) -> None:
        """Make room on the desk for a picture where the recording has one."""
        recording = self._session.shown_recording()
        info = recording.info if recording is not None else None
        self.desk.picture.setVisible(info is not None and info.picture is not None)

    def _choose_page(self) -> None:
        self.empty.show_recording(self._session)
        page = self.sheet if self.sheet.rows.row_count() else self.empty
        self.pages.setCurrentWidget(page)

    def _caret_moved(self) -> None:
        """Refresh the desk a moment later, once for many keystrokes."""
        if not self._desk_later.isActive():
            self._desk_later.start()

    def show_desk(self) -> None:
        """Show what is known of the place at the caret."""
        if self._session.shown is None:
            survey = Survey()
        else:
            survey = self._session.survey(self._session.shown)
        row, word = self.sheet.cue_caret.place(), self.sheet.cue_caret.word()
        self.desk.show_place(self.sheet.transcript, row, word, survey)

    def _playhead_moved(self, position: int) -> None:
        if not self.isVisible():
            return
        self.sheet.following.set_playhead(position, self._player.is_playing)
        if self.loupe.shown is not None:
            self.loupe.shown.set_playhead(position)


class _Empty(QWidget):
    """What is shown in place of the sheet when there is no text."""

    def __init__(self, to_intake: Callable[[], object]) -> None:
        super().__init__()
        self.title = label("", "title")
        self._note = label("", "note", wrap=True)
        self._note.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column = QVBoxLayout(self)
        column.addStretch(2)
        column.addWidget(self.title, 0, Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self._note, 0, Qt.AlignmentFlag.AlignCenter)
        column.addWidget(button("Go to Intake", to_intake, "link"), 0, Qt.AlignmentFlag.AlignCenter)
        column.addStretch(3)

    def show_recording(self, session: Session) -> None:
        """Say why there is nothing to proof."""
        recording = session.shown_recording()
        if recording is None:
            self.title.setText("No recording yet")
            self._note.setText("Add sound or video files on the Intake page.")
        elif session.queue.is_being_heard(recording.id):
            self.title.setText("Being transcribed")
            self._note.setText("The first words come in a moment; you can start at once.")
        else:
            self.title.setText("Nothing to proof yet")
            self._note.setText(recording.problem or f"“{recording.name}” has not been transcribed.")
