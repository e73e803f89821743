"""The frame of every dialog: title, contents, and buttons at its foot."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from tamarind.desktop.widgets.parts import button, label


class Dialog(QDialog):
    """``body`` takes the contents; ``set_acts`` puts Cancel on the left and the act on the right.

    It is gone once it has been answered and whoever asked has read the answer.
    """

    def __init__(
        self, title: str, size: tuple[int, int], parent: QWidget | None = None, heading: str = ""
    ) -> None:
        super().__init__(parent)
        self.finished.connect(self.deleteLater)
        self.setWindowTitle(title)
        self.resize(*size)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 16)
        column.setSpacing(10)
        if heading:
            column.addWidget(label(heading, "title"))
        self.body = QVBoxLayout()
        self.body.setSpacing(10)
        column.addLayout(self.body, 1)
        self._acts = QHBoxLayout()
        self._acts.setSpacing(8)
        column.addLayout(self._acts)

    def exec(self) -> int:
        """Show the dialog and wait for the answer."""
        try:
            return super().exec()
        finally:
            self.deleteLater()

    def set_acts(
        self, *acts: QPushButton, leave: str = "Cancel", between: tuple[QPushButton, ...] = ()
    ) -> None:
        """Add the button that changes nothing, other buttons beside it, and the act."""
        self._acts.addWidget(button(leave, self.reject))
        for other in between:
            self._acts.addWidget(other)
        self._acts.addStretch(1)
        for act in acts:
            self._acts.addWidget(act)
