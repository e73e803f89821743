"""The translation sheet as the find bar sees it."""

from __future__ import annotations

from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.translation.trackedits import TrackEdits
from tamarind.transcript.find import Match
from tamarind.transcript.model import Transcript


class SearchedTracks:
    """The tracks in the language that is shown."""

    def __init__(self, sheet: TranslationSheet, edits: TrackEdits) -> None:
        self._sheet, self._edits = sheet, edits

    def transcript(self, recording_id: int) -> Transcript:
        """A recording's track as a text."""
        return self._edits.transcript(recording_id)

    def replace(self, recording_id: int, transcript: Transcript) -> None:
        """Edit it as one step."""
        self._edits.edit(recording_id, "replace", transcript)

    def selected_text(self) -> str:
        """What is selected on the sheet."""
        return self._sheet.caret.selected_text()

    def start(self) -> tuple[bool, tuple[int, int]]:
        """Where the selection or the caret is; rows are cues."""
        selection = self._sheet.caret.selection()
        return selection is not None, selection[0] if selection else self._sheet.caret.place

    def select(self, found: Match) -> None:
        """Select a place."""
        self._sheet.caret.select((found.row, found.first), (found.row, found.last))

    def take_focus(self) -> None:
        """Back to the sheet."""
        self._sheet.setFocus()
