"""Commands for times: move edges, set them to the playhead, move words across borders, close
gaps."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import RECORDING, TEXT, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.formats.timecode import clock
from tamarind.system.later import Later
from tamarind.transcript import timing
from tamarind.transcript.edits import with_cues
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.desktop.proof import times_dialog
    from tamarind.desktop.widgets import changes_dialog
else:
    times_dialog = Later("tamarind.desktop.proof.times_dialog")
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")

STEP_MS = 10
NEW_CUE_MS = 2_000
LONGEST_GAP_MS = 1_500
"""A longer quiet than this is not closed: a caption would stand while nobody speaks."""


class RetimeCommands(QObject):
    """Each is one step of undo; where there is no room, that is told."""

    def __init__(
        self, session: Session, sheet: ProofSheet, player: Player, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._session, self._sheet, self._player = session, sheet, player

    @command(
        "Start earlier (a frame or 10 ms)",
        "Times",
        "Alt+Shift+Left",
        name="start_earlier",
        arguments=(-1, 0),
        needs=TEXT,
    )
    @command(
        "Start later", "Times", "Alt+Shift+Right", name="start_later", arguments=(1, 0), needs=TEXT
    )
    @command(
        "End earlier", "Times", "Alt+Shift+Up", name="end_earlier", arguments=(0, -1), needs=TEXT
    )
    @command("End later", "Times", "Alt+Shift+Down", name="end_later", arguments=(0, 1), needs=TEXT)
    def nudge(self, start: int, end: int) -> None:
        """Move start and end of the caret's cue by so many steps: a frame, or 10 ms."""
        cue = self._sheet.cue_caret.cue()
        if cue is None:
            return
        step = self._step()
        self._set(cue.start + start * step, cue.end + end * step, "nudge")

    @command("Start at the playhead", "Times", "F8", name="start_here", needs=TEXT)
    def set_start(self) -> None:
        """Start the caret's cue at the playhead."""
        cue = self._sheet.cue_caret.cue()
        if cue is not None:
            self._set(self._player.position, cue.end, "start at the playhead")

    @command("End at the playhead", "Times", "F9", name="end_here", needs=TEXT)
    def set_end(self) -> None:
        """End the caret's cue at the playhead."""
        cue = self._sheet.cue_caret.cue()
        if cue is not None:
            self._set(cue.start, self._player.position, "end at the playhead")

    @command(
        "Move the last word to the next cue",
        "Text",
        "Alt+W",
        name="word_forward",
        arguments=(True,),
        needs=TEXT,
    )
    @command(
        "Move the first word to the previous cue",
        "Text",
        "Alt+Q",
        name="word_back",
        arguments=(False,),
        needs=TEXT,
    )
    def move_word(self, forward: bool) -> None:
        """Move the cue's last word to the next cue, or its first to the one before."""
        if self._sheet.cue_caret.cue() is None:
            return
        row = self._sheet.cue_caret.place()
        self._edit(
            "move a word", timing.move_word(self._text(), row, forward), "There is no cue there."
        )

    @command(
        "Insert an empty cue at the playhead",
        "Times",
        "Ctrl+I",
        name="empty_cue",
        needs=RECORDING,
        also="new add insert caption",
    )
    def insert_empty(self) -> None:
        """Insert an empty cue at the playhead, where there is a gap."""
        if self._session.shown is None:
            return
        start = self._player.position
        try:
            new, place = timing.insert_empty(self._text(), start, start + NEW_CUE_MS)
        except ValueError as error:
            self._session.told.emit(str(error))
            return
        self._edit("empty cue", new)
        self._sheet.cue_caret.go_to((place, 0))

    @command("Close gaps", "Times", "Alt+G", opens="proof", needs=TEXT)
    def close_gaps(self) -> None:
        """Extend the selected cues, or all, to the next start; the changes are shown first."""
        text = self._text()
        if not text.cues:
            self._session.told.emit("There are no gaps to close.")
            return
        first, last = self._sheet.cue_caret.selected_cues() or (0, 0)
        if last - first < 2:
            first, last = 0, len(text.cues)
        gap = self._session.styles.limits_of(self._session.shown).gap
        new = timing.close_gaps(text, first, last, LONGEST_GAP_MS, gap)
        changes = [
            changes_dialog.ProposedChange(
                place, _times(old.start, old.end), _times(own.start, own.end), old.text
            )
            for place, (old, own) in enumerate(zip(text.cues, new.cues, strict=True))
            if old is not own
        ]
        if not changes:
            self._session.told.emit("There are no gaps to close.")
            return
        dialog = changes_dialog.ChangesDialog("Close gaps", changes, self._sheet.window())
        if dialog.exec():
            for place in dialog.chosen():
                text = with_cues(text, place, place + 1, new.cues[place])
            self._edit("close gaps", text)

    @command(
        "Set times…",
        "Times",
        "Ctrl+T",
        name="times",
        opens="proof",
        needs=TEXT,
        also="timecodes synchronise offset shift",
    )
    def ask_times(self) -> None:
        """Ask for the times of the caret's cue, or how to move or stretch the selected ones."""
        text = self._text()
        if not text.cues:
            return
        here = self._sheet.cue_caret.place()
        first, last = self._sheet.cue_caret.selected_cues() or (here, here + 1)
        dialog = times_dialog.TimesDialog(text, first, last, self._sheet.window())
        if dialog.exec():
            self._edit(
                "times", dialog.result_text(), "The neighbouring cues leave no room for that."
            )

    def _set(self, start: int, end: int, label: str) -> None:
        new = timing.set_times(self._text(), self._sheet.cue_caret.place(), start, end)
        self._edit(label, new, "The next cue is in the way.")

    def _step(self) -> int:
        recording = self._session.shown_recording()
        rate = recording.info.frame_rate if recording is not None and recording.info else None
        return round(1000 / rate) if rate else STEP_MS

    def _text(self) -> Transcript:
        return self._sheet.transcript

    def _edit(self, label: str, new: Transcript, otherwise: str = "") -> None:
        if self._session.shown is None:
            return
        if new is self._text():
            if otherwise:
                self._session.told.emit(otherwise)
            return
        self._session.texts.edit(self._session.shown, label, new)


def _times(start: int, end: int) -> str:
    return f"{clock(start, 2, hours=False)} – {clock(end, 2, hours=False)}"
