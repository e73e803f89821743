"""Cache pictures of the rows of a sheet, each drawn again only when it has changed.

A keystroke changes one row of those in view, and scrolling brings in a few: the others are copied.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QImage, QPainter

from tamarind.desktop.theme import colours

Paint = Callable[[QPainter, QRectF], None]
"""Draws a row into an area, which begins at 0, 0 here."""

MOST_VIEWS = 4
"""How many times the pixels of the view are kept."""


class RowPictures:
    """Pictures by the object that lays a row out, which stays with it when rows are inserted
    before."""

    def __init__(self) -> None:
        self._kept: dict[object, tuple[object, QImage]] = {}

    def draw(
        self, painter: QPainter, row: object, state: object, area: QRectF, paint: Paint
    ) -> bool:
        """Draw a row in the viewport; ``state`` is everything that its look depends on.

        Not where the pixels of the screen are no whole part of the window's: a picture would be
        blurred there.
        """
        ratio = painter.device().devicePixelRatioF()
        if ratio != int(ratio):
            return False
        self.prepare(row, state, area, ratio, paint)
        painter.drawImage(area.topLeft(), self._kept[row][1])
        return True

    def prepare(self, row: object, state: object, area: QRectF, ratio: float, paint: Paint) -> bool:
        """Make the picture of a row; return whether it had to be drawn."""
        state = (state, area.width(), area.height(), ratio, colours.SHEET)
        kept = self._kept.get(row)
        if kept is not None and kept[0] == state:
            return False
        self._kept[row] = (state, self._drawn(area, ratio, paint))
        return True

    def drop_all_but(self, rows: set[object], view: QRectF, ratio: float) -> None:
        """Drop pictures for which there is no room; ``rows`` are in ``view``, with ``ratio`` device
        pixels a point."""
        most = MOST_VIEWS * view.width() * view.height() * ratio**2
        if sum(image.width() * image.height() for _, image in self._kept.values()) > most:
            self._kept = {row: kept for row, kept in self._kept.items() if row in rows}

    def _drawn(self, area: QRectF, ratio: float, paint: Paint) -> QImage:
        picture = QImage(
            round(area.width() * ratio), round(area.height() * ratio), QImage.Format.Format_RGB32
        )
        picture.setDevicePixelRatio(ratio)
        picture.fill(QColor(colours.SHEET))
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint(painter, QRectF(QPointF(0, 0), area.size()))
        painter.end()
        return picture
