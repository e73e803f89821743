"""A sentence over the foot of a window, gone after a while or at a click."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QLabel, QWidget

SHOWN_MS = 9_000
WIDEST, BESIDE, FOOT = 620, 80, 120


class Notice(QLabel):
    """Hidden until something is said."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        self.setObjectName("notice")
        self._timer = QTimer(self, singleShot=True, interval=SHOWN_MS)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def say(self, text: str) -> None:
        """Show a sentence; none is none."""
        if not text:
            return
        self.setText(text)
        self.setAccessibleName(text)
        self.place()
        self.show()
        self.raise_()
        self._timer.start()

    def place(self) -> None:
        """In the middle, above the transport."""
        window = self._window
        self.setFixedWidth(min(window.width() - BESIDE, WIDEST))
        self.adjustSize()
        foot = window.height() - FOOT
        self.move((window.width() - self.width()) // 2, foot - self.height())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Seen."""
        self.hide()
