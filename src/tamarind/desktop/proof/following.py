"""The proof sheet follows the sound: the word that is heard is lit and kept in view."""

from __future__ import annotations

from time import monotonic

from PySide6.QtWidgets import QAbstractScrollArea

from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.proof.spots import Spots
from tamarind.transcript.model import Cue

TYPING_HOLDS_SCROLL_S = 3.0
ROOM = 60
"""A line nearer than this to an edge of the view (px) is not seen well."""


class Following:
    """Knows the playhead and what is said there."""

    def __init__(
        self, area: QAbstractScrollArea, text: SheetText, spots: Spots, geometry: RowGeometry
    ) -> None:
        self._area, self._text, self._spots, self._geometry = area, text, spots, geometry
        self._held_since = -TYPING_HOLDS_SCROLL_S
        self.is_on = True
        """Whether the sheet scrolls with the sound."""
        self.playhead = 0
        self.heard: tuple[int, int | None] | None = None
        """The place of the cue that is heard, and that of the word, if it is in one."""

    def reset(self) -> None:
        """Another recording is shown."""
        self.heard = None

    def hold(self) -> None:
        """Somebody types: the sheet stays where it is for a while."""
        self._held_since = monotonic()

    def set_playhead(self, time: int, playing: bool) -> None:
        """The sound is at ``time`` (ms)."""
        before = self.heard
        self.playhead = time
        place = self._text.transcript.place_at(time)
        self.heard = None
        if place is not None:
            self.heard = place, _word_at(self._text.transcript.cues[place], time)
        if before and self.heard and before[0] != self.heard[0]:
            self._update(before[0])
        if self.heard:
            self._update(self.heard[0])
            is_held = monotonic() - self._held_since < TYPING_HOLDS_SCROLL_S
            moved = not before or before[0] != self.heard[0]
            if playing and self.is_on and not is_held and moved:
                self._show(self.heard)

    def _show(self, heard: tuple[int, int | None]) -> None:
        """Bring it into view: its row, or in a paragraph higher than that its line."""
        row = self._text.row_of(heard[0])
        if row is None:
            return
        geometry, height = self._geometry, self._geometry.height_in_view()
        if geometry.row_area(row).height() <= height - 2 * ROOM:
            geometry.show_row(row)
            return
        geometry.measure(row)
        words = self._spots.words(row)
        text = geometry.text_area(row)
        word = next((w for w in words if (w.cue, w.place) == heard), words[0] if words else None)
        y = geometry.span_area(row, word.span, text).center().y() if word else text.top()
        if not ROOM <= y <= height - ROOM:
            bar = self._area.verticalScrollBar()
            bar.setValue(round(bar.value() + y - height / 3))

    def _update(self, cue: int) -> None:
        row = self._text.row_of(cue)
        if row is not None:
            self._geometry.update_row(row)


def _word_at(cue: Cue, time: int) -> int | None:
    words = enumerate(cue.words)
    return next((place for place, word in words if word.start <= time < word.end), None)
