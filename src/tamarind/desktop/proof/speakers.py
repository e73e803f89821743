"""Commands for speakers: name them, give turns to others, split turns."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QInputDialog

from tamarind.application.session import Session
from tamarind.application.speakersagain import Retold
from tamarind.desktop.commands import TEXT, command, command_each
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.system.later import Later
from tamarind.transcript import edits
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.desktop.proof import speakers_dialog
    from tamarind.language import introductions
else:
    speakers_dialog = Later("tamarind.desktop.proof.speakers_dialog")
    introductions = Later("tamarind.language.introductions")

NEW_SPEAKER = "a new speaker"
TURNS = {number: f"speaker {number}" for number in range(1, 10)} | {0: "nobody"}


class Speakers(QObject):
    """Each change is one step of undo and concerns the turn at the caret."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet
        self._waits = False
        session.speakers_again.told.connect(self._take_likeness)
        sheet.speaker_asked.connect(lambda _row: self.ask_name())

    @command(
        "Name the speaker…",
        "Speakers",
        "Alt+N",
        name="speaker",
        opens="proof",
        needs=TEXT,
        also="rename label who",
    )
    def ask_name(self) -> None:
        """Ask for the name of the speaker of the caret's turn, in all their turns."""
        cue = self._sheet.cue_caret.cue()
        if cue is None:
            return
        text = self._sheet.transcript
        speaker = text.speaker(cue.speaker)
        named = speaker.name if speaker else ""
        said = introductions.proposed_names(text).get(cue.speaker or 0, ())
        window, title, question = self._sheet.window(), "Name the speaker", "Who speaks here?"
        if named or not said:
            name, accepted = QInputDialog.getText(window, title, question, text=named)
        else:
            question = "Who speaks here? These names are said; another can be written."
            name, accepted = QInputDialog.getItem(window, title, question, list(said), 0, True)
        if accepted and name.strip():
            self.give_name(name.strip())

    def give_name(self, name: str) -> None:
        """Name the speaker of the caret's turn; a turn without a speaker goes to whoever has that
        name."""
        cue = self._sheet.cue_caret.cue()
        if cue is None:
            return
        text = self._sheet.transcript
        if cue.speaker is not None:
            self._name(cue.speaker, name)
            return
        known = next((s for s in text.speakers if s.name == name), None)
        if known is None:
            text, known = edits.add_speaker(text, name)
        first, last = edits.turn_of(text, self._sheet.cue_caret.place())
        self._session.edit_shown("name a speaker", edits.set_speaker(text, first, last, known.id))

    def _name(self, speaker_id: int, name: str) -> None:
        shown = self._session.shown
        if shown is None:
            return
        others = self._session.same_voices.name(shown, speaker_id, name)
        if others:
            noun = "1 other recording" if others == 1 else f"{others} other recordings"
            self._session.told.emit(f"The same speaker is named “{name}” in {noun} too.")

    @command_each(
        "Give the turn to {}",
        "Text",
        "Alt+{}",
        TURNS,
        name="turn_{}",
        together=("Give the turn to a speaker; to nobody", "Alt+1 … Alt+9; Alt+0"),
        needs=TEXT,
    )
    def take(self, number: int) -> None:
        """Give the caret's cue and the rest of its turn to a speaker by number (0: none)."""
        cue = self._sheet.cue_caret.cue()
        text = self._sheet.transcript
        if cue is None or number > len(text.speakers):
            return
        speaker = text.speakers[number - 1].id if number else None
        self._give_turn(text, speaker)

    @command(
        "Detect speakers again…",
        "Speakers",
        "Alt+Shift+N",
        name="speakers_again",
        opens="proof",
        needs=TEXT,
        also="diarise diarize diarisation voices turns",
    )
    def ask_speakers(self) -> None:
        """Tell speakers apart again, in the whole text or the selected cues."""
        # An answer that is still awaited is no longer wanted, and the dialog's are its own.
        self._waits = False
        selected = self._sheet.cue_caret.selected_cues()
        dialog = speakers_dialog.SpeakersDialog(self._session, selected, self._sheet.window())
        if dialog.exec() and dialog.retold is not None:
            self._take_retold(dialog.retold)

    @command(
        "Give the turn to another speaker…",
        "Speakers",
        "Alt+Shift+A",
        name="sounds_like",
        needs=TEXT,
    )
    def ask_likeness(self) -> None:
        """Ask whose the caret's turn or the selected cues are; whatever sounds like that goes to
        the same speaker."""
        shown, text = self._session.shown, self._sheet.transcript
        if shown is None or not text.cues:
            return
        here = self._sheet.cue_caret.place()
        first, last = self._sheet.cue_caret.selected_cues() or edits.turn_of(text, here)
        others = [one for one in text.speakers if one.id != text.cues[first].speaker]
        choices = [*(speaker.label for speaker in others), NEW_SPEAKER]
        choice, accepted = QInputDialog.getItem(
            self._sheet.window(),
            "This sounds like",
            "Who speaks here? Whatever sounds the same goes to the same speaker.",
            choices,
            0,
            False,
        )
        if not accepted:
            return
        place = choices.index(choice)
        new = max((one.id for one in text.speakers), default=0) + 1
        speaker = others[place].id if place < len(others) else new
        self._waits = True
        self._session.told.emit("Comparing the speakers…")
        self._session.speakers_again.ask_likeness(shown, first, last, speaker)

    def _take_likeness(self, told: Retold | str) -> None:
        if not self._waits:
            return
        self._waits = False
        if isinstance(told, str):
            self._session.trouble.emit(told)
        else:
            self._take_retold(told)

    def _take_retold(self, retold: Retold) -> None:
        problem = self._session.speakers_again.take(retold)
        if problem:
            self._session.trouble.emit(problem)
            return
        count = len({cue.speaker for cue in retold.text.cues if cue.speaker is not None})
        noun = "1 speaker" if count == 1 else f"{count} speakers"
        self._session.told.emit(f"{noun} now. Undo brings the earlier ones back.")

    def choose(self, choice: object) -> None:
        text = self._sheet.transcript
        if choice == "new":
            text, speaker = edits.add_speaker(text)
            self._give_turn(text, speaker.id)
            self.ask_name()
        elif isinstance(choice, int):
            self._give_turn(text, choice)
        self._sheet.setFocus()

    @command("Change the speaker from here on", "Speakers", "Alt+S", needs=TEXT)
    def split_turn(self) -> None:
        """Give the words from the caret on to another speaker: the one who spoke before."""
        cue = self._sheet.cue_caret.cue()
        if cue is None or not cue.words:
            return
        place, word = self._sheet.cue_caret.place(), self._sheet.cue_caret.word()
        text = edits.split(self._sheet.transcript, place, word)
        here = place + (len(text.cues) > len(self._sheet.transcript.cues))
        before = (each.speaker for each in reversed(text.cues[:place]))
        others = [s for s in before if s not in (None, cue.speaker)]
        others += [s.id for s in text.speakers if s.id != cue.speaker]
        if others:
            speaker = others[0]
        else:
            text, new = edits.add_speaker(text)
            speaker = new.id
        _, last = edits.turn_of(text, here)
        self._session.edit_shown("split a turn", edits.set_speaker(text, here, last, speaker))
        self._sheet.cue_caret.go_to((here, 0))

    def _give_turn(self, text: Transcript, speaker: int | None) -> None:
        row = self._sheet.cue_caret.place()
        _, last = edits.turn_of(text, row)
        self._session.edit_shown("speaker", edits.set_speaker(text, row, last, speaker))
