"""The length of paragraphs in the shown recording, set by a slider."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.system.later import Later
from tamarind.transcript.model import Transcript

if TYPE_CHECKING:
    from tamarind.language import paragraphing
else:
    paragraphing = Later("tamarind.language.paragraphing")

MOST_WORDS, FEWEST_WORDS, STEPS = 400, 25, 16
"""Of a paragraph on average, at the two ends of the slider."""


def words_at(step: int) -> int:
    """Return the words a paragraph at a step of the slider, from few paragraphs at 0 to many."""
    return int(MOST_WORDS * math.pow(FEWEST_WORDS / MOST_WORDS, step / STEPS))


def step_of(words: float) -> int:
    """Return the step whose paragraphs are nearest to so many words."""
    return min(range(STEPS + 1), key=lambda step: abs(words_at(step) - words))


class Parting(QObject):
    """Divides the shown text into paragraphs; those that a person has opened or joined stay."""

    stepped = Signal(int)
    """The slider belongs elsewhere."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet
        self._step = 0
        self._found: paragraphing.Paragraphing | None = None
        self._made: Transcript | None = None
        """The text that was parted last; as long as it is shown, what was found of it holds."""

    @property
    def step(self) -> int:
        """The step of the slider."""
        return self._step

    def show_recording(self) -> None:
        """Set the slider to the length of the shown text's paragraphs."""
        self._found = self._made = None
        self._step = step_of(paragraphing.mean_length(self._sheet.transcript))
        self.stepped.emit(self._step)

    @command("Make paragraphs longer", "Paragraphs", "Alt+Shift+L", needs=TEXT)
    def lengthen(self) -> None:
        """Go a step towards fewer paragraphs."""
        self.part(self._step - 1)

    @command("Make paragraphs shorter", "Paragraphs", "Alt+Shift+S", needs=TEXT)
    def shorten(self) -> None:
        """Go a step towards more paragraphs."""
        self.part(self._step + 1)

    def part(self, step: int) -> None:
        """Divide the shown text for a step of the slider."""
        recording = self._session.shown_recording()
        text = self._sheet.transcript
        if recording is None or not text.cues:
            return
        self._step = max(0, min(step, STEPS))
        if self._found is None or text is not self._made:
            self._found = paragraphing.Paragraphing(text)
        most = self._session.styles.of(recording).transcript.longest_paragraph
        place = self._sheet.cue_caret.place()
        self._made = self._found.parted(words_at(self._step), most)
        self._session.texts.edit(recording.id, "paragraphs", self._made, "paragraphs")
        self._sheet.cue_caret.go_to((place, 0))
        self.stepped.emit(self._step)
