"""The proof sheet as the find bar uses it."""

from __future__ import annotations

from tamarind.application.session import Session
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.transcript.find import Match
from tamarind.transcript.model import Transcript


class SearchedTexts:
    """The source texts of the recordings."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        self._session, self._sheet = session, sheet

    def transcript(self, recording_id: int) -> Transcript:
        """Return a recording's text."""
        return self._session.texts.transcript(recording_id)

    def replace(self, recording_id: int, transcript: Transcript) -> None:
        """Edit a recording's text as one step of undo."""
        self._session.texts.close_edit_group()
        self._session.texts.edit(recording_id, "replace", transcript)

    def selected_text(self) -> str:
        """Return the text selected on the sheet."""
        return self._sheet.caret.selected_text()

    def start(self) -> tuple[bool, tuple[int, int]]:
        """Return the place of the selection or the caret."""
        selection = self._sheet.caret.selection()
        place = selection[0] if selection else self._sheet.caret.place
        return selection is not None, self._sheet.spots.spot_of(place)

    def select(self, found: Match) -> None:
        """Select a range of the text."""
        self._sheet.cue_caret.go_to((found.row, found.first))
        self._sheet.cue_caret.go_to((found.row, found.last), keep_anchor=True)

    def take_focus(self) -> None:
        """Give the keyboard focus back to the sheet."""
        self._sheet.setFocus()
