"""The translation sheet as the find bar uses it."""

from __future__ import annotations

from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.translation.trackedits import TrackEdits
from tamarind.transcript.find import Match
from tamarind.transcript.model import Transcript


class SearchedTracks:
    """The tracks in the shown language."""

    def __init__(self, sheet: TranslationSheet, edits: TrackEdits) -> None:
        self._sheet, self._edits = sheet, edits

    def transcript(self, recording_id: int) -> Transcript:
        """Return a recording's track as a text."""
        return self._edits.transcript(recording_id)

    def replace(self, recording_id: int, transcript: Transcript) -> None:
        """Edit a track as one step of undo."""
        self._edits.edit(recording_id, "replace", transcript)

    def selected_text(self) -> str:
        """Return the text selected on the sheet."""
        return self._sheet.caret.selected_text()

    def start(self) -> tuple[bool, tuple[int, int]]:
        """Return the place of the selection or the caret; rows are cues."""
        selection = self._sheet.caret.selection()
        return selection is not None, selection[0] if selection else self._sheet.caret.place

    def select(self, found: Match) -> None:
        """Select a range of the text."""
        self._sheet.caret.select((found.row, found.first), (found.row, found.last))

    def take_focus(self) -> None:
        """Give the keyboard focus back to the sheet."""
        self._sheet.setFocus()
