"""Commands that compare the text with its draft, and restore the draft."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tamarind.application.session import Session
from tamarind.desktop.commands import RECORDING, TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.system.later import Later
from tamarind.transcript.draft import restore
from tamarind.transcript.model import Cue

if TYPE_CHECKING:
    from tamarind.desktop.proof import draft_dialog
else:
    draft_dialog = Later("tamarind.desktop.proof.draft_dialog")


class Drafting:
    """Compares the shown recording with its draft."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        self._session, self._sheet = session, sheet

    @command(
        "Compare with the draft…",
        "Draft",
        "Alt+D",
        opens="proof",
        needs=RECORDING,
        also="diff changes",
    )
    def compare(self) -> None:
        """Show what was changed since the draft, with a way to every place."""
        recording = self._session.shown_recording()
        draft = self._draft()
        if recording is None or not draft:
            return
        cues = self._sheet.transcript.cues
        dialog = draft_dialog.DraftDialog(recording.name, draft, cues, self._sheet.window())
        if dialog.exec() and dialog.place is not None:
            self._sheet.cue_caret.go_to((dialog.place, 0))
            if dialog.restores:
                self.restore()
        self._sheet.setFocus()

    @command(
        "Compare with a file…", "Draft", name="compare_file", needs=RECORDING,
        also="diff version changes tracked job",
    )  # fmt: skip
    def compare_with_file(self) -> None:
        """Show what differs from another version, and go to what is chosen."""
        from tamarind.desktop.compare_dialog import ask_to_compare  # seldom wanted

        place = ask_to_compare(self._session, self._sheet.window())
        if place is not None:
            self._sheet.cue_caret.go_to((place, 0))
        self._sheet.setFocus()

    @command(
        "Restore the draft in the selection",
        "Draft",
        "Alt+Shift+D",
        needs=TEXT,
        also="original revert",
    )
    def restore(self) -> None:
        """Restore the draft of the caret's cue, or of the selected ones."""
        draft = self._draft()
        if self._sheet.cue_caret.cue() is None or not draft:
            return
        place = self._sheet.cue_caret.place()
        first, last = self._sheet.cue_caret.selected_cues() or (place, place + 1)
        new = restore(self._sheet.transcript, draft, first, last)
        if new is self._sheet.transcript:
            self._session.told.emit("The text here is as it was transcribed.")
            return
        self._session.edit_shown("restore the draft", new)
        self._sheet.cue_caret.go_to((first, 0))

    def _draft(self) -> tuple[Cue, ...]:
        shown = self._session.shown
        draft = self._session.texts.draft(shown) if shown is not None else ()
        if not draft:
            self._session.told.emit("There is no draft of this recording.")
        return draft
