"""The proof sheet: the text in cues, with the sound running down its margin."""

from __future__ import annotations

import re
from dataclasses import dataclass
from time import monotonic

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from tamarind.audio.peaks import Peaks
from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.row_layout import line_x
from tamarind.desktop.widgets.text_sheet import Place, TextSheet
from tamarind.desktop.widgets.waveform import draw_sound, loudness
from tamarind.formats.timecode import clock
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import changed_range

TIME_LEFT = 30
STRIP_LEFT, STRIP_WIDTH = 104, 38
TEXT_LEFT, TEXT_RIGHT = 164, 46
QUIET_MS = 2_000
LEAST_UNHEARD_MS = 500
SPEAKER_ROOM = 34
NOTE_ROOM = 34
TYPING_HOLDS_SCROLL_S = 3.0
_WORD = re.compile(r"\S+")


@dataclass(frozen=True, slots=True)
class _Note:
    """A line between two cues about the time between them, which starts at ``start`` (ms)."""

    text: str
    colour: str
    start: int


_MODIFIER_KEYS = (
    Qt.Key.Key_Shift,
    Qt.Key.Key_Control,
    Qt.Key.Key_Alt,
    Qt.Key.Key_AltGr,
    Qt.Key.Key_Meta,
)


class ProofSheet(TextSheet):
    """The shown recording's cues; every edit goes to the session at once."""

    play_from = Signal(int)
    speaker_asked = Signal(int)
    reading_asked = Signal(int)
    """A number key on a doubt: 1 for its first reading and so on, 0 to keep it as heard."""

    def __init__(self, session: Session, text_size: int = 21) -> None:
        self._session = session
        self._transcript = Transcript("en")
        self._recording_id: int | None = None
        self._peaks: Peaks | None = None
        self._loudest = 1.0
        self._playhead = 0
        self._heard: Place | None = None
        self._typed_at = 0.0
        self.follows = True
        self.settles_by_number = False
        self._differences: list[tuple[int, int, int]] = []
        self._unheard: tuple[tuple[int, int], ...] = ()
        super().__init__(fonts.text(text_size))
        self.setAccessibleName("Proof sheet")
        self.setMouseTracking(True)

    # What is shown

    def show_recording(self, recording_id: int | None) -> None:
        """Show a recording's text from its start."""
        self._recording_id = recording_id
        self._transcript = (
            self._session.transcript(recording_id) if recording_id is not None else Transcript("en")
        )
        self._heard = None
        self._read_sound()
        self.reset()
        self.caret_moved.emit()

    def take_sound(self) -> None:
        """The recording's sound may have been decoded meanwhile, or more of it heard."""
        before = self._unheard
        self._read_sound()
        if self._unheard != before:
            self.refresh(0, self.row_count(), self.row_count())
        self.viewport().update()

    def _read_sound(self) -> None:
        shown = self._recording_id
        self._peaks = self._session.peaks(shown) if shown is not None else None
        self._loudest = loudness(self._peaks) if self._peaks is not None else 1.0
        self._unheard = self._session.recording(shown).unheard if shown is not None else ()

    def follow_document(self) -> None:
        """The text has changed, here or elsewhere."""
        if self._recording_id is None:
            return
        old, self._transcript = self._transcript, self._session.transcript(self._recording_id)
        self.refresh(*changed_range(old.cues, self._transcript.cues))
        self.caret_moved.emit()

    @property
    def transcript(self) -> Transcript:
        """The text that is shown."""
        return self._transcript

    def caret_cue(self) -> Cue | None:
        """The cue that the caret is in."""
        row = self.caret[0]
        return self._transcript.cues[row] if row < len(self._transcript.cues) else None

    def caret_word(self) -> int:
        """The place of the word at the caret; at a word's end it is still that word."""
        row, offset = self.caret
        spans = self._spans(self.shown_text(row)) if row < self.row_count() else []
        for place, (_, end) in enumerate(spans):
            if offset <= end:
                return place
        return max(len(spans) - 1, 0)

    def caret_time(self) -> int:
        """When the word at the caret is said."""
        cue = self.caret_cue()
        if cue is None:
            return 0
        word = self.caret_word()
        return cue.words[word].start if word < len(cue.words) else cue.start

    def mark_differences(self, differences: list[tuple[int, int, int]]) -> None:
        """Underline what was heard otherwise: (row, first word, one after the last)."""
        self._differences = differences
        self.viewport().update()

    def go_to_word(self, row: int, word: int) -> None:
        """Put the caret before a word."""
        spans = self._spans(self.shown_text(row))
        self.set_caret((row, spans[word][0] if word < len(spans) else 0))

    # Listening

    def set_playhead(self, time: int, playing: bool) -> None:
        """Light the word that is heard, and keep it in view unless the person is typing."""
        before = self._heard
        self._playhead = time
        row = self._transcript.place_at(time)
        word = self._word_heard(row, time) if row is not None else None
        self._heard = None if row is None else (row, -1 if word is None else word)
        if before and self._heard and before[0] != self._heard[0]:
            self._update_row(before[0])
        if self._heard:
            self._update_row(self._heard[0])
            typing = monotonic() - self._typed_at < TYPING_HOLDS_SCROLL_S
            if (
                playing
                and self.follows
                and not typing
                and (not before or before[0] != self._heard[0])
            ):
                self.show_row(self._heard[0])

    def _word_heard(self, row: int, time: int) -> int | None:
        for place, word in enumerate(self._transcript.cues[row].words):
            if word.start <= time < word.end:
                return place
        return None

    def _update_row(self, row: int) -> None:
        if row < len(self._heights):
            self.viewport().update(self.row_area(row).toAlignedRect())

    # Rows

    def row_count(self) -> int:
        """One row a cue."""
        return len(self._transcript.cues)

    def row_text(self, row: int) -> str:
        """A cue's words."""
        return self._transcript.cues[row].text

    def row_length(self, row: int) -> int:
        """Six letters a word is near enough."""
        return 6 * len(self._transcript.cues[row].words)

    def row_space(self, row: int) -> tuple[float, float, float]:
        """Room for the speaker's name and a word about quiet above; none of the strip is cut."""
        above = 10.0 + (14 if row == 0 else 0)
        if self._shows_speaker(row):
            above += SPEAKER_ROOM - 4
        if self._note_above(row) is not None:
            above += NOTE_ROOM
        return above, 12.0 + (NOTE_ROOM if self._note_below(row) else 0), 46.0

    def text_span(self) -> tuple[float, float]:
        """The column of text, held to a width that reads well."""
        return TEXT_LEFT, max(min(self.viewport().width() - TEXT_LEFT - TEXT_RIGHT, 900), 120)

    def _shows_speaker(self, row: int) -> bool:
        cue = self._transcript.cues[row]
        if cue.speaker is None:
            return False
        return row == 0 or self._transcript.cues[row - 1].speaker != cue.speaker

    def _quiet_before(self, row: int) -> int:
        cue = self._transcript.cues[row]
        gap = cue.start - (self._transcript.cues[row - 1].end if row else 0)
        return gap if gap >= QUIET_MS else 0

    def _note_above(self, row: int) -> _Note | None:
        """What to say above a cue of the time since the one before."""
        cue = self._transcript.cues[row]
        low = self._transcript.cues[row - 1].end if row else 0
        quiet = self._quiet_before(row)
        return self._note_of_unheard(low, cue.start) or (
            _Note(f"· {quiet / 1000:.1f} s of quiet ·", colours.GREY, low) if quiet else None
        )

    def _note_below(self, row: int) -> _Note | None:
        """What to say below the last cue of the time after it."""
        cues = self._transcript.cues
        return self._note_of_unheard(cues[-1].end, None) if row == len(cues) - 1 else None

    def _note_of_unheard(self, low: int, high: int | None) -> _Note | None:
        missed = [
            (max(start, low), end if high is None else min(end, high))
            for start, end in self._unheard
            if end > low and (high is None or start < high)
        ]
        missed = [(start, end) for start, end in missed if end - start >= LEAST_UNHEARD_MS]
        if not missed:
            return None
        seconds = sum(end - start for start, end in missed) / 1000
        return _Note(f"· {seconds:.1f} s of speech without text ·", colours.PLUM, missed[0][0])

    def _note_at(self, row: int, y: float) -> _Note | None:
        """The note that lies there, above or below a cue."""
        area, text = self.row_area(row), self.text_area(row)
        above, below = self._band_above(row, area, text), self._band_below(text)
        if above.top() <= y < above.bottom():
            return self._note_above(row)
        return self._note_below(row) if below.top() <= y < below.bottom() else None

    @staticmethod
    def _spans(text: str) -> list[tuple[int, int]]:
        return [match.span() for match in _WORD.finditer(text)]

    # Editing

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Every keystroke is an edit of its own on disk; undo takes back a word at a time."""
        if self._recording_id is None:
            return
        self._typed_at = monotonic()
        cue = self._transcript.cues[first[0]]
        head = self.shown_text(first[0])[: first[1]]
        tail = self.shown_text(last[0])[last[1] :]
        new = self._transcript
        for _ in range(last[0] - first[0]):
            new = edits.join(new, first[0])
        new = edits.set_text(new, first[0], head + text + tail)
        if not typed or first[0] != last[0]:
            self._session.close_edit_group()
        group = f"typing {cue.id}" if typed and first[0] == last[0] else None
        self._session.edit(self._recording_id, "typing", new, group)
        if text.isspace():
            self._session.close_edit_group()

    def break_row(self, place: Place) -> bool:
        """Split the cue at the caret."""
        row, offset = place
        spans = self._spans(self.shown_text(row))
        word = sum(1 for start, end in spans if (start + end) / 2 < offset)
        new = edits.split(self._transcript, row, word)
        if self._recording_id is None or new is self._transcript:
            return False
        self._session.edit(self._recording_id, "split", new)
        return True

    def join_next(self) -> None:
        """Join the caret's cue with the next; the caret stays at the seam."""
        row = self.caret[0]
        if self._recording_id is not None and row + 1 < self.row_count():
            seam = len(self.row_text(row))
            self._session.edit(self._recording_id, "join", edits.join(self._transcript, row))
            self.set_caret((row, seam))

    def delete_cue(self) -> None:
        """Take the caret's cue out of the text; the caret goes to what follows."""
        row = self.caret[0]
        if self._recording_id is not None and row < self.row_count():
            new = edits.delete(self._transcript, row)
            self._session.edit(self._recording_id, "take a cue out", new)
            self.set_caret((row, 0))

    # Doubts

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Right after going to a doubt a number settles it; any other key goes back to typing."""
        key = event.key()
        if key in _MODIFIER_KEYS:
            super().keyPressEvent(event)
            return
        settling, self.settles_by_number = self.settles_by_number, False
        digit = key - Qt.Key.Key_0
        plain = not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if settling and plain and 0 <= digit <= 9:
            self.reading_asked.emit(digit)
            event.accept()
            return
        super().keyPressEvent(event)

    # Painting

    def paint_ground(self, painter: QPainter) -> None:
        """The sheet of paper."""
        area = QRectF(self.viewport().rect()).adjusted(0.5, 0.5, -0.5, 30)
        painter.setPen(QPen(QColor(colours.LINE), 1))
        painter.setBrush(QColor(colours.SHEET))
        painter.drawRoundedRect(area, 8, 8)

    def paint_row(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Time, strip of sound, speaker and quiet; the caret's cue lies on a card."""
        cue = self._transcript.cues[row]
        if row == self.caret[0]:
            self._paint_card(painter, row, area, text)
        self._paint_note(painter, self._note_above(row), self._band_above(row, area, text))
        self._paint_note(painter, self._note_below(row), self._band_below(text))
        if self._shows_speaker(row):
            speaker = self._transcript.speaker(cue.speaker)
            painter.setFont(fonts.interface(13, fonts.QFont.Weight.DemiBold))
            painter.setPen(QColor(colours.BARK))
            name = (speaker.label if speaker else "?").upper()
            painter.drawText(QPointF(text.left(), text.top() - 8), name)
        painter.setFont(fonts.mono(13))
        painter.setPen(QColor(colours.GREY))
        painter.drawText(QPointF(TIME_LEFT, text.top() + 18), clock(cue.start, 1, hours=False))
        if cue.settled:
            painter.setFont(fonts.interface(12))
            painter.setPen(QColor(colours.LEAF_TEXT))
            painter.drawText(QPointF(TIME_LEFT, text.top() + 37), "proofed")
        self._paint_strip(painter, row, cue, text)
        if self._heard and self._heard[0] == row and self._heard[1] >= 0:
            self._paint_heard(painter, row, self._heard[1], text)
        self._paint_doubts(painter, row, cue, text)
        self._paint_differences(painter, row, text)

    def _band_above(self, row: int, area: QRectF, text: QRectF) -> QRectF:
        y = area.top() + (14 if row == 0 else 0)
        return QRectF(text.left(), y + 4, text.width(), 26)

    def _band_below(self, text: QRectF) -> QRectF:
        return QRectF(text.left(), text.bottom() + 12, text.width(), 26)

    def _paint_note(self, painter: QPainter, note: _Note | None, band: QRectF) -> None:
        if note is not None:
            painter.setFont(fonts.interface(13))
            painter.setPen(QColor(note.colour))
            painter.drawText(band, Qt.AlignmentFlag.AlignCenter, note.text)

    def _paint_card(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        top = text.top() - (SPEAKER_ROOM if self._shows_speaker(row) else 7)
        card = QRectF(12, top, area.width() - 26, text.bottom() + 7 - top)
        painter.setPen(QPen(QColor(colours.LEAF), 1.2))
        painter.setBrush(QColor(colours.CARD))
        painter.drawRoundedRect(card, 8, 8)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LEAF))
        painter.drawRoundedRect(QRectF(card.left(), card.top(), 5, card.height()), 2.5, 2.5)

    def _paint_strip(self, painter: QPainter, row: int, cue: Cue, text: QRectF) -> None:
        strip = QRectF(STRIP_LEFT, text.top(), STRIP_WIDTH, text.height())
        colour = colours.LEAF if cue.settled else colours.SOUND
        draw_sound(painter, strip, self._peaks, (cue.start, cue.end), colour, True, self._loudest)
        if self._heard and self._heard[0] == row:
            length = max(cue.end - cue.start, 1)
            share = min(max((self._playhead - cue.start) / length, 0), 1)
            y = strip.top() + share * strip.height()
            painter.setPen(QPen(QColor(colours.PULP), 2))
            painter.drawLine(QPointF(strip.left() - 4, y), QPointF(strip.right() + 6, y))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colours.PULP))
            painter.drawEllipse(QPointF(strip.right() + 6, y), 4, 4)

    def _paint_heard(self, painter: QPainter, row: int, word: int, text: QRectF) -> None:
        spans = self._spans(self.shown_text(row))
        if word < len(spans):
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colours.LEAF_PALE))
            area = self._word_area(row, spans[word], text)
            painter.drawRoundedRect(area.adjusted(-3, 0, 3, 0), 4, 4)

    def _paint_doubts(self, painter: QPainter, row: int, cue: Cue, text: QRectF) -> None:
        """A dotted plum line under every doubt."""
        pen = QPen(QColor(colours.PLUM), 2.2, Qt.PenStyle.CustomDashLine)
        pen.setDashPattern([0.1, 1.9])
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        spans = self._spans(self.shown_text(row))
        for word, span in zip(cue.words, spans, strict=False):
            if word.is_doubt():
                area = self._word_area(row, span, text)
                painter.setPen(pen)
                y = area.bottom() - 1
                painter.drawLine(QPointF(area.left() + 1, y), QPointF(area.right() - 1, y))

    def _paint_differences(self, painter: QPainter, row: int, text: QRectF) -> None:
        """A line under words that were heard otherwise, an upright one where some were missing."""
        spans = self._spans(self.shown_text(row))
        painter.setPen(QPen(QColor(colours.PULP), 2))
        for at, first, last in self._differences:
            if at != row or not spans:
                continue
            for span in spans[first:last]:
                area = self._word_area(row, span, text)
                painter.drawLine(area.bottomLeft(), area.bottomRight())
            if first == last:
                before = first >= len(spans)
                area = self._word_area(row, spans[min(first, len(spans) - 1)], text)
                x = area.right() + 3 if before else area.left() - 3
                painter.drawLine(QPointF(x, area.top() + 3), QPointF(x, area.bottom() - 3))

    def _word_area(self, row: int, span: tuple[int, int], text: QRectF) -> QRectF:
        line = self._made(row).layout.lineForTextPosition(span[0])
        left = line_x(line, span[0])
        width = line_x(line, span[1]) - left
        return QRectF(text.left() + left, text.top() + line.y(), width, line.height())

    # Mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """In the margin or on a note: hear from there. On a word with Ctrl: from that word."""
        self.settles_by_number = False
        row = self.row_at(event.position().y())
        if event.button() != Qt.MouseButton.LeftButton or row is None:
            return
        x = event.position().x()
        text = self.text_area(row)
        if STRIP_LEFT - 6 <= x <= STRIP_LEFT + STRIP_WIDTH + 8:
            cue = self._transcript.cues[row]
            share = (event.position().y() - text.top()) / max(text.height(), 1)
            share = min(max(share, 0.0), 1.0)
            self.set_caret((row, 0))
            self.play_from.emit(int(cue.start + share * (cue.end - cue.start)))
            return
        note = self._note_at(row, event.position().y())
        if note is not None and text.left() <= x <= text.right():
            self.set_caret((row, 0))
            self.play_from.emit(note.start)
            return
        above_text = text.top() - 26 <= event.position().y() < text.top() - 2
        if self._shows_speaker(row) and above_text and text.left() <= x < text.left() + 180:
            self.set_caret((row, 0))
            self.speaker_asked.emit(row)
            return
        super().mousePressEvent(event)
        self._session.close_edit_group()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.play_from.emit(self.caret_time())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A hand over the sound; the times of a word under the pointer."""
        super().mouseMoveEvent(event)
        x = event.position().x()
        row = self.row_at(event.position().y())
        in_margin = STRIP_LEFT - 6 <= x <= STRIP_LEFT + STRIP_WIDTH + 8
        on_note = row is not None and self._note_at(row, event.position().y()) is not None
        shape = (
            Qt.CursorShape.PointingHandCursor
            if in_margin or on_note
            else Qt.CursorShape.IBeamCursor
        )
        if self.viewport().cursor().shape() != shape:
            self.viewport().setCursor(shape)
