"""A widget that shows the recording's picture with its captions as they will be written."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtMultimedia import QVideoFrame, QVideoSink
from PySide6.QtWidgets import QSizePolicy, QWidget

from tamarind.desktop.theme import colours

if TYPE_CHECKING:
    import av

    from tamarind.picture.drawing import Drawing

DrawingAt = Callable[[int, tuple[int, int]], "Drawing | None"]
"""What stands on a picture of a size (width, height) at a time (ms)."""

USUAL_WIDTH = 264
HIGHEST = 1.2
"""Times as high as wide."""

ACTION_SAFE, TITLE_SAFE = 0.035, 0.05
"""Margins that every screen shows, and in which text is read (EBU R 95), shares of each side."""


class PictureView(QWidget):
    """Paints the player's frames; its page hides it when there is no picture."""

    def __init__(self, sink: QVideoSink, drawing_at: DrawingAt) -> None:
        super().__init__()
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setAccessibleName("Picture")
        self._drawing_at = drawing_at
        self.image = QImage()
        self._frame: av.VideoFrame | None = None
        self._time = 0
        self._drawing: Drawing | None = None
        self.shows_safe_areas = False
        sink.videoFrameChanged.connect(self._take)
        # What it shows while the recording is at rest.
        self._sink = sink

    def set_time(self, time: int) -> None:
        """Take the position of the playhead (ms)."""
        self._time = time
        self._draw()

    def refresh(self) -> None:
        """Draw again after the text or its style has changed."""
        self._draw(anew=True)

    def forget(self) -> None:
        """Show another recording, whose first frame is still to come."""
        self.image = QImage()
        self._frame = self._drawing = None
        self.update()

    @property
    def frame(self) -> av.VideoFrame | None:
        """Return the shown frame without captions."""
        return self._frame

    def sizeHint(self) -> QSize:
        """Return a size as wide as there is room for."""
        return QSize(USUAL_WIDTH, self.heightForWidth(USUAL_WIDTH))

    def heightForWidth(self, width: int) -> int:
        """Return the height by the shape of the frame; never much higher than wide."""
        frame = self._frame
        return round(width * min(frame.height / frame.width if frame else 9 / 16, HIGHEST))

    @property
    def drawing(self) -> Drawing | None:
        """Return the captions on the frame."""
        return self._drawing

    def frame_area(self) -> QRectF:
        """Return the area of the frame on the widget."""
        from tamarind.desktop.widgets.framing import fitted

        return fitted(self.image.size(), QRectF(self.rect()))

    def showEvent(self, event: object) -> None:
        """Show the current frame at once."""
        if self._frame is None:
            self._take(self._sink.videoFrame())
        else:
            self._draw(anew=True)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Draw again for the new size."""
        self._draw(anew=True)

    def _take(self, frame: QVideoFrame) -> None:
        if not frame.isValid() or not self.isVisible():
            return
        from tamarind.desktop.widgets.framing import taken  # slow to import, and not always needed

        is_first = self._frame is None
        self._frame = taken(frame)
        if is_first:
            self.updateGeometry()
        self._draw(anew=True)

    def _draw(self, anew: bool = False) -> None:
        frame = self._frame
        if frame is None or not self.isVisible():
            return
        from tamarind.desktop.widgets.framing import shown

        drawing = self._drawing_at(self._time, (frame.width, frame.height))
        if not anew and drawing is self._drawing:
            return
        self._drawing = drawing
        ratio = self.devicePixelRatioF()
        room = QSize(round(self.width() * ratio), round(self.height() * ratio))
        self.image = shown(frame, drawing, room)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the frame, whole, as a viewer will see it."""
        painter = QPainter(self)
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.NIGHT))
        painter.drawRoundedRect(QRectF(self.rect()), 6, 6)
        if not self.image.isNull():
            target = self.frame_area()
            painter.drawImage(target, self.image)
            if self.shows_safe_areas:
                _paint_safe_areas(painter, target)
        painter.end()


def _paint_safe_areas(painter: QPainter, area: QRectF) -> None:
    """Paint the two safe areas and the middle."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for share, style in ((ACTION_SAFE, Qt.PenStyle.DashLine), (TITLE_SAFE, Qt.PenStyle.SolidLine)):
        painter.setPen(QPen(QColor(255, 255, 255, 170), 1, style))
        across, down = area.width() * share, area.height() * share
        painter.drawRect(area.adjusted(across, down, -across, -down))
    middle = area.center()
    painter.setPen(QPen(QColor(255, 255, 255, 120), 1))
    painter.drawLine(middle - QPointF(8, 0), middle + QPointF(8, 0))
    painter.drawLine(middle - QPointF(0, 8), middle + QPointF(0, 8))
