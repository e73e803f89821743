"""Playback commands for proofing: repeat a cue, loop, stop after every cue, step back."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject, QTimer
from PySide6.QtGui import QActionGroup
from PySide6.QtWidgets import QInputDialog, QMenu, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import RECORDING, TEXT, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.formats.timecode import parse_time
from tamarind.job.settings import STEP_BACK

STEPS_BACK_MS = (0, 500, 1_000, 1_500, 2_000, 3_000)
AT_THE_END_MS = 60
LEAD_MS = 150
"""So much before a cue its replay begins, so that its first sound is not cut."""


class Listening(QObject):
    """Keeps its settings with the job."""

    def __init__(
        self, session: Session, sheet: ProofSheet, player: Player, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._session, self._sheet, self._player = session, sheet, player
        self._parent = parent
        self.step_back = session.settings.get(STEP_BACK)
        self.stops_at_cues = False
        self._loop: tuple[int, int] | None = None
        player.playing_changed.connect(self._playing_changed)

    def set_step_back(self, milliseconds: int) -> None:
        """Set how far the playhead goes back when playing stops."""
        self.step_back = milliseconds
        self._session.settings.keep(STEP_BACK, milliseconds)

    def step_back_menu(self, parent: QWidget) -> QMenu:
        """Return the menu of how far the playhead goes back."""
        menu = QMenu("Step back when stopped", parent)
        group = QActionGroup(menu)
        for step in STEPS_BACK_MS:
            act = menu.addAction(f"{step / 1000:g} s" if step else "off")
            act.setCheckable(True)
            act.setChecked(step == self.step_back)
            act.triggered.connect(partial(self.set_step_back, step))
            group.addAction(act)
        return menu

    def stop(self) -> None:
        """Stop, and step back, so that playing on repeats what was heard last."""
        self._loop = None
        self._player.stop()
        if self.step_back:
            self._player.seek(self._player.position - self.step_back)

    def play(self, start: int | None = None) -> None:
        """Play on; to the end of the cue only, if playing stops after every cue."""
        self._loop = None
        at = self._player.position if start is None else start
        self._player.play(start, self._end_of_cue(at) if self.stops_at_cues else None)

    @command("Replay the cue", "Listening", "F6", needs=TEXT)
    def replay_cue(self) -> None:
        """Play the caret's cue once more, from its start to its end."""
        cue = self._sheet.cue_caret.cue()
        if cue is not None:
            self._loop = None
            self._player.play(max(cue.start - LEAD_MS, 0), cue.end)

    @command("Loop the selected cues", "Listening", "F7", needs=TEXT, also="repeat")
    def loop(self) -> None:
        """Repeat the selected cues, or the caret's; given again, stop."""
        if self._loop is not None:
            self.stop()
            return
        cues = self._sheet.transcript.cues
        if not cues:
            return
        here = self._sheet.cue_caret.place()
        first, last = self._sheet.cue_caret.selected_cues() or (here, here + 1)
        span = max(cues[first].start - LEAD_MS, 0), cues[last - 1].end
        self._loop = None
        self._player.play(*span)
        self._loop = span

    @command(
        "Go to a time…",
        "Edit",
        "Ctrl+G",
        name="go_to_time",
        opens="proof",
        needs=RECORDING,
        also="timecode jump position",
    )
    def ask_time(self) -> None:
        """Ask for a time, and go there with the caret and the playhead."""
        text, accepted = QInputDialog.getText(
            self._parent, "Go to a time", "Time, such as 1:02:03.5 or 95"
        )
        if accepted:
            try:
                self.go_to_time(parse_time(text))
            except ValueError as error:
                self._session.told.emit(str(error))

    def go_to_time(self, time: int) -> None:
        """Move the playhead to a time (ms), and the caret to what is said there."""
        self._player.seek(time)
        place = self._sheet.transcript.place_at(time)
        if place is not None:
            words = self._sheet.transcript.cues[place].words
            word = next((n for n, w in enumerate(words) if w.end > time), len(words) - 1)
            self._sheet.cue_caret.go_to_word(place, max(word, 0))

    def _end_of_cue(self, time: int) -> int | None:
        """Return where the cue ends that is said at a time, or the next one."""
        return next((cue.end for cue in self._sheet.transcript.cues if cue.end > time + 50), None)

    def _playing_changed(self, playing: bool) -> None:
        """Repeat a loop at its end; end it when playing was stopped before that."""
        if playing or self._loop is None:
            return
        if self._player.position >= self._loop[1] - AT_THE_END_MS:
            QTimer.singleShot(0, self, self._again)
        else:
            self._loop = None

    def _again(self) -> None:
        if self._loop is not None and not self._player.is_playing:
            self._player.play(*self._loop)
