"""The command that keeps the selected words as an excerpt."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet


class ExcerptKeeping(QObject):
    """Keeps excerpts of the shown recording."""

    kept = Signal(object)

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        super().__init__(sheet)
        self._session, self._sheet = session, sheet

    @command(
        "Keep as an excerpt",
        "Excerpts",
        "Ctrl+D",
        needs=TEXT,
        also="clip quote highlight soundbite",
    )
    def keep_excerpt(self) -> None:
        """Keep the selected words, or those of the caret's cue, with their in and out points."""
        words = self._sheet.cue_caret.chosen_words()
        shown = self._session.shown
        if not words or shown is None:
            return
        key = self._session.excerpts.keep(shown, words[0], words[-1])
        one = self._session.excerpts.find(key)
        self.kept.emit(key)
        if one is not None:
            number = len(self._session.excerpts.all())
            self._session.told.emit(
                f"Excerpt {number} kept: “{one.name}…”, {one.excerpt.length / 1000:.1f} s."
            )
