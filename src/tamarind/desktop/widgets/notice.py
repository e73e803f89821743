"""A sentence over the foot of the window, gone after a while or at a click."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

from tamarind.desktop.widgets.parts import button

SHOWN_MS = 9_000
OFFERING_MS = 30_000
"""How long it stays where something can be done about it."""
WIDEST, BESIDE, FOOT = 620, 80, 120


class Notice(QFrame):
    """Is hidden until something is said."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self._sentence = QLabel()
        self._sentence.setTextFormat(Qt.TextFormat.PlainText)
        self._sentence.setWordWrap(True)
        self._act: Callable[[], object] | None = None
        self.offer: QPushButton = button("", self._do, name="Act on this message")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 10, 16, 10)
        row.setSpacing(16)
        row.addWidget(self._sentence, 1)
        row.addWidget(self.offer)
        self.setObjectName("notice")
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def text(self) -> str:
        """The last sentence."""
        return self._sentence.text()

    def say(self, text: str, offer: str = "", act: Callable[[], object] | None = None) -> None:
        """Show a sentence, and what may be done about it; "" hides it."""
        if not text:
            return
        self._sentence.setText(text)
        self.setAccessibleName(text)
        self._act = act
        self.offer.setText(offer)
        self.offer.setAccessibleName(offer)
        self.offer.setVisible(bool(offer))
        self.place()
        self.show()
        self.raise_()
        self._timer.start(OFFERING_MS if offer else SHOWN_MS)

    def place(self) -> None:
        """Place the notice in the middle, above the transport."""
        window = self._window
        width = min(window.width() - BESIDE, WIDEST)
        self.setFixedSize(width, max(self.heightForWidth(width), 0))
        foot = window.height() - FOOT
        self.move((window.width() - self.width()) // 2, foot - self.height())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Hide the notice."""
        self.hide()

    def _do(self) -> None:
        self.hide()
        if self._act is not None:
            self._act()
