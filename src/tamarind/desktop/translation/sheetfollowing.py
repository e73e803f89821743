"""The translation sheet follows the sound: the word of the source that is heard is lit, and its row
kept in view."""

from __future__ import annotations

from time import monotonic

from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.translation.tracktext import TrackText

TYPING_HOLDS_SCROLL_S = 3.0


class SheetFollowing:
    """Knows the row and the word that are heard."""

    def __init__(self, text: TrackText, geometry: RowGeometry) -> None:
        self._text, self._geometry = text, geometry
        self._held_since = -TYPING_HOLDS_SCROLL_S
        self.playhead = 0
        self.heard: tuple[int, int | None] | None = None
        """The place of the cue, and that of its word if it is in one."""

    def reset(self) -> None:
        """Another recording is shown."""
        self.heard = None

    def hold(self) -> None:
        """Somebody works in it: the sheet stays where it is for a while."""
        self._held_since = monotonic()

    def set_playhead(self, time: int, playing: bool) -> None:
        """The sound is at ``time`` (ms)."""
        before, self.heard = self.heard, None
        self.playhead = time
        place = self._text.transcript.place_at(time)
        if place is not None:
            words = self._text.transcript.cues[place].words
            said = (n for n, word in enumerate(words) if word.start <= time < word.end)
            self.heard = place, next(said, None)
        for heard in {before, self.heard} - {None}:
            if heard is not None and heard[0] < len(self._text.transcript.cues):
                self._geometry.update_row(heard[0])
        moved = self.heard is not None and (before is None or before[0] != self.heard[0])
        is_held = monotonic() - self._held_since < TYPING_HOLDS_SCROLL_S
        if playing and moved and not is_held and self.heard is not None:
            self._geometry.show_row(self.heard[0])
