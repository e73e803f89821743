"""What the find bar needs of the sheet above it."""

from __future__ import annotations

from typing import Protocol

from tamarind.transcript.find import Match
from tamarind.transcript.model import Transcript


class Searched(Protocol):
    """The texts of a page: those of all recordings, and a caret in the shown one."""

    def transcript(self, recording_id: int) -> Transcript:
        """Return a recording's text; the same object as long as it has not changed."""
        ...

    def replace(self, recording_id: int, transcript: Transcript) -> None:
        """Edit a recording's text as one step of undo."""
        ...

    def selected_text(self) -> str:
        """Return the selected text, with line ends between rows."""
        ...

    def start(self) -> tuple[bool, tuple[int, int]]:
        """Return whether something is selected, and the cue and letter of its start or of the
        caret."""
        ...

    def select(self, found: Match) -> None:
        """Select a range of the shown recording's text."""
        ...

    def take_focus(self) -> None:
        """Give the keyboard focus back to the text."""
        ...
