"""Exact times, typed: for one cue its start and end, for several when they begin and end."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.timecode import clock, parse_time
from tamarind.transcript import timing
from tamarind.transcript.model import Transcript


class TimesDialog(QDialog):
    """Of several cues, the same length moves them and another length stretches them."""

    def __init__(
        self, text: Transcript, first: int, last: int, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._text, self._first, self._last = text, first, last
        self._result = text
        count = last - first
        self.setWindowTitle("Times")
        self.resize(400, 240)
        cues = text.cues[first:last]
        self.start, self.end = QLineEdit(clock(cues[0].start)), QLineEdit(clock(cues[-1].end))
        self.start.setAccessibleName("Start")
        self.end.setAccessibleName("End")
        self.end.returnPressed.connect(self.accept)
        self.problem = label("", "plum", wrap=True)
        grid = QGridLayout()
        grid.addWidget(label("Start"), 0, 0)
        grid.addWidget(self.start, 0, 1)
        grid.addWidget(label("End"), 1, 0)
        grid.addWidget(self.end, 1, 1)
        acts = QHBoxLayout()
        acts.addWidget(button("Cancel", self.reject))
        acts.addStretch(1)
        acts.addWidget(button("Set the times", self.accept, "primary"))
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 16)
        column.setSpacing(10)
        what = (
            "When the cue starts and ends."
            if count == 1
            else f"When these {count} cues begin and end: with the same length they are moved, with"
            " another one all times between are stretched."
        )
        column.addWidget(label(what, "note", wrap=True))
        column.addLayout(grid)
        column.addWidget(self.problem)
        column.addStretch(1)
        column.addLayout(acts)

    def result_text(self) -> Transcript:
        """The text with its new times."""
        return self._result

    def accept(self) -> None:
        """Only with times that make sense and have room."""
        try:
            start, end = parse_time(self.start.text()), parse_time(self.end.text())
            self._result = self._retimed(start, end)
        except ValueError as error:
            self.problem.setText(str(error))
            return
        super().accept()

    def _retimed(self, start: int, end: int) -> Transcript:
        if end <= start:
            raise ValueError("The end must lie after the start.")
        first, last = self._first, self._last
        cues = self._text.cues[first:last]
        if last - first == 1:
            new = timing.set_times(self._text, first, start, end)
            cue = new.cues[first]
            if (cue.start, cue.end) != (start, end):
                raise ValueError("A neighbouring cue is in the way.")
            return new
        if end - start == cues[-1].end - cues[0].start:
            new = timing.shift(self._text, first, last, start - cues[0].start)
            if new.cues[first].start != start:
                raise ValueError("A neighbouring cue is in the way.")
            return new
        return timing.stretch(self._text, first, last, start, end)
