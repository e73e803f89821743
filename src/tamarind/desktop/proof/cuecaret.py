"""The caret of the proof sheet in terms of cues and words."""

from __future__ import annotations

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.sheettext import SheetText, word_spans
from tamarind.desktop.proof.spots import Spot, Spots
from tamarind.transcript.corrections import bare
from tamarind.transcript.model import Cue, text_of


class CueCaret:
    """Cues are given by their index in the text, words by their index in the cue."""

    def __init__(self, text: SheetText, spots: Spots, caret: Caret) -> None:
        self._text, self._spots, self._caret = text, spots, caret

    def spot(self) -> Spot:
        """Return the caret's cue and the offset in it."""
        return self._spots.spot_of(self._caret.place)

    def place(self) -> int:
        """Return the index of the caret's cue."""
        return self.spot()[0]

    def cue(self) -> Cue | None:
        """Return the caret's cue."""
        return self._text.cue_at(self.place())

    def word(self) -> int:
        """Return the index in its cue of the word at the caret; a word's end belongs to it."""
        found = self._spots.word_at(self._caret.place)
        return found.place if found else 0

    def time(self) -> int:
        """Return when the word at the caret is said (ms)."""
        cue = self.cue()
        if cue is None:
            return 0
        word = self.word()
        return cue.words[word].start if word < len(cue.words) else cue.start

    def go_to(self, spot: Spot, keep_anchor: bool = False) -> None:
        """Move the caret into a cue; ``keep_anchor`` selects what lies between."""
        self._caret.set(self._spots.place_of(spot), keep_anchor)

    def go_to_word(self, place: int, word: int) -> None:
        """Move the caret to the start of a word of a cue."""
        cue = self._text.cue_at(place)
        if cue is None:
            return
        if self._text.layout is Layout.CUES:
            spans = word_spans(self._spots.shown_cue(place), cue.words)
            offset = spans[word][0] if word < len(spans) else 0
        else:
            up_to = cue.words[: word + 1] if word < len(cue.words) else cue.words[:1]
            offset = len(text_of(up_to)) - len(up_to[-1].text) if up_to else 0
        self.go_to((place, offset))

    def choose_words(self, place: int, first: int, last: int) -> None:
        """Select the words [``first``, ``last``) of a cue, with their punctuation."""
        self.go_to_word(place, first)
        cue = self._text.cue_at(place)
        if cue is not None:
            self._choose(0, len(text_of(cue.words[first:last])))

    def choose_word(self, place: int, word: int) -> None:
        """Select a word of a cue without the punctuation around it, so that typing replaces it."""
        self.go_to_word(place, word)
        cue = self._text.cue_at(place)
        text = cue.words[word].text if cue is not None and word < len(cue.words) else ""
        letters = bare(text)
        if letters:
            self._choose(text.index(letters), len(letters))

    def chosen_words(self) -> list[tuple[int, int]]:
        """Return the words in the selection, or those of the caret's cue: each by its cue's index
        and its own."""
        selection = self._caret.selection()
        if selection is None:
            place, cue = self.place(), self.cue()
            return [(place, word) for word in range(len(cue.words))] if cue else []
        (first, begin), (last, stop) = selection
        return [
            (word.cue, word.place)
            for row in range(first, last + 1)
            for word in self._spots.words(row)
            if (row > first or word.span[1] > begin) and (row < last or word.span[0] < stop)
        ]

    def selected_cues(self) -> tuple[int, int] | None:
        """Return the cues in the selection as [first, last)."""
        selection = self._caret.selection()
        if selection is None:
            return None
        first, last = map(self._spots.spot_of, selection)
        return first[0], last[0] + 1

    def _choose(self, skip: int, length: int) -> None:
        """Select letters from the caret on; the caret goes to the first of them."""
        place, offset = self.spot()
        self.go_to((place, offset + skip + length))
        self.go_to((place, offset + skip), keep_anchor=True)
