"""The desk on the right of the sheet: all about where the caret is."""

from __future__ import annotations

from bisect import bisect_left

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QScrollArea,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.proof.picture import Picture
from tamarind.desktop.session import Session
from tamarind.desktop.widgets.hints import set_hint, set_tip
from tamarind.desktop.widgets.parts import ElidedLabel, button, clear, label, rule, set_tone
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript

NEXT_DOUBTS = 5


class Desk(QWidget):
    """The picture, the doubt at the caret, who speaks, a second hearing, and what is left."""

    hear_asked = Signal()
    keep_asked = Signal()
    reading_taken = Signal(str)
    doubt_asked = Signal(int, int)
    speaker_chosen = Signal(object)
    naming_asked = Signal()

    def __init__(self, session: Session, picture: Picture, fixed: QWidget, again: QWidget) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedWidth(296)
        self._session = session
        self.picture = picture
        self._threshold = QSlider(Qt.Orientation.Horizontal)
        self._threshold.setRange(0, 100)
        self._threshold.setValue(round(100 * session.threshold))
        self._threshold.setAccessibleName("Words less certain than this are doubts")
        set_tip(self._threshold, "Words less certain than this are doubts")
        self._threshold.valueChanged.connect(lambda value: session.set_threshold(value / 100))
        self._count = label("", "note")
        self._kind = label("", "heading")
        self._word = ElidedLabel("", "word")
        self._certainty = label("", "mono")
        self._times = label("", "mono")
        self._readings = QVBoxLayout()
        self._readings.setSpacing(4)
        self._hear = button("Hear it again", self.hear_asked.emit, "link", "{hear_doubt}")
        self._keep = button("Keep as heard", self.keep_asked.emit, "link", "{keep_doubt}")
        self._leave_out = button("Leave it out", lambda: self.reading_taken.emit(""), "link")
        self._speakers = QGridLayout()
        self._speakers.setSpacing(6)
        self._rest_heading = label("STILL TO SETTLE", "heading")
        self._rest = QVBoxLayout()
        self._rest.setSpacing(2)
        self._rest_places: list[tuple[int, int]] = []
        # Made once: they change with every keystroke.
        self._rest_buttons = [
            button("", lambda n=n: self.doubt_asked.emit(*self._rest_places[n]), "listed")
            for n in range(NEXT_DOUBTS)
        ]
        for go in self._rest_buttons:
            go.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            go.hide()
            self._rest.addWidget(go)
        self._rest_note = label("", "note", wrap=True)

        inside = QWidget()
        inside.setObjectName("side")
        inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        scroll = QScrollArea()
        scroll.setWidget(inside)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scroll)
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(8)
        column.addWidget(picture)
        column.addSpacing(4)
        column.addWidget(self._kind)
        word = QHBoxLayout()
        word.addWidget(self._word, 1)
        word.addWidget(self._certainty, 0, Qt.AlignmentFlag.AlignBottom)
        column.addLayout(word)
        column.addWidget(self._times)
        column.addLayout(self._readings)
        acts = QHBoxLayout()
        acts.addWidget(self._hear)
        acts.addWidget(self._keep)
        acts.addWidget(self._leave_out)
        acts.addStretch(1)
        column.addLayout(acts)
        column.addWidget(rule())
        column.addWidget(label("WHO SPEAKS HERE", "heading"))
        column.addLayout(self._speakers)
        column.addWidget(fixed)
        column.addWidget(rule())
        column.addWidget(again)
        column.addWidget(rule())
        column.addWidget(self._rest_heading)
        doubtful = QHBoxLayout()
        doubtful.setSpacing(10)
        doubtful.addWidget(self._count)
        doubtful.addWidget(self._threshold, 1)
        column.addLayout(doubtful)
        column.addLayout(self._rest)
        column.addWidget(self._rest_note)
        column.addStretch(1)
        self._shown_speakers: tuple[object, ...] = ()
        self._shown_rest: tuple[object, ...] = ()

    def show_place(
        self, transcript: Transcript, row: int, word: int, doubts: list[tuple[int, int]]
    ) -> None:
        """Say what is known of the word at a place of the text, among all its doubts."""
        if not transcript.cues or not transcript.cues[row].words:
            self._kind.setText("")
            self._word.set_whole("")
            self._certainty.setText("")
            self._times.setText("")
            self._keep.setVisible(False)
            self._leave_out.setVisible(False)
            self._hear.setVisible(False)
            clear(self._readings)
        else:
            self._show_word(transcript, row, word, doubts)
        if transcript.cues:
            cue = transcript.cues[row]
            start, end = (clock(time, 2, hours=False) for time in (cue.start, cue.end))
            self._times.setText(f"cue {start} – {end}, {(cue.end - cue.start) / 1000:.2f} s")
        self._show_speakers(transcript, row)
        self._show_rest(transcript, (row, word), doubts)

    def _show_word(
        self, transcript: Transcript, row: int, word: int, doubts: list[tuple[int, int]]
    ) -> None:
        words = transcript.cues[row].words
        at = words[min(word, len(words) - 1)]
        self._word.set_whole(at.text)
        self._hear.setVisible(True)
        number = bisect_left(doubts, (row, min(word, len(words) - 1)))
        doubtful = doubts[number : number + 1] == [(row, min(word, len(words) - 1))]
        self._keep.setVisible(doubtful)
        self._leave_out.setVisible(doubtful)
        clear(self._readings)
        set_tone(self._kind, "plum" if doubtful else "")
        if doubtful:
            self._kind.setText(f"DOUBT {number + 1} OF {len(doubts)}")
            self._certainty.setText(f"certainty {at.certainty:.2f}")
            for number, reading in enumerate(filter(None, at.readings), 1):
                take = button(
                    f"{number}   {reading}",
                    lambda text=reading: self.reading_taken.emit(text),
                    "choice",
                    f"Take it: {number}, right after going to the doubt",
                    reading,
                )
                self._readings.addWidget(take)
        else:
            self._kind.setText("AT THE CARET")
            self._certainty.setText(f"{clock(at.start, 2, hours=False)}")

    def _show_speakers(self, transcript: Transcript, row: int) -> None:
        speaker = transcript.cues[row].speaker if transcript.cues else None
        state = (transcript.speakers, speaker, bool(transcript.cues))
        if state == self._shown_speakers:
            return
        self._shown_speakers = state
        clear(self._speakers)
        if not transcript.cues:
            return
        place = 0
        for number, known in enumerate(transcript.speakers, 1):
            choice = button(
                f"{number}  {known.label}",
                lambda key=known.id: self.speaker_chosen.emit(key),
                "choice",
                f"This turn is theirs (Alt+{number})",
            )
            choice.setCheckable(True)
            choice.setChecked(known.id == speaker)
            choice.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self._speakers.addWidget(choice, place // 2, place % 2)
            place += 1
        naming = "Rename" if speaker is not None else "+ name the speaker"
        name = button(naming, self.naming_asked.emit, "link", "Name the speaker ({speaker})")
        name.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._speakers.addWidget(name, (place + 1) // 2, 0)
        if speaker is not None:
            another = button("+ another", lambda: self.speaker_chosen.emit("new"), "link")
            another.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self._speakers.addWidget(another, (place + 1) // 2, 1)

    def _show_rest(
        self, transcript: Transcript, here: tuple[int, int], doubts: list[tuple[int, int]]
    ) -> None:
        at = bisect_left(doubts, here)
        here_too = doubts[at : at + 1] == [here]
        coming = doubts[at + here_too : at + here_too + NEXT_DOUBTS]
        before = doubts[: min(at, NEXT_DOUBTS)]
        following = [
            (place, transcript.cues[place[0]].words[place[1]])
            for place in (coming + before)[:NEXT_DOUBTS]
        ]
        left = max(len(doubts) - here_too - NEXT_DOUBTS, 0)
        self._count.setText(f"{len(doubts)} below {self._session.threshold:.2f}")
        self._threshold.setVisible(bool(transcript.cues))
        self._count.setVisible(bool(transcript.cues))
        state = (following, left, bool(transcript.cues))
        if state == self._shown_rest:
            return
        self._shown_rest = state
        self._rest_places = [place for place, _ in following]
        for number, go in enumerate(self._rest_buttons):
            go.setVisible(number < len(following))
            if number < len(following):
                doubt = following[number][1]
                go.setText(f"{clock(doubt.start, 1, hours=False)}   {doubt.text}")
                go.setAccessibleName(go.text())
        if left > 0:
            set_hint(self._rest_note, f"and {left} more · next: {{next_doubt}}")
        elif transcript.cues and not doubts:
            set_hint(self._rest_note, "No doubts are left.")
        else:
            set_hint(self._rest_note, "")
        self._rest_heading.setVisible(bool(transcript.cues))
