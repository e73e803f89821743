"""The dialog for exact times: start and end of one cue, or of several."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.timecode import clock, parse_time
from tamarind.transcript import timing
from tamarind.transcript.model import Transcript


class TimesDialog(Dialog):
    """Asks for start and end of cues; the same length moves several, another one stretches them."""

    def __init__(
        self, text: Transcript, first: int, last: int, parent: QWidget | None = None
    ) -> None:
        super().__init__("Times", (400, 240), parent)
        self._text, self._first, self._last = text, first, last
        self._result = text
        count = last - first
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
        what = (
            "Start and end of the cue."
            if count == 1
            else f"Start and end of these {count} cues. With the same duration they are moved;"
            " otherwise all times between are stretched."
        )
        self.body.addWidget(label(what, "note", wrap=True))
        self.body.addLayout(grid)
        self.body.addWidget(self.problem)
        self.body.addStretch(1)
        self.set_acts(button("Set the times", self.accept, "primary"))

    def result_text(self) -> Transcript:
        """Return the text with its new times."""
        return self._result

    def accept(self) -> None:
        """Close only with times that are valid and have room."""
        try:
            start, end = parse_time(self.start.text()), parse_time(self.end.text())
            self._result = self._retimed(start, end)
        except ValueError as error:
            self.problem.setText(str(error))
            return
        super().accept()

    def _retimed(self, start: int, end: int) -> Transcript:
        if end <= start:
            raise ValueError("The end must be after the start.")
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
