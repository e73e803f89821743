"""The rows of the proof sheet: their space, and the formats of their text."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor

from tamarind.application.session import Session
from tamarind.desktop.editor.content import Looks, Place, Space, guessed_height
from tamarind.desktop.proof.notes import QUIET_MS, Notes
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.theme import colours
from tamarind.formats.spans import head_of
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript

TEXT_LEFT, TEXT_RIGHT, WIDEST, NARROWEST = 164, 46, 900, 120
SPEAKER_ROOM, NOTE_ROOM, HEADING_ROOM = 34, 34, 42
ABOVE, BELOW, ABOVE_ALL = 10.0, 12.0, 14.0
STRIP_HEIGHT = 46.0
"""No row is lower than this: time and sound stand beside it."""

LETTERS_A_WORD = 6


class ProofRows:
    """The content that the editor shows."""

    def __init__(self, session: Session, text: SheetText, notes: Notes) -> None:
        self._session, self._text, self._notes = session, text, notes
        self._looks: dict[tuple[int, str], Looks] = {}
        self._looks_of: tuple[Transcript, Layout] | None = None

    def row_count(self) -> int:
        """Return the number of rows, one a cue or a paragraph."""
        return self._text.row_count()

    def text(self, row: int) -> str:
        """Return the words of a cue or paragraph."""
        return self._text.text(row)

    def space(self, row: int) -> Space:
        """Return the space for speaker, note and heading above; none of the strip is cut."""
        above = ABOVE + (ABOVE_ALL if row == 0 else 0)
        if self._text.shows_speaker(row):
            above += SPEAKER_ROOM - 4
        if self._text.heading(row):
            above += HEADING_ROOM
        if self._notes.above(row) is not None:
            above += NOTE_ROOM
        below = BELOW + (NOTE_ROOM if self._notes.below(row) else 0)
        return Space(above, below, STRIP_HEIGHT)

    def column(self, width: float) -> tuple[float, float]:
        """Return the column of text, no wider than reads well."""
        return TEXT_LEFT, max(min(width - TEXT_LEFT - TEXT_RIGHT, WIDEST), NARROWEST)

    def line_starts(self, row: int, text: str) -> list[int]:
        """Return the line breaks that a cue has as a caption."""
        if self._text.layout is not Layout.CUES:
            return []
        spans = self._text.spans(row, text)
        breaks = self._text.breaks_of(self._text.transcript.cues[row])
        return [spans[place][0] for place in breaks if place < len(spans)]

    def looks(self, row: int, text: str) -> Looks:
        """Return the words in italics, bold or underlined."""
        state = self._text.transcript, self._text.layout
        if self._looks_of is None or not (
            state[0] is self._looks_of[0] and state[1] is self._looks_of[1]
        ):
            self._looks, self._looks_of = {}, state
        known = self._looks.get((row, text))
        if known is None:
            known = self._looks[row, text] = self._found_looks(row, text)
        return known

    def _found_looks(self, row: int, text: str) -> Looks:
        if not any(word.spans for cue in self._text.cues_in(row) for word in cue.words):
            return ()
        words = zip(self._text.words_in(row), self._text.spans(row, text), strict=False)
        return tuple(
            (start, end - start, "".join(map(head_of, word.spans)))
            for (_, _, word), (start, end) in words
            if word.spans
        )

    def ink(self, row: int) -> QColor:
        """Return black, so that all text is equally readable."""
        return QColor(colours.INK)

    def height(self, row: int, letters_a_line: float, line_height: float) -> float:
        """Estimate the height with six letters a word."""
        letters = LETTERS_A_WORD * sum(len(cue.words) for cue in self._text.cues_in(row))
        return guessed_height(letters, letters_a_line, line_height, self.space(row))

    def heights(self, letters_a_line: float, line_height: float) -> list[float]:
        """Estimate all heights at once, without notes on missed speech."""
        if self._text.layout is not Layout.CUES:
            rows = range(self.row_count())
            return [self.height(row, letters_a_line, line_height) for row in rows]
        heights = []
        end, speaker = 0, None
        for cue in self._text.transcript.cues:
            lines = -(-LETTERS_A_WORD * len(cue.words) // letters_a_line)
            height = ABOVE + BELOW + max(lines * line_height, STRIP_HEIGHT)
            if cue.speaker is not None and cue.speaker != speaker:
                height += SPEAKER_ROOM - 4
            if cue.start - end >= QUIET_MS:
                height += NOTE_ROOM
            if cue.heading:
                height += HEADING_ROOM
            heights.append(height)
            end, speaker = cue.end, cue.speaker
        return heights

    def description(self, place: Place) -> str:
        """Return the cue of a place, its speaker, and whether its word is a doubt."""
        if not self.row_count():
            return "no text"
        spans = self._text.spans(place[0], self.text(place[0]))
        number = next((n for n, (_, end) in enumerate(spans) if place[1] <= end), len(spans) - 1)
        words = self._text.words_in(place[0])
        at = words[number][0] if 0 <= number < len(words) else self._text.cues_of(place[0])[0]
        cue = self._text.transcript.cues[at]
        speaker = self._text.transcript.speaker(cue.speaker)
        facts = [
            f"cue {at + 1} of {len(self._text.transcript.cues)}",
            clock(cue.start, 1, hours=False),
        ]
        if speaker is not None:
            facts.append(speaker.label)
        if cue.heading:
            facts.append(f"heading: {cue.heading}")
        if cue.settled:
            facts.append("proofed")
        if 0 <= number < len(words) and words[number][2].is_doubt(self._session.threshold):
            facts.append(f"uncertain: {words[number][2].text}")
        return ", ".join(facts)


def band_above(row: int, area: QRectF, text: QRectF) -> QRectF:
    """Return the area of the note above a row."""
    top = area.top() + (ABOVE_ALL if row == 0 else 0)
    return QRectF(text.left(), top + 4, text.width(), 26)


def heading_band(text: QRectF, shows_speaker: bool) -> QRectF:
    """Return the area of the heading above a row, over the speaker's name."""
    top = text.top() - (SPEAKER_ROOM - 4 if shows_speaker else 0) - HEADING_ROOM - 2
    return QRectF(text.left(), top, text.width(), HEADING_ROOM - 8)


def band_below(text: QRectF) -> QRectF:
    """Return the area of the note below the last row."""
    return QRectF(text.left(), text.bottom() + BELOW, text.width(), 26)
