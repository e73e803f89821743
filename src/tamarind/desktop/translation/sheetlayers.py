"""What is drawn beside a translation: its time, its source, and how well it fits its time."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from tamarind.application.session import Session
from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.layers import paint_card
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.translation.sheetrows import FIT_WIDTH, SOURCE_LEFT, TranslationRows
from tamarind.desktop.translation.tracktext import TrackText
from tamarind.formats.timecode import clock

TIME_LEFT = 32


class RowHead:
    """The card of the caret's row, and the time."""

    def __init__(self, text: TrackText, caret: Caret) -> None:
        self._text, self._caret = text, caret

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Beside the first line."""
        if row == self._caret.place[0]:
            paint_card(painter, area, text.top() - 10, text.bottom() + 10)
        time = clock(self._text.transcript.cues[row].start, 1, hours=False)
        painter.setFont(fonts.mono(13))
        painter.setPen(QColor(colours.GREY))
        painter.drawText(QPointF(TIME_LEFT, text.top() + 18), time)


class SourceText:
    """What the translation is made from."""

    def __init__(self, rows: TranslationRows) -> None:
        self._rows = rows

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """In the left-hand column."""
        painter.setPen(QColor(colours.INK))
        self._rows.source(row).draw(painter, QPointF(SOURCE_LEFT, text.top()))


class TimeFit:
    """A bar that fills up as a translation uses the time it has, and what is wrong with it."""

    def __init__(self, session: Session, text: TrackText) -> None:
        self._session, self._text = session, text

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """At the right."""
        left = area.width() - FIT_WIDTH - 12
        bar = QRectF(left, text.top() + 11, FIT_WIDTH - 24, 5)
        cue, track = self._text.transcript.cues[row], self._text.track
        translation = track.text(cue.id)
        limits = self._session.styles.limits_of(self._text.recording_id)
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
        if track.is_stale(cue):
            note = "source changed since"
        elif track.is_missing(cue):
            note = "not translated yet"
        if note:
            painter.setFont(fonts.interface(12))
            painter.setPen(QColor(colours.PLUM))
            place = QRectF(left - 24, text.top() + 20, FIT_WIDTH, 18)
            painter.drawText(place, Qt.AlignmentFlag.AlignRight, note)
