"""The in and out points of an excerpt in its enlarged waveform, moved by mouse or key."""

from __future__ import annotations

from enum import IntEnum

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.waveform import draw_sound
from tamarind.formats.timecode import clock
from tamarind.job.excerpts import Chosen
from tamarind.transcript.excerpts import SHORTEST_MS

HEIGHT = 150
AROUND_MS = 1_000
STEP_MS, LARGE_STEP_MS = 10, 100
GAP = 16
_HEAD, _WORDS = 22, 26


class EndPoint(IntEnum):
    """The in point or the out point."""

    IN = 0
    OUT = 1


class EndPoints(QWidget):
    """The waveform around both points side by side; what is kept is green."""

    moved = Signal(int, int)
    """Other points (ms)."""
    released = Signal()
    """One drag has ended."""
    heard = Signal(int, int)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: Chosen | None = None
        self._middles = (0, 0)
        self._chosen = EndPoint.IN
        self._held = False
        self.setFixedHeight(HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("In and out points")

    def show_excerpt(self, one: Chosen | None) -> None:
        """Show an excerpt, or the same one with other points."""
        other = one is None or self._shown is None or one.key != self._shown.key
        self._shown = one
        if one is not None and (other or not self._held):
            self._middles = one.excerpt.start, one.excerpt.end
        self._tell()
        self.update()

    def area(self, point: EndPoint) -> QRectF:
        """Return the area of one of the points."""
        half = (self.width() - GAP) / 2
        return QRectF(point * (half + GAP), 0, half, self.height())

    def x_at(self, point: EndPoint, time: int) -> float:
        """Return the x (px) of a time."""
        area = self.area(point)
        return area.left() + (time - self._middles[point] + AROUND_MS) / (2 * AROUND_MS) * (
            area.width()
        )

    def _time(self, point: EndPoint, x: float) -> int:
        area = self.area(point)
        share = (x - area.left()) / max(area.width(), 1)
        return round(self._middles[point] - AROUND_MS + share * 2 * AROUND_MS)

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint both points with their words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for point in EndPoint:
            self._paint(painter, point)
        painter.end()

    def _paint(self, painter: QPainter, point: EndPoint) -> None:
        area = self.area(point)
        chosen = self.hasFocus() and point == self._chosen
        painter.setPen(QPen(QColor(colours.PULP if chosen else colours.LINE), 1.4 if chosen else 1))
        painter.setBrush(QColor(colours.SAND))
        painter.drawRoundedRect(area.adjusted(1, 1, -1, -1), 8, 8)
        one = self._shown
        if one is None:
            return
        excerpt = one.excerpt
        time = excerpt.end if point else excerpt.start
        x = self.x_at(point, time)
        kept = QRectF(area)
        if point is EndPoint.IN:
            kept.setLeft(x)
        else:
            kept.setRight(x)
        kept = kept.adjusted(0, _HEAD, 0, -8).intersected(area.adjusted(2, 0, -2, 0))
        painter.save()
        painter.setClipRect(area.adjusted(2, 2, -2, -2))
        painter.fillRect(kept, QColor(colours.CARD))
        sound = area.adjusted(0, _HEAD, 0, -_WORDS - 10)
        span = self._middles[point] - AROUND_MS, self._middles[point] + AROUND_MS
        peaks = self._session.sounds.peaks(one.recording.id)
        for clip, colour in ((sound, colours.SOUND), (kept, colours.LEAF)):
            painter.save()
            painter.setClipRect(clip, Qt.ClipOperation.IntersectClip)
            draw_sound(painter, sound, peaks, span, colour)
            painter.restore()
        self._paint_words(painter, point, area)
        painter.setPen(QPen(QColor(colours.PULP), 2))
        painter.drawLine(QPointF(x, _HEAD - 4), QPointF(x, self.height() - 8))
        painter.restore()
        painter.setFont(fonts.interface(13))
        painter.setPen(QColor(colours.GREY))
        head = area.adjusted(12, 3, -12, 0)
        head.setHeight(_HEAD - 2)
        name = "ends" if point else "begins"
        painter.drawText(head, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(fonts.mono(12))
        painter.drawText(
            head,
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            clock(time, 3, hours=False),
        )

    def _paint_words(self, painter: QPainter, point: EndPoint, area: QRectF) -> None:
        one = self._shown
        assert one is not None
        excerpt = one.excerpt
        low, high = self._middles[point] - AROUND_MS, self._middles[point] + AROUND_MS
        painter.setFont(fonts.text(15))
        metrics = painter.fontMetrics()
        top = area.bottom() - _WORDS - 8
        for cue in one.document.transcript.cues:
            if cue.end < low:
                continue
            if cue.start > high:
                break
            for word in cue.words:
                left, right = self.x_at(point, word.start), self.x_at(point, word.end)
                inside = excerpt.start <= (word.start + word.end) / 2 < excerpt.end
                painter.setPen(QColor(colours.INK if inside else colours.GREY))
                box = QRectF(left, top, right - left, _WORDS)
                if box.right() < area.left() or box.left() > area.right():
                    continue
                text = metrics.elidedText(
                    word.text, Qt.TextElideMode.ElideRight, max(int(box.width()), 12)
                )
                painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    # What is done

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take the point in the half that is pressed."""
        self._chosen = EndPoint.OUT if event.position().x() > self.width() / 2 else EndPoint.IN
        self._held = self._shown is not None
        self._move_to(self._time(self._chosen, event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the point."""
        if self._held:
            self._move_to(self._time(self._chosen, event.position().x()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Drop the point, and centre the view on it."""
        if self._held:
            self._held = False
            self.released.emit()
            self.show_excerpt(self._shown)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Choose and move points with the arrows, play with Enter."""
        key, one = event.key(), self._shown
        large = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._chosen = EndPoint.IN if key == Qt.Key.Key_Up else EndPoint.OUT
            self._tell()
            self.update()
        elif one is not None and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = LARGE_STEP_MS if large else STEP_MS
            now = one.excerpt.end if self._chosen else one.excerpt.start
            self._move_to(now + (step if key == Qt.Key.Key_Right else -step))
        elif one is not None and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            start, end = one.excerpt.start, one.excerpt.end
            if self._chosen is EndPoint.IN:
                self.heard.emit(start, min(start + AROUND_MS, end))
            else:
                self.heard.emit(max(end - AROUND_MS, start), end)
        else:
            super().keyPressEvent(event)

    def _move_to(self, time: int) -> None:
        one = self._shown
        if one is None:
            return
        start, end = one.excerpt.start, one.excerpt.end
        if self._chosen is EndPoint.IN:
            start = min(max(time, 0), end - SHORTEST_MS)
        else:
            end = max(min(time, one.recording.duration or time), start + SHORTEST_MS)
        self.moved.emit(start, end)

    def _tell(self) -> None:
        one = self._shown
        if one is None:
            self.setAccessibleDescription("")
            return
        time = one.excerpt.end if self._chosen else one.excerpt.start
        name = "ends" if self._chosen else "begins"
        self.setAccessibleDescription(f"{name} at {clock(time, 3, hours=False)}")
