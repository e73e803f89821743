"""The part of the desk where a passage is transcribed again, and differences are taken or left."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import DIFFERENCE, TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.parts import button, label
from tamarind.speech.hearingoptions import BUILTIN, Care, HearingOptions
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.system.later import Later
from tamarind.transcript.model import Transcript, Word
from tamarind.transcript.rehearing import (
    Difference,
    differences,
    fill_empty,
    in_context,
    is_open,
    passage,
    take,
)

if TYPE_CHECKING:
    from tamarind.speech.recognisers import catalogue, shelf
else:
    catalogue = Later("tamarind.speech.recognisers.catalogue")
    shelf = Later("tamarind.speech.recognisers.shelf")

Way = Callable[[HearingOptions], HearingOptions]

WAYS: dict[str, Way] = {
    "Thorough": lambda how: replace(how, care=Care.THOROUGH),
    "Thorough, noise reduction": lambda how: replace(
        how, care=Care.THOROUGH, source=replace(how.source, clean=True)
    ),
    "Fast": lambda how: replace(how, care=Care.QUICK),
}
OFFERED_AFTER_MS = 500
LONGEST_MS = 10 * 60_000


def ways_for(how: HearingOptions) -> dict[str, Way]:
    """Return all ways to transcribe a recording again: other qualities, and every other recogniser
    here for its language."""
    ways = dict(WAYS)
    others = [(one.name, one.label) for one in catalogue.shipped() if one.name != BUILTIN]
    others += [(str(folder), folder.name) for folder in shelf.folders_here()]
    try:
        known = catalogue.heard_by(how)
    except RecogniserError:
        known = ()
    for name, words in others:
        if name not in known and catalogue.hears(name, how.language):
            ways[f"Another recogniser: {words}"] = partial(_by, name)
    return ways


def _by(name: str, how: HearingOptions) -> HearingOptions:
    """Return the settings for one recogniser alone."""
    care = Care.THOROUGH if how.care is Care.DOUBLE else how.care
    return replace(how, recogniser=name, care=care)


@dataclass(frozen=True, slots=True)
class _Asked:
    """The request: ids of the cues to transcribe, and of those among them that the person wants."""

    recording: int
    heard: tuple[int, ...]
    wanted: frozenset[int]


class SecondHearing(QWidget):
    """Transcribes the caret's cue, or all selected cues, in another way."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__()
        self._session, self._sheet = session, sheet
        self._asked: _Asked | None = None
        self._heard_by = ""
        self._open: tuple[Difference, ...] = ()
        self.way = QComboBox()
        self.way.setAccessibleName("How to transcribe again")
        # Long words in the list do not make the desk wider than it is.
        narrow = QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        self.way.setSizeAdjustPolicy(narrow)
        self.way.setMinimumContentsLength(8)
        self._ways = dict(WAYS)
        self.way.addItems(list(WAYS))
        self._offer_soon = QTimer(self, singleShot=True, interval=OFFERED_AFTER_MS)
        self._offer_soon.timeout.connect(self._ask_ways)
        self._tasks = tasks_of(self, "finding recognisers")
        self._start = button("Start", self.start, "link", "{hear_again}")
        self._stop = button("Cancel", self.stop, "link")
        self._note = label("", "note", wrap=True)
        self._old, self._new = label("", wrap=True), label("", wrap=True)
        self._take = button("Use", self.take, "choice", "{take_heard}")
        self._leave = button("Keep", self.leave, "choice", "{leave_heard}")
        self._take_all = button("Use all", self.take_all, "link")
        self._leave_all = button("Keep all", self.leave_all, "link")
        for widget in (self._take, self._leave, self._take_all, self._leave_all, self._start):
            widget.setFocusPolicy(Qt.FocusPolicy.TabFocus)

        self._lay_out()
        session.on_demand.heard_again.connect(self._heard)
        self._show()

    def _lay_out(self) -> None:
        """Place the choice of the way, both texts, and the buttons."""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        head = QHBoxLayout()
        head.addWidget(label("TRANSCRIBE AGAIN", "heading"))
        head.addStretch(1)
        head.addWidget(self._start)
        head.addWidget(self._stop)
        column.addLayout(head)
        column.addWidget(self.way)
        column.addWidget(self._note)
        for name, text in (("now", self._old), ("heard", self._new)):
            row = QHBoxLayout()
            heading = label(name, "note")
            heading.setFixedWidth(44)
            row.addWidget(heading)
            row.addWidget(text, 1)
            text.setProperty("heading", heading)
            column.addLayout(row)
        for pair in ((self._take, self._leave), (self._take_all, self._leave_all)):
            row = QHBoxLayout()
            row.setSpacing(6)
            for widget in pair:
                row.addWidget(widget, 1)
            column.addLayout(row)

    def show_recording(self) -> None:
        """Show another recording and drop the differences of the last one."""
        self.stop()
        self._set_open(())
        self._note.setText("")
        self._offer_ways(dict(WAYS))
        self._offer_soon.start()
        self._show()

    def showEvent(self, event: object) -> None:
        """Look for recognisers again, since models may have come."""
        self._offer_soon.start()

    def _ask_ways(self) -> None:
        """Find the installed recognisers in the background, which takes a moment."""
        recording = self._session.shown_recording()
        if recording is not None:
            how = recording.how
            self._tasks.run(lambda: ways_for(how), self._offer_ways)

    def _offer_ways(self, ways: dict[str, Way]) -> None:
        if list(ways) != list(self._ways):
            chosen = self.way.currentText()
            self.way.clear()
            self.way.addItems(list(ways))
            self.way.setCurrentIndex(max(self.way.findText(chosen), 0))
        self._ways = ways

    @property
    def has_differences(self) -> bool:
        """Whether differences are still to be settled."""
        return bool(self._open)

    def follow_document(self) -> None:
        """Drop differences whose words have been changed or deleted."""
        left = tuple(d for d in self._open if is_open(self._sheet.transcript, d))
        if left != self._open:
            self._set_open(left)

    @command(
        "Transcribe the passage again",
        "Transcribe again",
        "Alt+A",
        name="hear_again",
        opens="proof",
        needs=TEXT,
        also="recognise retranscribe rerun",
    )
    def start(self) -> None:
        """Transcribe the caret's cue or the selected ones again."""
        recording = self._session.shown_recording()
        text = self._sheet.transcript
        if recording is None or not text.cues:
            return
        here = self._sheet.cue_caret.place()
        first, end = self._sheet.cue_caret.selected_cues() or (here, here + 1)
        last = end - 1
        around = in_context(text, first, last + 1)
        part = passage(text, *around)
        if part[1] - part[0] > LONGEST_MS:
            self._say("This is more than ten minutes. Select fewer cues.")
            return
        how = self._ways[self.way.currentText()](recording.how)
        spoken = {cue.language for cue in text.cues[first : last + 1]}
        if len(spoken) == 1:
            how = replace(how, language=spoken.pop() or how.language, others=())
        self._heard_by = self.way.currentText().removeprefix("Another recogniser: ")
        self._asked = _Asked(
            recording.id,
            tuple(cue.id for cue in text.cues[slice(*around)]),
            frozenset(cue.id for cue in text.cues[first : last + 1]),
        )
        self._set_open(())
        count = last + 1 - first
        self._say(
            "Transcribing one cue again…" if count == 1 else f"Transcribing {count} cues again…"
        )
        self._session.on_demand.hear_again(recording.id, part, how)

    def stop(self) -> None:
        """Cancel the transcription."""
        if self._asked is not None:
            self._session.on_demand.stop(self._asked.recording)
            self._asked = None
            self._say("")

    @command(
        "Take the new transcription",
        "Transcribe again",
        "Alt+T",
        name="take_heard",
        needs=DIFFERENCE,
    )
    def take(self) -> None:
        """Take the new words for the difference shown."""
        if self._open:
            text, rest = take(self._sheet.transcript, self._open[0], self._open)
            self._finish(text, rest)

    @command(
        "Keep the text as it is", "Transcribe again", "Alt+L", name="leave_heard", needs=DIFFERENCE
    )
    def leave(self) -> None:
        """Keep the text for the difference shown."""
        if self._open:
            self._set_open(self._open[1:])

    def take_all(self) -> None:
        """Take the new words for all differences left."""
        text, rest = self._sheet.transcript, self._open
        while rest:
            text, rest = take(text, rest[0], rest)
        self._finish(text, rest)

    def leave_all(self) -> None:
        """Keep the text for all differences left."""
        self._set_open(())

    def _finish(self, text: Transcript, rest: tuple[Difference, ...]) -> None:
        shown = self._session.shown
        if shown is not None:
            # The edit is news of the document, which must find what is still open.
            self._open = rest
            self._session.texts.edit(shown, "take new transcription", text)
            self._set_open(rest)

    def _heard(self, recording_id: int, result: tuple[Word, ...] | str) -> None:
        asked = self._asked
        if asked is None or asked.recording != recording_id:
            return
        self._asked = None
        if isinstance(result, str):
            self._say(result)
            return
        text = self._sheet.transcript
        rows = [row for row, cue in enumerate(text.cues) if cue.id in asked.heard]
        heard = differences(text, rows[0], rows[-1] + 1, result) if rows else ()
        found = tuple(difference for difference in heard if difference.cue in asked.wanted)
        filled, left = fill_empty(text, found)
        if len(left) < len(found):
            self._session.texts.edit(recording_id, "cues transcribed", filled)
        self._say("" if found else "The result is the same.")
        found = left
        self._set_open(found)

    def _set_open(self, found: tuple[Difference, ...]) -> None:
        self._open = found
        text = self._sheet.transcript
        rows = {cue.id: row for row, cue in enumerate(text.cues)} if found else {}
        self._sheet.mark_differences([(rows[d.cue], d.first, d.last) for d in found])
        if found:
            self._sheet.cue_caret.go_to_word(rows[found[0].cue], found[0].first)
            count = len(found)
            said = "One difference" if count == 1 else f"1 of {count} differences"
            self._note.setText(f"{said} · by {self._heard_by}")
        elif self._take.isVisible():
            self._note.setText("All differences are reviewed.")
        self._show()

    def _say(self, text: str) -> None:
        self._note.setText(text)
        self._show()

    def _show(self) -> None:
        """Show only what can be used now."""
        shown = self._open[0] if self._open else None
        self._old.setText(" ".join(shown.old) if shown and shown.old else "(nothing)")
        self._new.setText(shown.new_text if shown and shown.new else "(nothing)")
        for text in (self._old, self._new):
            text.setVisible(shown is not None)
            text.property("heading").setVisible(shown is not None)
        self._take.setVisible(shown is not None)
        self._leave.setVisible(shown is not None)
        self._take_all.setVisible(len(self._open) > 1)
        self._leave_all.setVisible(len(self._open) > 1)
        self._stop.setVisible(self._asked is not None)
        self._start.setVisible(self._asked is None)
        self._note.setVisible(bool(self._note.text()))
