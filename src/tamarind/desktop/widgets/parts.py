"""Small helpers for building pages."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QLabel, QLayout, QPushButton, QSizePolicy, QWidget

from tamarind.desktop.widgets.hints import set_tip


def label(text: str = "", role: str = "", wrap: bool = False) -> QLabel:
    """Make a label in one of the roles of the style sheet; its text is never read as markup."""
    made = QLabel(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    made.setProperty("role", role)
    made.setWordWrap(wrap)
    return made


class ElidedLabel(QLabel):
    """A label on one line that ends in "…" where there is no room; the tooltip is the whole
    text."""

    def __init__(self, text: str = "", role: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setProperty("role", role)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self._whole = ""
        self.set_whole(text)

    def set_whole(self, text: str) -> None:
        """Set the text."""
        self._whole = text
        self.setToolTip(text)
        self._fit()

    def whole(self) -> str:
        """The whole text."""
        return self._whole

    def resizeEvent(self, event: object) -> None:
        """Show as much of the text as fits."""
        self._fit()

    def _fit(self) -> None:
        width = max(self.width(), 20)
        self.setText(self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, width))


def button(
    text: str, action: Callable[[], object], role: str = "", tip: str = "", name: str = ""
) -> QPushButton:
    """Make a button in one of the roles of the style sheet; ``tip`` as in ``hints``."""
    made = QPushButton(text)
    made.setProperty("role", role)
    if tip:
        set_tip(made, tip)
    made.setAccessibleName(name or text)
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    made.clicked.connect(lambda: action())
    return made


def clear(layout: QLayout) -> None:
    """Delete all widgets of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


def rule() -> QFrame:
    """Make a thin line between two parts of a column."""
    line = QFrame()
    line.setObjectName("rule")
    line.setFixedHeight(1)
    return line


def set_tone(widget: QWidget, tone: str) -> None:
    """Set the tone of a widget's role."""
    if widget.property("tone") != tone:
        widget.setProperty("tone", tone)
        widget.style().unpolish(widget)
        widget.style().polish(widget)
