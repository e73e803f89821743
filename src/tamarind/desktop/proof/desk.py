"""The desk on the right of the sheet: everything about the place of the caret."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from functools import partial

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

from tamarind.application.checking import said
from tamarind.application.session import Session
from tamarind.checks.finding import PlacedFinding
from tamarind.desktop.widgets.hints import set_hint, set_tip
from tamarind.desktop.widgets.parts import ElidedLabel, button, clear, label, rule, set_tone
from tamarind.desktop.widgets.picture import PictureView
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript
from tamarind.transcript.survey import Place, Survey

NEXT = 5
MOST_LETTERS, MOST_NOTE = 24, 38

CHECKING = "checking…"


class Desk(QWidget):
    """The picture, the doubt at the caret, the speakers, and what is left to review."""

    hear_asked = Signal()
    keep_asked = Signal()
    reading_taken = Signal(str)
    doubt_asked = Signal(int, int)
    speaker_chosen = Signal(object)
    naming_asked = Signal()
    checks_asked = Signal()
    speakers_asked = Signal()

    def __init__(
        self, session: Session, picture: PictureView, fixed: QWidget, again: QWidget
    ) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self.picture = picture
        self.threshold = QSlider(Qt.Orientation.Horizontal)
        self.threshold.setRange(0, 100)
        self.threshold.setValue(round(100 * session.threshold))
        self.threshold.setAccessibleName("Words with less confidence than this are uncertain")
        set_tip(self.threshold, "Words with less confidence than this are uncertain")
        self.threshold.valueChanged.connect(lambda value: session.set_threshold(value / 100))
        self.count = label("", "note")
        self.kind = label("", "heading")
        self.word = ElidedLabel("", "word")
        self._confidence = label("", "mono")
        self.times = label("", "mono")
        self._alternatives = QVBoxLayout()
        self._alternatives.setSpacing(4)
        self._hear = button("Play again", self.hear_asked.emit, "link", "{hear_doubt}")
        self._keep = button("Accept", self.keep_asked.emit, "link", "{keep_doubt}")
        self._leave_out = button("Delete", lambda: self.reading_taken.emit(""), "link")
        self._speakers = QGridLayout()
        self._speakers.setSpacing(6)
        self._rest_heading = label("TO REVIEW", "heading")
        self._rest = QVBoxLayout()
        self._rest.setSpacing(2)
        self._rest_places: list[Place] = []
        # Made once: they change with every keystroke.
        self.rest_buttons = [button("", partial(self._ask_doubt, n), "listed") for n in range(NEXT)]
        for go in self.rest_buttons:
            go.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            go.hide()
            self._rest.addWidget(go)
        self._rest_note = label("", "note", wrap=True)
        self.checks = button(
            CHECKING, self.checks_asked.emit, "link", "All checks ({checks})", "All checks"
        )

        self._lay_out(picture, fixed, again)
        self._shown_speakers: tuple[object, ...] = ()
        self._told: Sequence[PlacedFinding] = ()
        self._last_rest: tuple[object, ...] | None = None

    def _lay_out(self, picture: PictureView, fixed: QWidget, again: QWidget) -> None:
        """Place what concerns the caret above what is still to review."""
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
        column.addWidget(self.kind)
        word = QHBoxLayout()
        word.addWidget(self.word, 1)
        word.addWidget(self._confidence, 0, Qt.AlignmentFlag.AlignBottom)
        column.addLayout(word)
        column.addWidget(self.times)
        column.addLayout(self._alternatives)
        acts = QHBoxLayout()
        acts.addWidget(self._hear)
        acts.addWidget(self._keep)
        acts.addWidget(self._leave_out)
        acts.addStretch(1)
        column.addLayout(acts)
        column.addWidget(rule())
        self._lay_out_rest(fixed, again, column)

    def _lay_out_rest(self, fixed: QWidget, again: QWidget, column: QVBoxLayout) -> None:
        """Place the speakers, and what is still to review."""
        who = QHBoxLayout()
        who.addWidget(label("WHO SPEAKS HERE", "heading"))
        who.addStretch(1)
        who.addWidget(
            button("Speakers…", self.speakers_asked.emit, "link", "How many? ({speakers_again})")
        )
        column.addLayout(who)
        column.addLayout(self._speakers)
        column.addWidget(fixed)
        column.addWidget(rule())
        column.addWidget(again)
        column.addWidget(rule())
        column.addWidget(self._rest_heading)
        doubtful = QHBoxLayout()
        doubtful.setSpacing(10)
        doubtful.addWidget(self.count)
        doubtful.addWidget(self.threshold, 1)
        column.addLayout(doubtful)
        column.addWidget(self.checks)
        column.addLayout(self._rest)
        column.addWidget(self._rest_note)
        column.addStretch(1)

    def show_place(self, transcript: Transcript, row: int, word: int, survey: Survey) -> None:
        """Show what is known of the word at a place of the text, among all its doubts."""
        if not transcript.cues or not transcript.cues[row].words:
            self.kind.setText("")
            self.word.set_whole("")
            self._confidence.setText("")
            self.times.setText("")
            self._keep.setVisible(False)
            self._leave_out.setVisible(False)
            self._hear.setVisible(False)
            clear(self._alternatives)
        else:
            self._show_word(transcript, row, word, survey)
        if transcript.cues:
            cue = transcript.cues[row]
            start, end = (clock(time, 2, hours=False) for time in (cue.start, cue.end))
            self.times.setText(f"cue {start} – {end}, {(cue.end - cue.start) / 1000:.2f} s")
        self._show_speakers(transcript, row)
        self._show_rest(transcript, (row, word), survey)

    def _show_word(self, transcript: Transcript, row: int, word: int, survey: Survey) -> None:
        words = transcript.cues[row].words
        place = (row, min(word, len(words) - 1))
        at = words[place[1]]
        self.word.set_whole(at.text)
        self._hear.setVisible(True)
        doubtful = survey.is_doubt(place)
        self._keep.setVisible(doubtful)
        self._leave_out.setVisible(doubtful)
        clear(self._alternatives)
        set_tone(self.kind, "plum" if doubtful else "")
        if doubtful:
            number = survey.doubt_number(place) + 1
            self.kind.setText(f"UNCERTAIN {number} OF {survey.doubt_count()}")
            sure = f"confidence {at.confidence:.0%}"
            self._confidence.setText("a word may be missing here" if at.missing else sure)
            for number, reading in enumerate(filter(None, at.alternatives), 1):
                take = button(
                    f"{number}   {reading}",
                    partial(self.reading_taken.emit, reading),
                    "choice",
                    f"Use it: {number}, right after going to the uncertain word",
                    reading,
                )
                self._alternatives.addWidget(take)
        else:
            self.kind.setText("AT THE CARET")
            self._confidence.setText(f"{clock(at.start, 2, hours=False)}")

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
                partial(self.speaker_chosen.emit, known.id),
                "choice",
                f"Give the turn to this speaker (Alt+{number})",
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
            another = button("+ new speaker", lambda: self.speaker_chosen.emit("new"), "link")
            another.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            self._speakers.addWidget(another, (place + 1) // 2, 1)

    def set_width(self, width: int) -> None:
        """Make the desk as wide as its picture needs."""
        self.setFixedWidth(width)

    def await_checks(self) -> None:
        """Show that the text is not checked yet."""
        self.show_checks((), "")
        self.checks.setText(CHECKING)

    def show_checks(self, told: Sequence[PlacedFinding], words: str) -> None:
        """Show the findings that are not doubts, and their number."""
        self._told = told
        self.checks.setText(words)
        self._last_rest = None

    def _show_rest(self, transcript: Transcript, here: Place, survey: Survey) -> None:
        coming = survey.doubts_behind(here, NEXT)
        entries = [self._doubt_entry(transcript, place) for place in coming]
        others = self._told
        at = bisect_left(others, here, key=lambda one: (one.place, one.finding.first))
        coming_too = [*self._told[at : at + NEXT], *self._told[: min(at, NEXT)]][:NEXT]
        entries += map(_check_entry, coming_too)
        entries.sort(key=lambda entry: (entry[0] < here, entry[0]))
        entries = entries[:NEXT]
        count = survey.doubt_count()
        left = max(count + len(others) - survey.is_doubt(here) - NEXT, 0)
        self.count.setText(f"{count} below {self._session.threshold:.0%}")
        self.threshold.setVisible(bool(transcript.cues))
        self.count.setVisible(bool(transcript.cues))
        self.checks.setVisible(bool(transcript.cues))
        state = (entries, left, bool(transcript.cues))
        if state == self._last_rest:
            return
        self._last_rest = state
        self._rest_places = [place for place, _ in entries]
        for number, go in enumerate(self.rest_buttons):
            go.setVisible(number < len(entries))
            if number < len(entries):
                go.setText(entries[number][1])
                go.setAccessibleName(entries[number][1].replace("\n", ", "))
        if left > 0:
            set_hint(self._rest_note, f"and {left} more · {{next_doubt}}, {{next_check}}")
        elif transcript.cues and not count and not others:
            set_hint(self._rest_note, "Nothing to review.")
        else:
            set_hint(self._rest_note, "")
        self._rest_heading.setVisible(bool(transcript.cues))

    def _ask_doubt(self, number: int) -> None:
        self.doubt_asked.emit(*self._rest_places[number])

    def _doubt_entry(self, transcript: Transcript, place: Place) -> tuple[Place, str]:
        word = transcript.cues[place[0]].words[place[1]]
        time = clock(word.start, 1, hours=False)
        return place, f"{time}   {word.text}\nuncertain, confidence {word.confidence:.0%}"


def _check_entry(told: PlacedFinding) -> tuple[Place, str]:
    finding = told.finding
    time = clock(finding.start, 1, hours=False)
    text = finding.excerpt
    text = f"{text[:MOST_LETTERS]}…" if len(text) > MOST_LETTERS else text
    head = f"{time}   {text}" if text else f"{time}   {said(told)}"
    note = finding.reason if finding.rule in ("grammar", "unheard") else said(told)
    note = f"{note[:MOST_NOTE]}…" if len(note) > MOST_NOTE else note
    return (told.place, finding.first), f"{head}\n{note}"
