"""The waveform on a recording's card: it fills with progress, plays at a click, and selects a
section by dragging."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import QApplication, QWidget

from tamarind.application.session import Session
from tamarind.audio.peaks import Peaks
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.waveform import BAR, draw_heights, loudness, shares
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording, State

SHORTEST_PART_MS = 500
GRIP = 6
"""Pixels around an end of the part in which it can be taken hold of."""


class CardSound(QWidget):
    """What is transcribed is green, the rest grey; what lies outside the section is faded."""

    listened = Signal(int)
    part_chosen = Signal(int, object)

    def __init__(self, session: Session, recording_id: int) -> None:
        super().__init__()
        self._session, self._id = session, recording_id
        self._position: int | None = None
        self._pressed: float | None = None
        self._dragged: tuple[int, int] | None = None
        self._pictures: tuple[tuple[object, ...], tuple[QPixmap, QPixmap]] | None = None
        self.setFixedHeight(46)
        self.setMouseTracking(True)
        self.setToolTip("Click to listen · drag to choose a section · double-click for all of it")

    def set_position(self, position: int | None) -> None:
        """Show the playhead; None hides it."""
        if position != self._position:
            self._position = position
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the waveform, or a dashed line where there is no sound."""
        painter = QPainter(self)
        area = QRectF(self.rect())
        recording = self._session.recordings.get(self._id)
        peaks = self._session.sounds.peaks(self._id)
        if peaks is None or not recording.duration:
            painter.setPen(QPen(QColor(colours.SOUND), 1, Qt.PenStyle.DashLine))
            middle = area.center().y()
            painter.drawLine(QPointF(0, middle), QPointF(area.right(), middle))
            painter.end()
            return
        unheard, leaf = self._drawn(peaks, recording.duration)
        painter.drawPixmap(0, 0, unheard)
        start, until = heard_span(self._session, recording)
        if until > start:
            left, right = self._x(start), self._x(until)
            heard = QRectF(left, 0, right - left, area.height())
            painter.setClipRect(heard)
            painter.drawPixmap(0, 0, leaf)
            painter.setClipping(False)
            if recording.state in (State.QUEUED, State.STOPPED):
                painter.setPen(QPen(QColor(colours.PULP), 2))
                painter.drawLine(QPointF(right, 0), QPointF(right, area.height()))
        part = self._dragged or (recording.part[0], recording.part_end)
        if part != (0, recording.duration):
            self._draw_part(painter, area, part)
        if self._position is not None:
            painter.setPen(QPen(QColor(colours.INK), 1))
            x = self._x(self._position)
            painter.drawLine(QPointF(x, 0), QPointF(x, area.height()))
        painter.end()

    def _drawn(self, peaks: Peaks, duration: int) -> tuple[QPixmap, QPixmap]:
        """Return the cached picture of the waveform, drawn again only when it has grown."""
        ratio = self.devicePixelRatioF()
        key = (len(peaks), self.width(), duration, ratio)
        if self._pictures is None or self._pictures[0] != key:
            count = max(self.width() // BAR, 1)
            heights = shares(peaks, (0, duration), count, loudness(peaks))
            pictures = []
            for colour in (colours.SOUND, colours.LEAF):
                picture = QPixmap(self.size() * ratio)
                picture.setDevicePixelRatio(ratio)
                picture.fill(QColor(colours.SHEET))
                painter = QPainter(picture)
                draw_heights(painter, QRectF(self.rect()), heights, colour)
                painter.end()
                pictures.append(picture)
            self._pictures = key, (pictures[0], pictures[1])
        return self._pictures[1]

    def _draw_part(self, painter: QPainter, area: QRectF, part: tuple[int, int]) -> None:
        """Fade what lies outside the section, with a bracket at each end."""
        left, right = self._x(part[0]), self._x(part[1])
        veil = QColor(colours.SHEET)
        veil.setAlpha(170)
        painter.fillRect(QRectF(0, 0, left, area.height()), veil)
        painter.fillRect(QRectF(right, 0, area.width() - right, area.height()), veil)
        painter.setPen(QPen(QColor(colours.BARK), 2))
        for x, inward in ((left, 6), (right - 1, -6)):
            painter.drawLine(QPointF(x, 0), QPointF(x, area.height()))
            painter.drawLine(QPointF(x, 1), QPointF(x + inward, 1))
            painter.drawLine(QPointF(x, area.height() - 1), QPointF(x + inward, area.height() - 1))

    # The mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin a click or a drag, and select the card."""
        if event.button() == Qt.MouseButton.LeftButton and self._duration():
            self._pressed = event.position().x()
        event.ignore()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Select a section from where the drag began, or move the end that was taken hold of."""
        x = event.position().x()
        if self._pressed is None:
            self._show_what_a_press_would_do(x)
            return
        if self._dragged is None:
            if abs(x - self._pressed) < QApplication.startDragDistance() or not self._may_change():
                return
            self._pressed = self._other_end(self._pressed)
        a, b = sorted((self._time(self._pressed), self._time(x)))
        self._dragged = (a, max(b, a + SHORTEST_PART_MS))
        self.setToolTip("")
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Play from a click; take the section of a drag."""
        if self._pressed is None:
            return
        pressed, self._pressed = self._pressed, None
        if self._dragged is None:
            self.listened.emit(self._time(pressed))
            return
        start, end = self._dragged
        self._dragged = None
        self.part_chosen.emit(start, None if end >= self._duration() else end)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Select the whole recording again."""
        if self._may_change():
            self.part_chosen.emit(0, None)

    def _show_what_a_press_would_do(self, x: float) -> None:
        at_end = self._may_change() and self._other_end(x) != x
        shape = Qt.CursorShape.SizeHorCursor if at_end else Qt.CursorShape.PointingHandCursor
        self.setCursor(shape)
        self.setToolTip(
            f"{clock(self._time(x), 0, hours=False)} · click to listen · drag to choose a section"
            " · double-click for all of it"
        )

    def _other_end(self, x: float) -> float:
        """Return the section's other end if ``x`` is at one of them, else ``x``."""
        recording = self._session.recordings.get(self._id)
        if recording.part == (0, None):
            return x
        left, right = self._x(recording.part[0]), self._x(recording.part_end)
        if abs(x - left) <= GRIP:
            return right
        return left if abs(x - right) <= GRIP else x

    def _may_change(self) -> bool:
        return self._session.queue.can_hear(self._session.recordings.get(self._id))

    def _duration(self) -> int:
        return self._session.recordings.get(self._id).duration

    def _x(self, time: int) -> float:
        return time / max(self._duration(), 1) * self.width()

    def _time(self, x: float) -> int:
        share = min(max(x / max(self.width(), 1), 0.0), 1.0)
        return round(share * self._duration())


def heard_span(session: Session, recording: Recording) -> tuple[int, int]:
    """Return what of a recording is transcribed (from, to, in ms)."""
    start = recording.part[0]
    if recording.state is State.DRAFT and session.texts.transcript(recording.id).cues:
        return start, recording.part_end
    return start, recording.heard_until
