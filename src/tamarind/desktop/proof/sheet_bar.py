"""The line above the sheet: its layouts, the length of paragraphs, and the progress of proofing."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QSlider, QWidget

from tamarind.desktop.proof.parting import STEPS, words_at
from tamarind.desktop.proof.progress import ProofProgress
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.widgets.parts import ElidedLabel, button, label

SLIDER_WIDTH = 84

NAMES = {Layout.CUES: "Cues", Layout.PARAGRAPHS: "Paragraphs"}


class SheetBar(QWidget):
    """Two buttons on the left, the slider of paragraphs, one sentence on the right."""

    layout_asked = Signal(object)
    step_asked = Signal(int)

    def __init__(self, progress: ProofProgress) -> None:
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
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, STEPS)
        self.slider.setPageStep(2)
        self.slider.setFixedWidth(SLIDER_WIDTH)
        self.slider.setAccessibleName("Number of paragraphs")
        self.slider.valueChanged.connect(self._moved)
        self._parting = QWidget()
        beside = QHBoxLayout(self._parting)
        beside.setContentsMargins(6, 0, 0, 0)
        beside.setSpacing(6)
        for part in (label("few", "note"), self.slider, label("many", "note")):
            beside.addWidget(part)
        row.addWidget(self._parting)
        row.addSpacing(12)
        row.addWidget(self._sentence, 1)
        progress.changed.connect(self.refresh)

    def show_layout(self, layout: Layout) -> None:
        """Show the current layout."""
        self.buttons[layout].setChecked(True)
        self._parting.setVisible(layout is Layout.PARAGRAPHS)

    def show_step(self, step: int) -> None:
        """Show the current step of the slider."""
        with QSignalBlocker(self.slider):
            self.slider.setValue(step)
        self.slider.setToolTip(f"Paragraphs of about {words_at(step)} words")

    def _moved(self, step: int) -> None:
        self.step_asked.emit(step)

    def refresh(self) -> None:
        """Show the progress of proofing."""
        self._sentence.set_whole(self._progress.sentence())
