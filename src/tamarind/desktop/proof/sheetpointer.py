"""The mouse on the proof sheet: clicks in the margin, on notes, words, names and headings."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent

from tamarind.desktop.editor.pointer import Pointer
from tamarind.desktop.editor.sheet import Sheet
from tamarind.desktop.proof.cuecaret import CueCaret
from tamarind.desktop.proof.notes import Note, Notes
from tamarind.desktop.proof.sheetlayers import SoundStrip
from tamarind.desktop.proof.sheetrows import band_above, band_below, heading_band
from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.proof.spots import Spots
from tamarind.desktop.widgets.margin import is_in_margin
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Word

LOOKS = {"i": "italics", "b": "bold", "u": "underlined"}
NAME_WIDTH = 180


@dataclass(frozen=True, slots=True)
class Parts:
    """The parts of a proof sheet that the pointer needs."""

    text: SheetText
    spots: Spots
    cue_caret: CueCaret
    notes: Notes
    strip: SoundStrip


@dataclass(frozen=True, slots=True)
class Asks:
    """What the pointer asks for: to play from a time (ms), to name a row's speaker, to edit a
    heading; and that the mouse was pressed."""

    play: Callable[[int], object]
    speaker: Callable[[int], object]
    heading: Callable[[], object]
    pressed: Callable[[], object]


class ProofPointer(Pointer):
    """Knows what lies beside and between the texts of a proof sheet."""

    def __init__(self, sheet: Sheet, parts: Parts, asks: Asks) -> None:
        super().__init__(sheet, sheet.row_geometry, sheet.caret, sheet.editing)
        self._viewport = sheet.viewport()
        self._parts, self._asks = parts, asks
        sheet.setMouseTracking(True)

    def press(self, event: QMouseEvent) -> None:
        """Play from the margin or a note, or with Ctrl from a word."""
        parts, asks = self._parts, self._asks
        asks.pressed()
        row = self.geometry.row_at(event.position().y())
        if event.button() != Qt.MouseButton.LeftButton or row is None:
            return
        x, y = event.position().x(), event.position().y()
        text = self.geometry.text_area(row)
        first = parts.text.cues_of(row)[0]
        if is_in_margin(x):
            time = parts.strip.time_at(row, y)
            cue = parts.text.transcript.place_at(time)
            parts.cue_caret.go_to((first if cue is None else cue, 0))
            asks.play(time)
            return
        note = self._note_at(row, y)
        if note is not None and text.left() <= x <= text.right():
            parts.cue_caret.go_to((first, 0))
            asks.play(note.start)
            return
        above_text = text.top() - 26 <= y < text.top() - 2
        on_name = above_text and text.left() <= x < text.left() + NAME_WIDTH
        if on_name and parts.text.shows_speaker(row):
            parts.cue_caret.go_to((first, 0))
            asks.speaker(row)
            return
        heading = heading_band(text, parts.text.shows_speaker(row))
        if parts.text.heading(row) and heading.contains(event.position()):
            parts.cue_caret.go_to((first, 0))
            asks.heading()
            return
        super().press(event)
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            asks.play(parts.cue_caret.time())

    def move(self, event: QMouseEvent) -> None:
        """Show a hand over what a click plays."""
        super().move(event)
        x, y = event.position().x(), event.position().y()
        row = self.geometry.row_at(y)
        is_heard = is_in_margin(x) or (row is not None and self._note_at(row, y) is not None)
        shape = Qt.CursorShape.PointingHandCursor if is_heard else Qt.CursorShape.IBeamCursor
        if self._viewport.cursor().shape() != shape:
            self._viewport.setCursor(shape)

    def told_at(self, point: QPointF) -> str:
        """Return the tooltip: for a word its time and confidence, for the margin what lies
        there."""
        row = self.geometry.row_at(point.y())
        if row is None:
            return ""
        text = self.geometry.text_area(row)
        if is_in_margin(point.x()) and text.top() <= point.y() <= text.bottom():
            return self._parts.strip.told_at(row, point.y())
        for word in self._parts.spots.words(row):
            if self.geometry.span_area(row, word.span, text).contains(point):
                return _told_of(word.word)
        return ""

    def _note_at(self, row: int, y: float) -> Note | None:
        """Return the note at a point, above or below a row."""
        area, text = self.geometry.row_area(row), self.geometry.text_area(row)
        above, below = band_above(row, area, text), band_below(text)
        if above.top() <= y < above.bottom():
            return self._parts.notes.above(row)
        return self._parts.notes.below(row) if below.top() <= y < below.bottom() else None


def _told_of(word: Word) -> str:
    start, end = clock(word.start, 2, hours=False), clock(word.end, 2, hours=False)
    sure = "by hand" if word.confidence is None else f"confidence {word.confidence:.0%}"
    spans = "".join(f"   {LOOKS.get(span, span)}" for span in word.spans)
    return f"{word.text}   {start} – {end}   {sure}{spans}"
