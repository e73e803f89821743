"""The list of other versions of a translation, below its row, chosen by number."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from tamarind.desktop.widgets.parts import label, set_tone

WIDTH, NUMBER_WIDTH, ROOM = 640, 18, 10


@dataclass(frozen=True, slots=True)
class VersionChoice:
    """``text`` is the version, ``note`` how it came about or what would be done."""

    text: str
    note: str
    take: Callable[[], object]


class VersionsPopup(QFrame):
    """A number, Enter or a click takes one; Escape or a click elsewhere closes it."""

    def __init__(self, choices: Sequence[VersionChoice], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("versions")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("Other versions")
        self.setFixedWidth(WIDTH)
        self.choices = tuple(choices)
        self._rows = [_Row(self, number, one) for number, one in enumerate(choices)]
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 6)
        column.setSpacing(2)
        for row in self._rows:
            column.addWidget(row)
        self._at = 0
        self.choose(0)

    def open_at(self, place: QPoint) -> None:
        """Show the list with its corner at a point, or as near as the screen allows."""
        self.adjustSize()
        available = self.screen().availableGeometry()
        x = min(place.x(), available.right() - self.width())
        y = min(place.y(), available.bottom() - self.height())
        self.move(max(x, available.left()), max(y, available.top()))
        self.show()
        self.setFocus()

    def choose(self, number: int) -> None:
        """Select the version that Enter takes."""
        self._at = number % len(self._rows)
        for place, row in enumerate(self._rows):
            set_tone(row, "chosen" if place == self._at else "")

    def take(self, number: int) -> None:
        """Take a version, and close."""
        if 0 <= number < len(self.choices):
            self.close()
            self.choices[number].take()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Choose by number, or go up and down."""
        key = event.key()
        if Qt.Key.Key_1 <= key <= Qt.Key.Key_9:
            self.take(key - Qt.Key.Key_1)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.choose(self._at + (1 if key == Qt.Key.Key_Down else -1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take(self._at)
        else:
            super().keyPressEvent(event)


class _Row(QFrame):
    def __init__(self, popup: VersionsPopup, number: int, choice: VersionChoice) -> None:
        super().__init__()
        self.setObjectName("version")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName(f"{number + 1}: {choice.text}, {choice.note}")
        self._popup, self._number = popup, number
        head = label(str(number + 1), "mono")
        head.setFixedWidth(NUMBER_WIDTH)
        said = QVBoxLayout()
        said.setSpacing(1)
        if choice.text:
            said.addWidget(_wrapped(choice.text, "after"))
        said.addWidget(_wrapped(choice.note, "note"))
        row = QHBoxLayout(self)
        row.setContentsMargins(ROOM, 6, ROOM, 6)
        row.setSpacing(8)
        row.addWidget(head, 0, Qt.AlignmentFlag.AlignTop)
        row.addLayout(said, 1)

    def enterEvent(self, event: object) -> None:
        """Select the row under the pointer."""
        self._popup.choose(self._number)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Take the version."""
        self._popup.take(self._number)


def _wrapped(text: str, role: str) -> QLabel:
    """Return a label that is as high as its lines; layouts within layouts only guess that."""
    made = label(text, role, wrap=True)
    made.ensurePolished()
    width = WIDTH - NUMBER_WIDTH - 4 * ROOM
    made.setFixedSize(width, made.heightForWidth(width))
    return made
