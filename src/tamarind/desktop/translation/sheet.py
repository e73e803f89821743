"""The translation sheet: source on the left, the other language on the right, cue by cue."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QTextLayout

from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.row_layout import lay_out
from tamarind.desktop.widgets.text_sheet import Place, TextSheet
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.survey import changed_range
from tamarind.translation.tracks import Track, with_edit

TIME_LEFT = 32
SOURCE_LEFT = 106
FIT_WIDTH = 150
EDGE = 34


class TranslationSheet(TextSheet):
    """The caret lives in the right-hand column; the left is read only."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._recording_id: int | None = None
        self._transcript = Transcript("en")
        self._track = Track("")
        self._sources: dict[int, tuple[str, float, QTextLayout]] = {}
        super().__init__(fonts.text(19))
        self.setAccessibleName("Translation sheet")

    def show_track(self, recording_id: int | None, language: str) -> None:
        """Show a recording beside its track in a language."""
        self._recording_id = recording_id
        self._take(language)
        self.reset()
        self.caret_moved.emit()

    def follow_document(self) -> None:
        """Source or translation have changed."""
        old = self._transcript
        self._take(self._track.language)
        self.refresh(*changed_range(old.cues, self._transcript.cues))
        self.viewport().update()

    def caret_time(self) -> int:
        """When the caret's cue begins."""
        row = self.caret[0]
        return self._transcript.cues[row].start if row < self.row_count() else 0

    def _take(self, language: str) -> None:
        if self._recording_id is None:
            self._transcript, self._track = Transcript("en"), Track(language)
            return
        document = self._session.document(self._recording_id)
        self._transcript, self._track = document.transcript, document.track(language)

    # Rows

    def row_count(self) -> int:
        """One row a cue."""
        return len(self._transcript.cues)

    def row_text(self, row: int) -> str:
        """The cue's translation."""
        return self._track.text(self._transcript.cues[row].id)

    def row_space(self, row: int) -> tuple[float, float, float]:
        """The row is as high as its source needs."""
        return 16.0 + (12 if row == 0 else 0), 16.0, max(self._source(row)[1], 42.0)

    def estimated_height(self, row: int) -> float:
        """Two lines and the room around them."""
        return 84.0

    def text_span(self) -> tuple[float, float]:
        """The right-hand column."""
        width = self._width()
        return SOURCE_LEFT + width + EDGE, max(width, 80)

    def _width(self) -> float:
        room = self.viewport().width() - SOURCE_LEFT - FIT_WIDTH - 2 * EDGE
        return max(room / 2, 80)

    def _source(self, row: int) -> tuple[str, float, QTextLayout]:
        """Laid out for the left column: text, height, layout."""
        text, width = self._transcript.cues[row].text, self._width()
        known = self._sources.get(row)
        if known and known[0] == f"{width:.0f} {text}":
            return known
        layout = QTextLayout(text, self._text_font)
        height = lay_out(layout, width)
        if len(self._sources) > 600:
            self._sources.clear()
        self._sources[row] = (f"{width:.0f} {text}", height, layout)
        return self._sources[row]

    # Editing

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """A translation is edited within its cue; a range over several is taken out of each."""
        if self._recording_id is None:
            return
        track = self._track
        for row in range(first[0], last[0] + 1):
            old = self.shown_text(row)
            start = first[1] if row == first[0] else 0
            stop = last[1] if row == last[0] else len(old)
            new = old[:start] + (text if row == first[0] else "") + old[stop:]
            track = with_edit(track, self._transcript.cues[row], " ".join(new.split()))
        document = self._session.document(self._recording_id).with_track(track)
        if not typed:
            self._session.close_edit_group()
        cue = self._transcript.cues[first[0]]
        group = f"typing {track.language} {cue.id}" if typed else None
        self._session.edit_document(self._recording_id, "typing", document, group)
        if text.isspace():
            self._session.close_edit_group()

    def _replace(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Rows do not run together here: Backspace at a row's start only moves the caret."""
        if first[0] != last[0] and not text and self._is_seam(first, last):
            self.set_caret(first if self.caret == last else last)
            return
        super()._replace(first, last, text, typed)

    def _is_seam(self, first: Place, last: Place) -> bool:
        return (
            last[0] == first[0] + 1 and last[1] == 0 and first[1] == len(self.shown_text(first[0]))
        )

    def break_row(self, place: Place) -> bool:
        """Enter goes to the next cue."""
        if place[0] + 1 < self.row_count():
            self.set_caret((place[0] + 1, 0))
        return False

    # Painting

    def paint_ground(self, painter: QPainter) -> None:
        """The sheet of paper."""
        area = QRectF(self.viewport().rect()).adjusted(0.5, 0.5, -0.5, 30)
        painter.setPen(QPen(QColor(colours.LINE), 1))
        painter.setBrush(QColor(colours.SHEET))
        painter.drawRoundedRect(area, 8, 8)

    def text_colour(self, row: int) -> QColor:
        """A stale translation is grey until someone has looked at it."""
        stale = self._track.is_stale(self._transcript.cues[row])
        return QColor(colours.GREY if stale else colours.INK)

    def paint_row(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Time, source, and how well the translation fits its time."""
        cue = self._transcript.cues[row]
        if row == self.caret[0]:
            card = QRectF(12, text.top() - 10, area.width() - 26, text.height() + 20)
            painter.setPen(QPen(QColor(colours.LEAF), 1.2))
            painter.setBrush(QColor(colours.CARD))
            painter.drawRoundedRect(card, 8, 8)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colours.LEAF))
            painter.drawRoundedRect(QRectF(12, card.top(), 5, card.height()), 2.5, 2.5)
        painter.setFont(fonts.mono(13))
        painter.setPen(QColor(colours.GREY))
        painter.drawText(QPointF(TIME_LEFT, text.top() + 18), clock(cue.start, 1, hours=False))
        painter.setPen(QColor(colours.INK))
        self._source(row)[2].draw(painter, QPointF(SOURCE_LEFT, text.top()))
        self._paint_fit(painter, cue, area, text)

    def _paint_fit(self, painter: QPainter, cue: Cue, area: QRectF, text: QRectF) -> None:
        left = area.width() - FIT_WIDTH - 12
        bar = QRectF(left, text.top() + 11, FIT_WIDTH - 24, 5)
        translation = self._track.text(cue.id)
        limits = self._session.limits_of(self._recording_id)
        speed = limits.speed(translation, cue.start, cue.end)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LINE))
        painter.drawRoundedRect(bar, 2.5, 2.5)
        note = ""
        if translation:
            too_fast = limits.is_too_fast(translation, cue.start, cue.end)
            painter.setBrush(QColor(colours.PLUM if too_fast else colours.LEAF))
            bar.setWidth(max(bar.width() * min(speed / limits.reading_speed, 1), 5))
            painter.drawRoundedRect(bar, 2.5, 2.5)
            if too_fast:
                note = f"too long: {speed:.0f} a second"
        if self._track.is_stale(cue):
            note = "source changed since"
        elif self._track.is_missing(cue):
            note = "not translated yet"
        if note:
            painter.setFont(fonts.interface(12))
            painter.setPen(QColor(colours.PLUM))
            place = QRectF(left - 24, text.top() + 20, FIT_WIDTH, 18)
            painter.drawText(place, Qt.AlignmentFlag.AlignRight, note)
