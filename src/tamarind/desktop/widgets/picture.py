"""The recording's picture on the desk, with the cue that is being said under it."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetrics, QImage, QPainter, QPaintEvent
from PySide6.QtMultimedia import QVideoFrame, QVideoSink
from PySide6.QtWidgets import QSizePolicy, QWidget

from tamarind.desktop.theme import colours, fonts


class Picture(QWidget):
    """Paints the player's frames; hidden by its screen when there is no picture."""

    def __init__(self, sink: QVideoSink) -> None:
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Picture")
        self.image = QImage()
        self.lines: tuple[str, ...] = ()
        sink.videoFrameChanged.connect(self._take)

    def set_lines(self, lines: tuple[str, ...]) -> None:
        """The caption to show, by line."""
        if lines != self.lines:
            self.lines = lines
            self.update()

    def forget(self) -> None:
        """Another recording: its first frame is still to come."""
        self.image = QImage()
        self.lines = ()
        self.update()

    def sizeHint(self) -> QSize:
        """As wide as the desk, at sixteen to nine."""
        return QSize(264, 149)

    def _take(self, frame: QVideoFrame) -> None:
        if frame.isValid() and self.isVisible():
            self.image = frame.toImage()
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """The frame, whole, and the caption as a reader would see it."""
        painter = QPainter(self)
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
        )
        area = QRectF(self.rect())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.NIGHT))
        painter.drawRoundedRect(area, 6, 6)
        if not self.image.isNull():
            size = self.image.size().scaled(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
            target = QRectF(0, 0, size.width(), size.height())
            target.moveCenter(area.center())
            painter.drawImage(target, self.image)
        font = fonts.interface(12)
        painter.setFont(font)
        metrics = QFontMetrics(font)
        y = area.bottom() - 8 - 18 * len(self.lines)
        for line in self.lines:
            width = min(metrics.horizontalAdvance(line) + 14, area.width() - 8)
            box = QRectF(area.center().x() - width / 2, y, width, 18)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(0, 0, 0, 205))
            painter.drawRect(box)
            painter.setPen(QColor(colours.CARD))
            text = metrics.elidedText(line, Qt.TextElideMode.ElideRight, int(width) - 8)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
            y += 18
        painter.end()
