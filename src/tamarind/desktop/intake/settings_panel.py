"""How to hear the chosen recordings, and the button that starts the batch."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from tamarind.batch.timeleft import TYPICAL_SPEED, human
from tamarind.desktop.session import Session
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.timecode import clock, parse_time
from tamarind.job.recording import Recording


class SettingsPanel(QWidget):
    """Settings show what the chosen recordings have, and change them at once."""

    transcribe_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(326)
        self._session = session
        self._chosen: list[int] = []
        self._whose = label("", "note")
        self._language = QComboBox()
        self._language.setAccessibleName("Spoken language")
        self._language.addItem("English", "en")
        self._start, self._end = QLineEdit(), QLineEdit()
        for box, name in ((self._start, "From"), (self._end, "To")):
            box.setAccessibleName(name)
            box.editingFinished.connect(self._part_changed)
        self._start.setPlaceholderText("its start")
        self._end.setPlaceholderText("its end")
        self._part_note = label("", "note", wrap=True)
        self._go = button("Transcribe", self.transcribe_asked.emit, "primary")
        self._go_note = label("", "note", wrap=True)
        self._go_note.setAlignment(Qt.AlignmentFlag.AlignCenter)

        head = QHBoxLayout()
        head.addWidget(label("HOW TO HEAR IT", "heading"))
        head.addStretch(1)
        head.addWidget(self._whose)
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(4)
        grid.addWidget(label("Spoken language"), 0, 0)
        grid.addWidget(self._language, 0, 1)
        grid.addWidget(label("built in, hears English", "note"), 1, 1)
        grid.setRowMinimumHeight(2, 10)
        part = QHBoxLayout()
        part.setSpacing(6)
        part.addWidget(self._start)
        part.addWidget(label("to", "note"))
        part.addWidget(self._end)
        grid.addWidget(label("Part"), 3, 0)
        grid.addLayout(part, 3, 1)
        grid.addWidget(self._part_note, 4, 1)
        grid.setRowMinimumHeight(5, 10)
        grid.addWidget(label("Captions"), 6, 0)
        grid.addWidget(label("42 letters, two lines"), 6, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 20, 20, 14)
        column.setSpacing(14)
        column.addLayout(head)
        column.addLayout(grid)
        column.addStretch(1)
        column.addWidget(self._go)
        column.addWidget(self._go_note)

    def show_choice(self, chosen: list[int]) -> None:
        """Show the settings of these recordings."""
        self._chosen = chosen
        recordings = self._recordings()
        self._whose.setText(
            "none chosen"
            if not recordings
            else recordings[0].name[:22]
            if len(recordings) == 1
            else f"for {len(recordings)} chosen"
        )
        for widget in (self._start, self._end, self._language):
            widget.setEnabled(bool(recordings))
        parts = {recording.part for recording in recordings}
        start, end = parts.pop() if len(parts) == 1 else (0, None)
        self._start.setText(_short(start) if start else "")
        self._end.setText(_short(end) if end is not None else "")
        self._part_note.setText("all of it" if (start, end) == (0, None) else "only this part")

    def show_work(self, ready: list[Recording], busy: bool) -> None:
        """Say what the button would start, and how long that takes."""
        count = len(ready)
        self._go.setEnabled(count > 0)
        noun = "recording" if count == 1 else "recordings"
        if count:
            self._go.setText(f"Transcribe {count} {noun}")
            length = sum(r.part_end - max(r.part[0], r.heard_until) for r in ready) / 1000
            took = human(length / TYPICAL_SPEED)
            self._go_note.setText(f"{took} here, and nothing leaves this computer")
        else:
            self._go.setText("Transcribing…" if busy else "Nothing to transcribe")
            self._go_note.setText("nothing leaves this computer")

    def _recordings(self) -> list[Recording]:
        there = {recording.id: recording for recording in self._session.recordings()}
        return [there[key] for key in self._chosen if key in there]

    def _part_changed(self) -> None:
        try:
            start = parse_time(self._start.text()) if self._start.text().strip() else 0
            end = parse_time(self._end.text()) if self._end.text().strip() else None
        except ValueError as error:
            self._part_note.setText(str(error))
            return
        if end is not None and end <= start:
            self._part_note.setText("The part would end before it starts.")
            return
        for recording in self._recordings():
            if recording.part == (start, end):
                continue
            if start >= recording.duration:
                self._part_note.setText(f"“{recording.name}” is shorter than that.")
                return
            if self._session.can_hear(recording):
                self._session.change_recording(
                    replace(recording, part=(start, end), heard_until=start)
                )
        self._part_note.setText("all of it" if (start, end) == (0, None) else "only this part")


def _short(time: int) -> str:
    """A time as one would type it: without a fraction that is nothing."""
    return clock(time, 1 if time % 1000 else 0, hours=False)
