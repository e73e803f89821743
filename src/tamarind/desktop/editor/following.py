"""Make a sheet follow the sound: the spoken word is highlighted and kept in view."""

from __future__ import annotations

from collections.abc import Callable
from time import monotonic
from typing import Protocol

from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.transcript.model import Cue, Transcript

TYPING_HOLDS_SCROLL_S = 3.0

Heard = tuple[int, int | None]
"""The place of the cue that is spoken, and that of the word, if it is in one."""


class TextOfSheet(Protocol):
    """What a sheet shows."""

    @property
    def transcript(self) -> Transcript:
        """Return the text whose words are spoken."""

    def row_of(self, cue: int) -> int | None:
        """Return the row that shows the cue at an index."""


class Following:
    """Knows what is spoken at the playhead; ``show`` brings that into view."""

    def __init__(
        self,
        text: TextOfSheet,
        geometry: RowGeometry,
        show: Callable[[Heard, int], None] | None = None,
    ) -> None:
        """``show`` is called with what is spoken and its row; without it the row is scrolled to."""
        self._text, self._geometry = text, geometry
        self._show = show or (lambda _heard, row: geometry.show_row(row))
        self._held_since = -TYPING_HOLDS_SCROLL_S
        self.is_on = True
        """Whether the sheet scrolls with the sound."""
        self.playhead = 0
        self.heard: Heard | None = None

    def reset(self) -> None:
        """Start anew with another recording."""
        self.heard = None

    def hold(self) -> None:
        """Leave the sheet where it is for a while, since somebody works in it."""
        self._held_since = monotonic()

    def set_playhead(self, time: int, playing: bool) -> None:
        """Move the playhead to ``time`` (ms)."""
        before, self.heard = self.heard, None
        self.playhead = time
        place = self._text.transcript.place_at(time)
        if place is not None:
            self.heard = place, _word_at(self._text.transcript.cues[place], time)
        moved = self.heard is not None and (before is None or before[0] != self.heard[0])
        if before is not None and (self.heard is None or moved):
            self._update(before[0])
        if self.heard is None:
            return
        self._update(self.heard[0])
        is_held = monotonic() - self._held_since < TYPING_HOLDS_SCROLL_S
        row = self._text.row_of(self.heard[0])
        if playing and self.is_on and moved and not is_held and row is not None:
            self._show(self.heard, row)

    def _update(self, cue: int) -> None:
        row = self._text.row_of(cue)
        if row is not None:
            self._geometry.update_row(row)


def _word_at(cue: Cue, time: int) -> int | None:
    words = enumerate(cue.words)
    return next((place for place, word in words if word.start <= time < word.end), None)
