"""What the find bar needs of the sheet above it."""

from __future__ import annotations

from typing import Protocol

from tamarind.transcript.find import Match
from tamarind.transcript.model import Transcript


class Searched(Protocol):
    """The texts of a page: those of all recordings, and a caret in the shown one."""

    def transcript(self, recording_id: int) -> Transcript:
        """A recording's text; the same object as long as it has not changed."""
        ...

    def replace(self, recording_id: int, transcript: Transcript) -> None:
        """Edit a recording's text as one step."""
        ...

    def selected_text(self) -> str:
        """What is selected, rows apart by line ends."""
        ...

    def start(self) -> tuple[bool, tuple[int, int]]:
        """Whether something is selected, and the cue and the letter where that, or else the caret,
        is."""
        ...

    def select(self, found: Match) -> None:
        """Select a place of the shown recording's text."""
        ...

    def take_focus(self) -> None:
        """Typing goes into the text again."""
        ...
