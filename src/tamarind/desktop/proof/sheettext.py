"""The text of the proof sheet: which cues and words are in which row."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache

from tamarind.application.session import Session
from tamarind.captions.lines import break_lines
from tamarind.desktop.proof.rows import Layout, Rows
from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.tokens import spans_of

_WORD = re.compile(r"\S+")
_NO_BREAK = re.compile("[\u00a0\u202f\u3000]")


@lru_cache(maxsize=64)
def _between_spaces(text: str) -> tuple[tuple[int, int], ...]:
    """Return the words of a text; cached, since a keystroke asks often for the same row."""
    return tuple(match.span() for match in _WORD.finditer(text))


def word_spans(text: str, words: Sequence[Word]) -> tuple[tuple[int, int], ...]:
    """Return the ranges of words in a text that has them in order, perhaps with more spaces."""
    if text.isascii() or not (_NO_BREAK.search(text) or any(word.glued for word in words)):
        return _between_spaces(text)
    return spans_of(text, [word.text for word in words])


class SheetText:
    """The shown recording's text in one of two layouts; read only.

    A row is a cue or a paragraph of cues. Cues are told by their place in the text, words by their
    place in the cue.
    """

    def __init__(self, session: Session, layout: Layout) -> None:
        self._session = session
        self.recording_id: int | None = None
        self.transcript = Transcript("en")
        self._rows = Rows(layout)
        self._texts: dict[int, str] = {}

    @property
    def layout(self) -> Layout:
        """The layout."""
        return self._rows.layout

    def show(self, recording_id: int | None) -> None:
        """Show a recording's text."""
        self.recording_id = recording_id
        self.transcript = (
            self._session.texts.transcript(recording_id)
            if recording_id is not None
            else Transcript("en")
        )
        self.set_layout(self.layout)

    def set_layout(self, layout: Layout) -> None:
        """Show the text in cues or paragraphs."""
        self._rows = Rows(layout)
        self._texts.clear()
        self._rows.load(self.transcript.cues)

    def follow(self) -> tuple[int, int, int] | None:
        """Take a changed text: the rows [first, second) have become those up to the third number;
        None where nothing is shown."""
        if self.recording_id is None:
            return None
        old, self.transcript = self.transcript, self._session.texts.transcript(self.recording_id)
        changed = changed_range(old.cues, self.transcript.cues)
        self._texts.clear()
        return self._rows.follow(self.transcript.cues, *changed)

    def row_count(self) -> int:
        """Return the number of rows."""
        return len(self._rows)

    def text(self, row: int) -> str:
        """Return the words of a row."""
        text = self._texts.get(row)
        if text is None:
            cues = self.cues_in(row)
            text = self._texts[row] = " ".join(cue.text for cue in cues if cue.words)
        return text

    def cues_of(self, row: int) -> tuple[int, int]:
        """Return a row's cues as [first, last)."""
        return self._rows.cues_of(row)

    def cues_in(self, row: int) -> tuple[Cue, ...]:
        """Return a row's cues."""
        first, last = self._rows.cues_of(row)
        return self.transcript.cues[first:last]

    def words_in(self, row: int) -> list[tuple[int, int, Word]]:
        """Yield a row's words in order: index of the cue, index in the cue, word."""
        first, last = self._rows.cues_of(row)
        return [
            (cue, place, word)
            for cue in range(first, last)
            for place, word in enumerate(self.transcript.cues[cue].words)
        ]

    def spans(self, row: int, text: str) -> tuple[tuple[int, int], ...]:
        """Return the ranges of a row's words in its text as shown."""
        return word_spans(text, [word for _, _, word in self.words_in(row)])

    def row_of(self, cue: int) -> int | None:
        """Return the row of a cue, or None if there is no such cue."""
        return self._rows.row_of(cue) if 0 <= cue < len(self.transcript.cues) else None

    def cue_at(self, place: int) -> Cue | None:
        """Return the cue at an index of the text."""
        cues = self.transcript.cues
        return cues[place] if 0 <= place < len(cues) else None

    def shows_speaker(self, row: int) -> bool:
        """Whether a row has another speaker than the one before."""
        first = self._rows.cues_of(row)[0]
        cue = self.transcript.cues[first]
        if cue.speaker is None:
            return False
        return first == 0 or self.transcript.cues[first - 1].speaker != cue.speaker

    def heading(self, row: int) -> str:
        """Return the heading before a row, or ""."""
        return self.transcript.cues[self._rows.cues_of(row)[0]].heading

    def breaks_of(self, cue: Cue) -> tuple[int, ...]:
        """Return the indices of the words that begin a new line of a cue, set by hand or by
        layout."""
        if cue.breaks is not None or self.recording_id is None:
            return cue.breaks or ()
        limits = self._session.styles.limits_of(self.recording_id)
        texts = [word.token for word in cue.words]
        return break_lines(texts, limits, self.transcript.language)
