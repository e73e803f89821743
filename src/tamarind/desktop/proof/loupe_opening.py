"""Open the loupe under a cue, and keep it with that cue as the text changes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.system.later import Later

if TYPE_CHECKING:
    from tamarind.desktop.proof import loupe as loupes
else:
    loupes = Later("tamarind.desktop.proof.loupe")


class LoupeOpening:
    """``shown`` is the loupe while it is open."""

    def __init__(self, session: Session, sheet: ProofSheet, player: Player) -> None:
        self._session, self._sheet, self._player = session, sheet, player
        self.shown: loupes.Loupe | None = None

    @command("Open the loupe", "Times", "Alt+X", name="loupe", needs=TEXT)
    def toggle(self) -> None:
        """Open the loupe under the caret's cue, or close it."""
        if self.shown is not None:
            self.close()
            return
        recording = self._session.shown
        if recording is None or self._sheet.cue_caret.cue() is None:
            return
        place = self._sheet.cue_caret.place()
        self.shown = loupes.Loupe(self._session, recording, place)
        self.shown.closed.connect(self.close)
        self.shown.play_asked.connect(self._player.play)
        self.shown.cue_asked.connect(self._move)
        self._sheet.overlay.open(self.shown, place)
        self.shown.setFocus()

    def close(self) -> None:
        """Close the loupe and return to the text."""
        if self.shown is not None:
            self.shown = None
            self._sheet.overlay.close()
            self._sheet.setFocus()

    def _move(self, place: int) -> None:
        if self.shown is not None and 0 <= place < len(self._sheet.transcript.cues):
            self._sheet.cue_caret.go_to((place, 0))
            self.shown.show_cue(place)
            self._sheet.overlay.move_to(place)

    def follow(self, cue_id: int | None) -> None:
        """Keep the loupe with its cue after a change, or close it if that is gone."""
        if self.shown is None:
            return
        cues = self._sheet.transcript.cues
        place = next((n for n, cue in enumerate(cues) if cue.id == cue_id), None)
        if place is None:
            self.close()
        else:
            self._sheet.overlay.move_to(place)
            self.shown.show_cue(place)
