"""The line above the sheet: its two layouts, and how far proofing is."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QWidget

from tamarind.desktop.proof.progress import Progress
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.widgets.parts import ElidedLabel, button

NAMES = {Layout.CUES: "Cues", Layout.PARAGRAPHS: "Paragraphs"}


class SheetBar(QWidget):
    """Two buttons on the left, one sentence on the right."""

    layout_asked = Signal(object)

    def __init__(self, progress: Progress) -> None:
        super().__init__()
        self._progress = progress
        self._sentence = ElidedLabel("", "note")
        self.buttons = {}
        group = QButtonGroup(self)
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 0, 6, 0)
        row.setSpacing(4)
        for layout, name in NAMES.items():
            made = button(
                name,
                partial(self.layout_asked.emit, layout),
                "tab",
                f"The text in {name.casefold()} ({{layout}})",
            )
            made.setCheckable(True)
            group.addButton(made)
            row.addWidget(made)
            self.buttons[layout] = made
        row.addSpacing(18)
        row.addWidget(self._sentence, 1)
        progress.changed.connect(self.refresh)

    def show_layout(self, layout: Layout) -> None:
        """Which layout the sheet has now."""
        self.buttons[layout].setChecked(True)

    def refresh(self) -> None:
        """Say anew how far proofing is."""
        self._sentence.set_whole(self._progress.sentence())
