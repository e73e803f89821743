"""Convert frames of Qt's player to images with captions."""

from __future__ import annotations

import av
import numpy as np
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtMultimedia import QVideoFrame, QVideoFrameFormat

from tamarind.desktop.theme import colours
from tamarind.picture.compose import FORMAT, compose
from tamarind.picture.drawing import Drawing

NEARLY = 3.0

_SPACES = {
    QVideoFrameFormat.ColorSpace.ColorSpace_BT601: 5,
    QVideoFrameFormat.ColorSpace.ColorSpace_BT709: 1,
    QVideoFrameFormat.ColorSpace.ColorSpace_BT2020: 9,
}
_RANGES = {
    QVideoFrameFormat.ColorRange.ColorRange_Video: 1,
    QVideoFrameFormat.ColorRange.ColorRange_Full: 2,
}


def taken(frame: QVideoFrame) -> av.VideoFrame | None:
    """Return a frame's picture in ``FORMAT``, as it will be written; None if it cannot be read."""
    form = frame.surfaceFormat()
    planar = form.pixelFormat() == QVideoFrameFormat.PixelFormat.Format_YUV420P
    if planar and int(frame.rotation().value) == 0 and not form.isMirrored():
        return _planes(frame, form)
    image = frame.toImage().convertToFormat(QImage.Format.Format_RGB888)
    if image.isNull():
        return None
    rows = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine())
    pixels = rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3)
    made = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), "rgb24")
    return made.reformat(format=FORMAT)


def _planes(frame: QVideoFrame, form: QVideoFrameFormat) -> av.VideoFrame | None:
    if not frame.map(QVideoFrame.MapMode.ReadOnly):
        return None
    try:
        size = form.frameSize()
        made = av.VideoFrame(size.width(), size.height(), FORMAT)
        made.colorspace = _SPACES.get(form.colorSpace(), 2)
        made.color_range = _RANGES.get(form.colorRange(), 0)
        for number, plane in enumerate(made.planes):
            there = frame.bytesPerLine(number)
            source = np.frombuffer(frame.bits(number), np.uint8)[: there * plane.height]
            target = np.frombuffer(memoryview(plane), np.uint8)
            width = min(there, plane.width)
            lines = target.reshape(plane.height, plane.line_size)
            lines[:, :width] = source.reshape(plane.height, there)[:, :width]
        return made
    finally:
        frame.unmap()


def shown(frame: av.VideoFrame, drawing: Drawing | None, room: QSize) -> QImage:
    """Return a frame with a drawing on it, scaled to the room for it (in device pixels)."""
    drawn = frame if drawing is None else compose(_copied(frame), drawing)
    size = QSize(frame.width, frame.height)
    if size.width() > room.width() or size.height() > room.height():
        size = size.scaled(room, Qt.AspectRatioMode.KeepAspectRatio)
    small = drawn.reformat(max(size.width(), 1), max(size.height(), 1), "rgb24")
    pixels = small.to_ndarray()
    height, width = pixels.shape[:2]
    return QImage(pixels.tobytes(), width, height, 3 * width, QImage.Format.Format_RGB888).copy()


def paint_whole(painter: QPainter, room: QRectF, image: QImage) -> None:
    """Paint an image as large as there is room for it, on a dark ground."""
    painter.setRenderHints(
        QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform
    )
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colours.NIGHT))
    painter.drawRoundedRect(room, 6, 6)
    if not image.isNull():
        painter.drawImage(fitted(image.size(), room), image)


def fitted(image: QSize, room: QRectF) -> QRectF:
    """Return where an image lies in a room: whole, in the middle; all of it if the shapes are
    alike."""
    size = image.scaled(room.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio)
    if abs(size.width() - room.width()) < NEARLY and abs(size.height() - room.height()) < NEARLY:
        return room
    area = QRectF(0, 0, size.width(), size.height())
    area.moveCenter(room.center())
    return area


def _copied(frame: av.VideoFrame) -> av.VideoFrame:
    """Copy a picture to draw on."""
    made = av.VideoFrame(frame.width, frame.height, FORMAT)
    made.colorspace, made.color_range = frame.colorspace, frame.color_range
    for source, target in zip(frame.planes, made.planes, strict=True):
        there, here = (
            np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
            for plane in (source, target)
        )
        here[:, : source.width] = there[:, : source.width]
    return made
