"""A fold for rarely used fields, behind one “More” that remembers whether it was open."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application import personal
from tamarind.desktop.widgets.parts import ElidedLabel, button


class More(QWidget):
    """Shows ``inside`` when open; when closed, says what in it differs from the default."""

    def __init__(self, name: str, inside: QWidget, title: str = "More") -> None:
        """``name`` identifies this fold, so that its state is remembered."""
        super().__init__()
        self._name, self._inside, self._title = name, inside, title
        self._differing: Sequence[str] = ()
        self._fold = button("", self.toggle, "link")
        self.note = ElidedLabel("", "note")
        head = QHBoxLayout()
        head.setSpacing(10)
        head.addWidget(self._fold)
        head.addWidget(self.note, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(9)
        column.addLayout(head)
        column.addWidget(inside)
        self._show(name in personal.read(personal.OPEN_FOLDS))

    @property
    def is_open(self) -> bool:
        """Whether the fold is open."""
        return not self._inside.isHidden()

    def toggle(self) -> None:
        """Open or close the fold."""
        is_open = not self.is_open
        kept = [name for name in personal.read(personal.OPEN_FOLDS) if name != self._name]
        personal.keep(personal.OPEN_FOLDS, [*kept, self._name] if is_open else kept)
        self._show(is_open)

    def tell(self, differing: Sequence[str]) -> None:
        """Set the words for what differs from the default."""
        self._differing = differing
        self.note.set_whole("" if self.is_open else ", ".join(differing))

    def _show(self, is_open: bool) -> None:
        self._inside.setVisible(is_open)
        self._fold.setText(f"{'▾' if is_open else '▸'} {self._title}")
        self._fold.setAccessibleName(f"{self._title}, {'shown' if is_open else 'hidden'}")
        self.tell(self._differing)
