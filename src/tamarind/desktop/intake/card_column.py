"""The column of cards, and the place where a dragged one would be dropped."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
)
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tamarind.desktop.intake.card import CARD_MIME, Card
from tamarind.desktop.theme import colours

SPACING = 10


class CardColumn(QWidget):
    """Emits the new place of a dropped card."""

    dropped = Signal(int, int)
    pressed_beside = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("page")
        self.setAcceptDrops(True)
        self._cards: list[Card] = []
        self._gap: int | None = None
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 6, 12)
        self._layout.setSpacing(SPACING)
        self._layout.addStretch(1)

    def arrange(self, cards: Sequence[Card]) -> None:
        """Show these cards in this order; only those out of place are moved."""
        cards = list(cards)
        if cards == self._cards:
            return
        for place, card in enumerate(cards):
            if self._layout.indexOf(card) != place:
                self._layout.removeWidget(card)
                self._layout.insertWidget(place, card)
        self._cards = cards
        previous = None
        for card in cards:
            if previous is not None:
                QWidget.setTabOrder(previous, card)
            previous = card

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Accept cards only; files are taken by the window."""
        if event.mimeData().hasFormat(CARD_MIME):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        """Show where the card would be dropped."""
        self._gap = self._place_at(event.position())
        self.update()
        event.acceptProposedAction()

    def dragLeaveEvent(self, event: QDragLeaveEvent) -> None:
        """Hide the drop place."""
        self._gap = None
        self.update()

    def dropEvent(self, event: QDropEvent) -> None:
        """Emit the new place of the card."""
        self._gap = None
        self.update()
        key = int(event.mimeData().data(CARD_MIME).data())
        event.acceptProposedAction()
        self.dropped.emit(key, self._place_at(event.position()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Emit a press beside the cards."""
        if event.button() == Qt.MouseButton.LeftButton:
            self.pressed_beside.emit()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint a line in the gap where the card would be dropped."""
        if self._gap is None or not self._cards:
            return
        if self._gap < len(self._cards):
            y = self._cards[self._gap].geometry().top() - SPACING / 2
        else:
            y = self._cards[-1].geometry().bottom() + SPACING / 2
        painter = QPainter(self)
        painter.setPen(QPen(QColor(colours.PULP), 3))
        painter.drawLine(QPointF(8, y), QPointF(self.width() - 14, y))
        painter.end()

    def _place_at(self, point: QPointF) -> int:
        middles = (card.geometry().center().y() for card in self._cards)
        return sum(middle < point.y() for middle in middles)
