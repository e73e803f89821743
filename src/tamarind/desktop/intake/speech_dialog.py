"""The dialog for empty cues where somebody speaks, for typing by hand, with a preview on the
waveform."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QRadioButton,
    QSlider,
    QSpinBox,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.waveform import draw_sound
from tamarind.formats.timecode import clock
from tamarind.job.recording import State
from tamarind.speech.stretches import Span, stretches
from tamarind.transcript.edits import with_empty_cues

WINDOW_MS = 60_000
"""How much of the sound is shown closely, below the whole."""

LEAST_LIKELY, LIKELIEST = 5, 95


class SpeechDialog(Dialog):
    """Sensitivity, longest length, where to begin, and what becomes of existing cues."""

    def __init__(
        self, session: Session, recording_id: int, playhead: int, parent: QWidget | None = None
    ) -> None:
        name = session.recordings.get(recording_id).name
        super().__init__(f"Empty cues from speech – {name}", (760, 420), parent)
        self._session, self._id, self._playhead = session, recording_id, playhead
        recording = session.recordings.get(recording_id)
        self.spans: list[Span] = []
        self.whole = _Preview(session, recording_id, (0, recording.duration))
        close = min(max(playhead - WINDOW_MS // 2, 0), max(recording.duration - WINDOW_MS, 0))
        self.near = _Preview(
            session, recording_id, (close, min(close + WINDOW_MS, recording.duration))
        )
        self.sensitivity = QSlider(Qt.Orientation.Horizontal)
        self.sensitivity.setRange(100 - LIKELIEST, 100 - LEAST_LIKELY)
        self.sensitivity.setValue(50)
        self.sensitivity.setAccessibleName("Sensitivity")
        self.longest = QSpinBox()
        self.longest.setRange(2, 30)
        self.longest.setValue(6)
        self.longest.setSuffix(" s")
        self.longest.setAccessibleName("Longest cue")
        self.from_start = QRadioButton("the start")
        self.from_playhead = QRadioButton(f"the playhead, {clock(playhead, 1, hours=False)}")
        self.from_start.setChecked(True)
        self.replacing = QRadioButton("Replace the cues from there on")
        self.keeping = QRadioButton("Keep them and fill the gaps")
        self.replacing.setChecked(True)
        has_cues = bool(session.texts.transcript(recording_id).cues)
        for group in ((self.from_start, self.from_playhead), (self.replacing, self.keeping)):
            buttons = QButtonGroup(self)
            for choice in group:
                buttons.addButton(choice)
        self.replacing.setVisible(has_cues)
        self.keeping.setVisible(has_cues)
        self._count = label("finding speech…", "note")
        self.make = button("", self.look, "primary")
        self._lay_out(has_cues)
        self.sensitivity.valueChanged.connect(self._preview)
        self.longest.valueChanged.connect(self._preview)
        for choice in (self.from_start, self.from_playhead, self.replacing, self.keeping):
            choice.toggled.connect(self._preview)
        session.on_demand.speech_found.connect(self._speech_found)
        self._preview()

    def _lay_out(self, has_cues: bool) -> None:
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(8)
        slider = QHBoxLayout()
        slider.setSpacing(12)
        slider.addWidget(label("strict voice detection", "note"))
        slider.addWidget(self.sensitivity, 1)
        slider.addWidget(label("also faint speech", "note"))
        begin = QHBoxLayout()
        begin.setSpacing(20)
        begin.addWidget(self.from_start)
        begin.addWidget(self.from_playhead)
        begin.addStretch(1)
        there = QHBoxLayout()
        there.setSpacing(20)
        there.addWidget(self.replacing)
        there.addWidget(self.keeping)
        there.addStretch(1)
        longest = QHBoxLayout()
        longest.addWidget(self.longest)
        longest.addStretch(1)
        grid.addWidget(label("Sensitivity"), 0, 0)
        grid.addLayout(slider, 0, 1)
        grid.addWidget(label("Longest cue"), 1, 0)
        grid.addLayout(longest, 1, 1)
        grid.addWidget(label("From"), 2, 0)
        grid.addLayout(begin, 2, 1)
        if has_cues:
            grid.addWidget(label("Existing cues"), 3, 0)
            grid.addLayout(there, 3, 1)
        column = self.body
        column.addWidget(label("THE WHOLE RECORDING", "heading"))
        column.addWidget(self.whole)
        span = f"{clock(self.near.span[0], 0, hours=False)} TO "
        column.addWidget(label(span + clock(self.near.span[1], 0, hours=False), "heading"))
        column.addWidget(self.near)
        column.addWidget(self._count)
        column.addLayout(grid)
        column.addStretch(1)
        self.set_acts(self.make)

    def _speech_found(self, _recording_id: int) -> None:
        self._preview()

    def _preview(self) -> None:
        """Show the cues that would be made."""
        activity = self._session.on_demand.speech(self._id)
        self.make.setEnabled(activity is not None)
        if activity is None:
            self.make.setText("Listening…")
            return
        start = self._playhead if self.from_playhead.isChecked() else 0
        begins_at = (100 - self.sensitivity.value()) / 100
        self.spans = stretches(activity, begins_at, self.longest.value() * 1000, start)
        for preview in (self.whole, self.near):
            preview.show_spans(self.spans)
        seconds = sum(end - first for first, end in self.spans) / 1000
        count = len(self.spans)
        self._count.setText(
            f"{count} cues, {seconds / 60:.1f} min of speech" if count else "no speech found"
        )
        self.make.setText(f"Make {count} empty cues" if count != 1 else "Make 1 empty cue")
        self.make.setEnabled(count > 0)

    def look(self) -> None:
        """Find the speech again."""
        start = self._playhead if self.from_playhead.isChecked() else 0
        keep = self.keeping.isVisible() and self.keeping.isChecked()
        session = self._session
        before = session.texts.transcript(self._id)
        session.texts.edit(self._id, "empty cues", with_empty_cues(before, self.spans, start, keep))
        session.recordings.typed_by_hand(self._id)
        self.accept()


class _Preview(QWidget):
    """A stretch of waveform with bars under it where cues would be."""

    def __init__(self, session: Session, recording_id: int, span: Span) -> None:
        super().__init__()
        self._session, self._id, self.span = session, recording_id, span
        self.spans: list[Span] = []
        self.setFixedHeight(58)
        self.setAccessibleName("Where cues would be")

    def show_spans(self, spans: list[Span]) -> None:
        self.spans = spans
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the waveform and the cues."""
        painter = QPainter(self)
        area = QRectF(0, 0, self.width(), self.height() - 10)
        first, last = self.span
        scale = self.width() / max(last - first, 1)
        painter.fillRect(QRectF(self.rect()), QColor(colours.SHEET))
        shades = (colours.LEAF, colours.BARK)
        for number, (start, end) in enumerate(self.spans):
            if end > first and start < last:
                left, right = (start - first) * scale, (end - first) * scale
                wide = max(right - left - 1, 1)
                painter.fillRect(QRectF(left, 0, wide, area.height()), QColor(colours.LEAF_PALE))
                painter.fillRect(
                    QRectF(left, area.height() + 3, wide, 5), QColor(shades[number % 2])
                )
        peaks = self._session.sounds.peaks(self._id)
        draw_sound(painter, area, peaks, self.span, colours.SOUND)
        painter.end()


def can_be_typed(session: Session, recording_id: int) -> bool:
    """Whether empty cues can be made now."""
    recording = session.recordings.get(recording_id)
    return recording.duration > 0 and recording.state is not State.QUEUED
