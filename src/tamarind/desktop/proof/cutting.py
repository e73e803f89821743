"""Commands that change cues: line breaks, joining, deleting."""

from __future__ import annotations

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.transcript import edits


class CutCommands:
    """Act on the cue at the caret."""

    def __init__(self, session: Session, sheet: ProofSheet) -> None:
        self._session, self._sheet = session, sheet

    @command("Start a new caption line here", "Text", "Shift+Return", name="line", needs=TEXT)
    def break_line(self) -> None:
        """Begin a line of the caption with the word at the caret, or no longer."""
        text, caret = self._sheet.text, self._sheet.cue_caret
        cue = caret.cue()
        if text.recording_id is None or cue is None:
            return
        word = self._sheet.spots.words_before(caret.spot())
        new = edits.toggle_line(text.transcript, caret.place(), word, text.breaks_of(cue))
        self._session.texts.edit(text.recording_id, "line", new)

    @command("Join with the next cue", "Text", "Ctrl+M", name="join", needs=TEXT)
    def join_next(self) -> None:
        """Join the caret's cue with the next; the caret stays at the seam."""
        text, caret = self._sheet.text, self._sheet.cue_caret
        place, cue = caret.place(), caret.cue()
        if text.recording_id is None or cue is None or text.cue_at(place + 1) is None:
            return
        self._session.texts.edit(text.recording_id, "join", edits.join(text.transcript, place))
        caret.go_to((place, len(cue.text)))

    @command("Delete the cue", "Text", "Ctrl+Shift+Delete", needs=TEXT)
    def delete_cue(self) -> None:
        """Take the caret's cue out of the text; the caret goes to what follows."""
        text, caret = self._sheet.text, self._sheet.cue_caret
        place = caret.place()
        if text.recording_id is None or text.cue_at(place) is None:
            return
        new = edits.delete(text.transcript, place)
        self._session.texts.edit(text.recording_id, "delete a cue", new)
        caret.go_to((min(place, max(len(new.cues) - 1, 0)), 0))
