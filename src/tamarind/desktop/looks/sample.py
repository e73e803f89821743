"""A picture with a caption of the person's own text, drawn as it will be written."""

from __future__ import annotations

import av
import numpy as np
from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from tamarind.desktop.widgets.framing import fitted, paint_whole, shown
from tamarind.picture.caption import Caption
from tamarind.picture.contrast import contrast
from tamarind.picture.looks import Look
from tamarind.picture.render import draw
from tamarind.picture.shapes import AS_IS, Shape, shaped

SIZE = QSize(520, 293)
GROUND = (1280, 720)


class Sample(QWidget):
    """``dragged`` is emitted with the place that the captions were moved to, in shares of the
    picture."""

    dragged = Signal(float, float)

    def __init__(
        self,
        frame: av.VideoFrame | None,
        caption: Caption,
        scale: float = 1.0,
        size: QSize = SIZE,
        shape: Shape = AS_IS,
    ) -> None:
        """Show the frame in a ``shape``, on a widget of a size."""
        super().__init__()
        self.setFixedSize(size * scale)
        self.setAccessibleName("Sample")
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self._frame = shaped(frame if frame is not None else _ground(), shape)
        self._caption = caption
        self._image = QImage()

    def show_look(self, look: Look) -> None:
        """Draw the caption in a style, half of it spoken."""
        count = sum(map(len, self._caption.lines))
        size = self._frame.width, self._frame.height
        drawing = draw(self._caption, look, size, max(count * 2 // 3, 1))
        ratio = self.devicePixelRatioF()
        room = QSize(round(self.width() * ratio), round(self.height() * ratio))
        self._image = shown(self._frame, drawing, room)
        self.update()

    def contrast(self, look: Look) -> float | None:
        """Return the contrast ratio of the letters on this picture, 1 to 21; None if none are
        drawn."""
        return contrast(self._frame, self._caption, look)

    def _area(self) -> QRectF:
        return fitted(self._image.size(), QRectF(self.rect()))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the frame, whole."""
        painter = QPainter(self)
        paint_whole(painter, QRectF(self.rect()), self._image)
        painter.end()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Move the captions with the mouse."""
        area = self._area()
        place = event.position() - area.topLeft()
        across, down = place.x() / area.width(), place.y() / area.height()
        self.dragged.emit(min(max(across, 0.0), 1.0), min(max(down, 0.0), 1.0))


def _ground() -> av.VideoFrame:
    """Return a picture for recordings without one: a moor under a bright sky, half bright, half
    dark."""
    width, height = GROUND
    y, x = np.mgrid[:height, :width].astype(np.float32)
    ridge = height * (0.52 + 0.05 * np.sin(x / 170) + 0.02 * np.sin(x / 53))
    sky = np.stack([214 - 40 * y / height, 224 - 24 * y / height, 222 + 0 * y], -1)
    moor = np.stack([74 - 40 * y / height, 84 - 30 * y / height, 62 - 30 * y / height], -1)
    pixels = np.where((y < ridge)[..., None], sky, moor).astype(np.uint8)
    return av.VideoFrame.from_ndarray(pixels, "rgb24").reformat(format="yuv420p")
