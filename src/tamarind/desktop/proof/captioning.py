"""Commands for captions as a whole: layout, place on the picture, punctuation."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from tamarind.application.checking import Checking
from tamarind.application.session import Session
from tamarind.application.transcriptionqueue import cannot_hear
from tamarind.desktop.commands import RECORDING, TEXT, command
from tamarind.desktop.hearing_dialog import HearingDialog
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.desktop.qtloop import tasks_of
from tamarind.formats.spans import ITALICS
from tamarind.formats.timecode import clock
from tamarind.language.marks import MarkProposal
from tamarind.system.later import Later
from tamarind.transcript.edits import toggle_span, with_cues

if TYPE_CHECKING:
    from tamarind.desktop.proof import shaping_dialog
    from tamarind.desktop.widgets import changes_dialog
    from tamarind.language import grammar, marks
else:
    shaping_dialog = Later("tamarind.desktop.proof.shaping_dialog")
    changes_dialog = Later("tamarind.desktop.widgets.changes_dialog")
    marks = Later("tamarind.language.marks")
    grammar = Later("tamarind.language.grammar")

AT_THE_TOP = "line:0"
FROM_SOUND = "Punctuation comes from the sound; the words stay as they are."
FROM_PAUSES = "There is no sound, so punctuation is guessed from pauses. Check it carefully."


class Captioning(QObject):
    """Each shows what it would change, and is one step of undo."""

    def __init__(
        self,
        session: Session,
        sheet: ProofSheet,
        checking: Checking,
        hearing_dialog: HearingDialog,
    ) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet
        self._checking, self._hearing_dialog = checking, hearing_dialog
        self._tasks = tasks_of(self, "captions")

    @command(
        "Shape captions…",
        "Checks",
        "Alt+U",
        opens="proof",
        needs=RECORDING,
        also="subtitles segment resegment lay out merge",
    )
    def shape(self) -> None:
        """Ask what to do with the selected cues, or all."""
        recording = self._session.shown_recording()
        text = self._sheet.transcript
        if recording is None or not any(cue.words for cue in text.cues):
            self._session.told.emit("There are no captions to shape yet.")
            return
        speech = self._checking.context(recording.id).speech or ()
        dialog = shaping_dialog.ShapingDialog(
            text,
            self._sheet.cue_caret.selected_cues(),
            self._session.styles.of(recording),
            speech=speech,
            shots=self._session.on_demand.shots(recording.id) or (),
            parent=self._sheet.window(),
        )
        on_demand = self._session.on_demand
        # What is found meanwhile counts at once.
        follow = on_demand.shots_found.connect(
            lambda key: (
                dialog.set_shots(on_demand.shots(key) or ()) if key == recording.id else None
            )
        )
        accepted = dialog.exec()
        on_demand.shots_found.disconnect(follow)
        if accepted and text is self._session.texts.transcript(recording.id):
            self._session.texts.edit(recording.id, dialog.act().value, dialog.result_text())
        self._sheet.setFocus()

    @command("Move the caption to the top or back", "Text", "Alt+B", name="place", needs=TEXT)
    def change_place(self) -> None:
        """Move the caret's cue, or the selected ones, to the top of the picture, or back."""
        if self._sheet.cue_caret.cue() is None:
            return
        text = self._sheet.transcript
        here = self._sheet.cue_caret.place()
        first, last = self._sheet.cue_caret.selected_cues() or (here, here + 1)
        placement = "" if text.cues[here].placement else AT_THE_TOP
        cues = [replace(cue, placement=placement) for cue in text.cues[first:last]]
        self._session.edit_shown("place of the caption", with_cues(text, first, last, *cues))
        self._session.told.emit(
            "At the top of the picture." if placement else "At the usual place."
        )

    @command(
        "Italic",
        "Text",
        "Ctrl+Shift+I",
        name="italics",
        needs=TEXT,
    )
    def change_italics(self) -> None:
        """Set the selected words, or the caret's cue, in italics, or back."""
        words = self._sheet.cue_caret.chosen_words()
        new = toggle_span(self._sheet.transcript, words, ITALICS)
        if words:
            self._session.edit_shown("italics", new)

    @command(
        "Restore punctuation…",
        "Checks",
        "Alt+I",
        name="punctuate",
        opens="proof",
        needs=RECORDING,
        also="commas full stops capitals",
    )
    def restore_punctuation(self) -> None:
        """Propose punctuation and capitals: by transcribing again, or from pauses where there is no
        sound."""
        recording = self._session.shown_recording()
        text = self._sheet.transcript
        if recording is None or not any(cue.words for cue in text.cues):
            self._session.told.emit("There is no text yet.")
            return
        key = recording.id
        if self._session.sounds.has(key) and not cannot_hear(recording):
            self._hearing_dialog.hear(
                key,
                f"Finding punctuation and capitals in “{recording.name}”…",
                lambda words: self._tasks.run(
                    lambda: marks.from_hearing(self._session.texts.transcript(key), words),
                    lambda found: self._propose(key, found, FROM_SOUND),
                ),
            )
            return
        names = [term.text for term in self._session.glossary().terms]
        english = text.language.partition("-")[0] == "en"
        spelling = self._session.styles.of(recording).wording.spelling

        def work() -> list[MarkProposal]:
            capitals = grammar.Grammar(spelling).capitals if english else lambda _text: ()
            return marks.from_pauses(text, names, capitals)

        self._tasks.run(work, lambda found: self._propose(key, found, FROM_PAUSES))

    def _propose(self, recording_id: int, found: list[MarkProposal], note: str) -> None:
        text = self._session.texts.transcript(recording_id)
        if not found:
            self._session.told.emit("No punctuation or capitals are missing.")
            return
        starts = {cue.id: clock(cue.start, 1, hours=False) for cue in text.cues}
        changes = [
            changes_dialog.ProposedChange(number, one.before, one.after, starts.get(one.cue, ""))
            for number, one in enumerate(found)
        ]
        dialog = changes_dialog.ChangesDialog(
            "Punctuation and capitals",
            changes,
            self._sheet.window(),
            note=note,
            texts=True,
            about="time",
        )
        if dialog.exec():
            chosen = [found[number] for number in dialog.chosen()]
            new = marks.taken(self._session.texts.transcript(recording_id), chosen)
            self._session.texts.edit(recording_id, "punctuation", new)
        self._sheet.setFocus()
