"""Convert between places in the rows of the proof sheet and places in cues."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from tamarind.desktop.editor.content import Place
from tamarind.desktop.editor.shown import ShownText
from tamarind.desktop.proof.sheettext import SheetText, word_spans
from tamarind.transcript.model import Cue, Word

Spot = tuple[int, int]
"""A cue's place in the text, and an offset in the cue's own text."""


MOST_KNOWN = 64


class PlacedWord(NamedTuple):
    """A word, its cue's index, its own in the cue, and its range in its row."""

    cue: int
    place: int
    word: Word
    span: tuple[int, int]


class Spots:
    """Uses the text as it is shown."""

    def __init__(self, text: SheetText, shown: ShownText) -> None:
        self._text, self._shown = text, shown
        self._known: dict[int, tuple[str, tuple[int, int], tuple[Cue, ...], list[PlacedWord]]] = {}
        """Of rows that were asked for: what they were made of, and their words."""

    def spot_of(self, place: Place) -> Spot:
        """Return the cue at a place of a row, and the offset in that cue."""
        row, offset = place
        if not self._text.row_count():
            return 0, 0
        found = (self._text.cues_of(row)[0], 0)
        for cue, start in self._starts_in(row):
            if start > offset:
                break
            found = (cue, start)
        return found[0], offset - found[1]

    def place_of(self, spot: Spot) -> Place:
        """Return the row of a cue, and where in the row an offset of the cue is."""
        cue, offset = spot
        row = self._text.row_of(min(max(cue, 0), len(self._text.transcript.cues) - 1))
        if row is None:
            return 0, 0
        start = next((start for at, start in self._starts_in(row) if at == cue), 0)
        return row, start + offset

    def words(self, row: int) -> list[PlacedWord]:
        """Return the words of a row with their ranges."""
        text, cues = self._shown.of(row), self._text.cues_in(row)
        known = self._known.get(row)
        if known is None or known[:2] != (text, self._text.cues_of(row)) or known[2] != cues:
            if len(self._known) > MOST_KNOWN:
                self._known.clear()
            spans = self._text.spans(row, text)
            words = [
                PlacedWord(cue, place, word, span)
                for (cue, place, word), span in zip(self._text.words_in(row), spans, strict=False)
            ]
            known = self._known[row] = text, self._text.cues_of(row), cues, words
        return known[3]

    def word_at(self, place: Place) -> PlacedWord | None:
        """Return the word at a place; its end, and the text after the last word, belong to it."""
        row, offset = place
        if row >= self._text.row_count():
            return None
        words = self.words(row)
        at = (word for word in words if offset <= word.span[1])
        return next(at, words[-1] if words else None)

    def words_before(self, spot: Spot) -> int:
        """Count the words of a cue before an offset; a word counts once most of its letters are
        before it."""
        cue, offset = spot
        spans = word_spans(self.shown_cue(cue), self._text.transcript.cues[cue].words)
        return sum(1 for start, end in spans if (start + end) / 2 < offset)

    def shown_cue(self, cue: int) -> str:
        """Return a cue's text as shown, with spaces just typed."""
        row = self._text.row_of(cue)
        if row is None:
            return ""
        text = self._shown.of(row)
        starts = list(self._starts_in(row))
        for (at, start), (_, stop) in zip(starts, [*starts[1:], (0, len(text))], strict=True):
            if at == cue:
                return text[start:stop]
        return ""

    def _starts_in(self, row: int) -> Iterator[tuple[int, int]]:
        """Yield each cue of a row that has words with its start in the row's text; an empty cue
        only where it is alone."""
        first, last = self._text.cues_of(row)
        if last - first == 1:
            yield first, 0
            return
        spans = self._text.spans(row, self._shown.of(row))
        count = 0
        for cue in range(first, last):
            words = self._text.transcript.cues[cue].words
            if count < len(spans) and words:
                yield cue, spans[count][0] if count else 0
                count += len(words)
