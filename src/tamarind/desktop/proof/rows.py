"""Which cues form a row of the sheet: one each, or a paragraph."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from enum import StrEnum

from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.model import Cue
from tamarind.transcript.sentences import ends_sentence

GOES_ON_AFTER, AT_MOST = 160, 320
"""A paragraph of more words than this is shown in several rows, from a sentence's end if there is
one in time: text that came without paragraphs would be one row of a whole recording."""


class Layout(StrEnum):
    """The two ways of laying out one text."""

    CUES = "cues"
    PARAGRAPHS = "paragraphs"


class Rows:
    """The rows of one text in one layout; an edit costs only what has changed."""

    def __init__(self, layout: Layout) -> None:
        self.layout = layout
        self._starts: list[int] = []
        self._continued: set[int] = set()
        self._cues: Sequence[Cue] = ()

    def __len__(self) -> int:
        return len(self._cues) if self.layout is Layout.CUES else len(self._starts)

    def load(self, cues: Sequence[Cue]) -> None:
        """Take a whole text."""
        self._cues = cues
        self._continued.clear()
        self._starts = []
        if self.layout is Layout.PARAGRAPHS:
            self._divide(0, len(cues))
            self._starts = [place for place in range(len(cues)) if self._opens(place)]

    def follow(
        self, cues: Sequence[Cue], first: int, old_last: int, new_last: int
    ) -> tuple[int, int, int]:
        """Replace the cues [``first``, ``old_last``) by those up to ``new_last``; return the same
        of rows."""
        self._cues = cues
        if self.layout is Layout.CUES:
            return first, old_last, new_last
        starts, moved = self._starts, new_last - old_last
        low, high = bisect_left(starts, first), bisect_right(starts, old_last)
        if moved > 1:
            self._divide(starts[low - 1] if low else 0, new_last)
        new = [place for place in range(first, min(new_last + 1, len(cues))) if self._opens(place)]
        self._starts = [*starts[:low], *new, *(place + moved for place in starts[high:])]
        return max(low - 1, 0), high, low + len(new)

    def cues_of(self, row: int) -> tuple[int, int]:
        """Return a row's cues as [first, last)."""
        if self.layout is Layout.CUES:
            return row, row + 1
        following = self._starts[row + 1 : row + 2]
        return self._starts[row], following[0] if following else len(self._cues)

    def row_of(self, place: int) -> int:
        """Return the row of a cue."""
        if self.layout is Layout.CUES:
            return place
        return max(bisect_right(self._starts, place) - 1, 0)

    def _opens(self, place: int) -> bool:
        cue = self._cues[place]
        return opens_paragraph(self._cues, place) or cue.id in self._continued

    def _divide(self, first: int, last: int) -> None:
        """Mark where a long paragraph continues in another row."""
        words = 0
        for place in range(first, last):
            cue = self._cues[place]
            if place == first or self._opens(place):
                words = 0
            elif words >= AT_MOST or (words >= GOES_ON_AFTER and self._ends(place - 1)):
                self._continued.add(cue.id)
                words = 0
            words += len(cue.words)

    def _ends(self, place: int) -> bool:
        words = self._cues[place].words
        return bool(words) and ends_sentence(words[-1].text)
