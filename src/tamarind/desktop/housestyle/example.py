"""The person's own text in a style: some captions, and a part of the transcript."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from tamarind.captions.lines import with_breaks
from tamarind.captions.relayout import relay
from tamarind.desktop.widgets.parts import clear, label
from tamarind.formats.colours import colour_of
from tamarind.formats.reading.paragraphs import paragraphs
from tamarind.language.attribution import with_speakers
from tamarind.language.housestyle import HouseStyle
from tamarind.language.styled import as_style_wants, as_style_writes
from tamarind.transcript.model import Cue, Transcript, Word

CUES_SHOWN = 4
CUES_READ = 14
PARAGRAPHS_SHOWN = 4

SAMPLE = (
    "So the first thing we did was, um, block the the sluices, one by one, with peat dams. "
    'People laughed at us - to be honest. "It was called improvement," he said, '
    "in nineteen sixty-two."
)


class Example(QScrollArea):
    """Shows the example for the style that is being edited."""

    def __init__(self, text: Transcript, place: int) -> None:
        super().__init__()
        first = max(min(place, len(text.cues) - CUES_READ), 0)
        cues = tuple(cue for cue in text.cues[first : first + CUES_READ] if cue.words)
        self._text = replace(text, cues=cues) if cues else _sample()
        inside = QWidget()
        inside.setObjectName("page")
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(4, 0, 10, 8)
        self._column.setSpacing(6)
        self.setWidget(inside)
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Example")

    def show_style(self, style: HouseStyle) -> None:
        """Lay out the example by a style."""
        clear(self._column)
        limits = style.captions
        laid = relay(self._text, 0, len(self._text.cues), limits, also_locked=True)
        self._column.addWidget(label("AS CAPTIONS", "heading"))
        shown = with_speakers(with_breaks(laid, limits), limits)
        for cue in shown.cues[:CUES_SHOWN]:
            self._column.addWidget(_caption(cue))
            speed = limits.speed(cue.text, cue.start, cue.end)
            seconds = (cue.end - cue.start) / 1000
            breach = limits.is_too_fast(cue.text, cue.start, cue.end)
            note = label(f"{seconds:.1f} s · {speed:.0f} a second", "note")
            note.setProperty("tone", "plum" if breach else "")
            if breach:
                note.setText(f"{note.text()}: too fast, as it is said")
            self._column.addWidget(note)
        self._column.addSpacing(10)
        self._column.addWidget(label("AS A TRANSCRIPT", "heading"))
        heard = as_style_writes(self._text, style.wording)
        wanted = as_style_wants(heard, style.wording)
        for paragraph in paragraphs(wanted, style.transcript)[:PARAGRAPHS_SHOWN]:
            parts = (paragraph.stamp, paragraph.label, paragraph.text)
            self._column.addWidget(label(" ".join(filter(None, parts)), "after", wrap=True))
        self._column.addStretch(1)


def _caption(cue: Cue) -> QFrame:
    frame = QFrame()
    frame.setObjectName("caption")
    column = QVBoxLayout(frame)
    column.setContentsMargins(10, 5, 10, 6)
    text = label("\n".join(cue.lines), "caption")
    text.setAlignment(Qt.AlignmentFlag.AlignCenter)
    colours = [colour for word in cue.words for colour in map(colour_of, word.spans) if colour]
    if colours:
        text.setStyleSheet(f"color: {colours[0]};")
    column.addWidget(text)
    return frame


def _sample() -> Transcript:
    """Return a made-up text for a job that has none yet."""
    words = []
    at = 1_000
    for token in SAMPLE.split():
        words.append(Word(token, at, at + 60 * len(token) + 80))
        at = words[-1].end + (500 if token[-1] == "." else 0)
    return Transcript("en", (Cue(1, 1_000, at, tuple(words), opens_paragraph=True),))
