"""Draw the dotted line under words from a picture, since drawing each dot took longer than the rest
of a row."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap

from tamarind.desktop.theme import colours

PERIOD, WIDTH = 4.4, 2.2
_LONGEST, _HEIGHT = 250, 4

_drawn: dict[tuple[str, float], QPixmap] = {}


def draw_dots(painter: QPainter, under: QRectF) -> None:
    """Draw as many whole dots as fit at the foot of an area."""
    ratio = painter.device().devicePixelRatioF()
    count = min(max(int((under.width() - 2 - WIDTH) // PERIOD) + 1, 1), _LONGEST)
    width = (count - 1) * PERIOD + 2 * WIDTH
    place = QRectF(round(under.left()), round(under.bottom() - 1 - _HEIGHT / 2), width, _HEIGHT)
    source = QRectF(0, 0, width * ratio, _HEIGHT * ratio)
    painter.drawPixmap(place, _dots(colours.PLUM, ratio), source)


def _dots(colour: str, ratio: float) -> QPixmap:
    known = _drawn.get((colour, ratio))
    if known is not None:
        return known
    picture = QPixmap(round((_LONGEST * PERIOD + WIDTH) * ratio), round(_HEIGHT * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(colour), WIDTH, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    for number in range(_LONGEST):
        painter.drawPoint(QPointF(WIDTH + number * PERIOD, _HEIGHT / 2))
    painter.end()
    _drawn[colour, ratio] = picture
    return picture
