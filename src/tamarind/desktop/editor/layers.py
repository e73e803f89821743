"""What is painted under and over the text of a row, in layers; those that every sheet has."""

from __future__ import annotations

from typing import Protocol

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QApplication, QWidget

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.theme import colours

FLASH_MS = 500
CARD_LEFT, CARD_RIGHT = 12, 14
EDGE = 9
"""Within so much of the paper's sides (px) nothing of a row is drawn; its corners are there."""


class Layer(Protocol):
    """One thing painted on a row."""

    def state(self, row: int) -> object:
        """Return everything that the painting depends on besides the row's text and size;
        ``CHANGING`` where a cached picture is not worthwhile."""

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the layer; ``area`` is the row's in the viewport, ``text`` that of its text."""


CHANGING = object()


class CaretLayer:
    """The caret, which blinks while its sheet has the focus."""

    def __init__(self, sheet: QWidget, geometry: RowGeometry, caret: Caret) -> None:
        self._sheet, self._geometry, self._caret = sheet, geometry, caret
        self._is_on = True
        interval = QApplication.cursorFlashTime() // 2 or FLASH_MS
        self._flashing = QTimer(sheet, interval=interval)
        self._flashing.timeout.connect(self._flash)
        caret.moved.connect(self.show)

    def show(self) -> None:
        """Show the caret at once after it has moved."""
        self._is_on = True

    def wake(self) -> None:
        """Start blinking, since the sheet has the focus."""
        self._is_on = True
        self._flashing.start()

    def rest(self) -> None:
        """Hide the caret, since the sheet has lost the focus."""
        self._flashing.stop()

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint an upright line."""
        if row == self._caret.place[0] and self._is_on and self._sheet.hasFocus():
            painter.fillRect(self._geometry.edge_area(self._caret.place), QColor(colours.PULP))

    def _flash(self) -> None:
        self._is_on = not self._is_on
        self._geometry.update_row(self._caret.place[0])


def paint_paper(painter: QPainter, viewport: QRectF) -> None:
    """Paint the sheet of paper that all rows lie on."""
    painter.setPen(QPen(QColor(colours.LINE), 1))
    painter.setBrush(QColor(colours.SHEET))
    painter.drawRoundedRect(viewport.adjusted(0.5, 0.5, -0.5, 30), 8, 8)


def paint_card(painter: QPainter, area: QRectF, top: float, bottom: float) -> None:
    """Paint the card under the caret's row."""
    card = QRectF(CARD_LEFT, top, area.width() - CARD_LEFT - CARD_RIGHT, bottom - top)
    painter.setPen(QPen(QColor(colours.LEAF), 1.2))
    painter.setBrush(QColor(colours.CARD))
    painter.drawRoundedRect(card, 8, 8)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colours.LEAF))
    painter.drawRoundedRect(QRectF(card.left(), card.top(), 5, card.height()), 2.5, 2.5)
