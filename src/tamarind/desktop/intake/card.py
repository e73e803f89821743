"""A recording's card in Intake: its name, its state, and its waveform, filling as it is
transcribed."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QMimeData, QPointF, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QDrag, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QApplication, QFrame, QHBoxLayout, QPushButton, QVBoxLayout

from tamarind.application.session import Session
from tamarind.desktop.intake.card_sound import CardSound
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.desktop.words import differences, level_in_words, stage_of
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording, State
from tamarind.speech.languageguess import is_sure, speaks_against
from tamarind.transcript.languages import name_of

_CONTAINERS = {"mov": "MP4", "matroska": "Matroska", "wav": "WAV", "ogg": "Ogg", "mp3": "MP3"}
CARD_MIME = "application/x-tamarind-card"


class Card(QFrame):
    """Click selects, double-click opens Proof, dragging changes the order."""

    chosen = Signal(int, object)
    opened = Signal(int)
    speakers_asked = Signal(int)
    menu_asked = Signal(int, object)
    move_asked = Signal(int, int)
    listened = Signal(int, int)
    part_chosen = Signal(int, int, object)

    def __init__(self, session: Session, recording: Recording) -> None:
        super().__init__()
        self.id = recording.id
        self._session = session
        self._shown: tuple[object, ...] = ()
        self._pressed: QPointF | None = None
        self._is_chosen: bool | None = None
        self._is_small = False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setObjectName("card")
        self._name = ElidedLabel(recording.path.name, "card")
        self._stage = label("", "stage")
        self._make_up = ElidedLabel("", "note")
        self._detail = ElidedLabel("", "note")
        self._detail.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        for line in (self._make_up, self._detail):
            line.setMinimumHeight(24)
        self.act = button("", self._do_act, "link")
        self.answers = [
            button(
                "",
                partial(self._answer, n),
                "link",
                name=f"Question: {recording.path.name}",
            )
            for n in range(2)
        ]
        self._cancel = button(
            "Cancel",
            lambda: session.queue.cancel(recording.id),
            "link",
            name=f"Cancel: {recording.path.name}",
        )
        self.sound = CardSound(session, recording.id)
        self.sound.listened.connect(lambda time: self.listened.emit(self.id, time))
        self.sound.part_chosen.connect(lambda a, b: self.part_chosen.emit(self.id, a, b))
        self._lay_out()
        self.set_chosen(False)
        self.refresh()

    def _lay_out(self) -> None:
        """Place the name, the state and the waveform."""
        top, second = QHBoxLayout(), QHBoxLayout()
        self._top, self._second = top, second
        top.setSpacing(12)
        second.setSpacing(12)
        top.addWidget(self._name, 1)
        top.addWidget(self._stage)
        second.addWidget(self._make_up, 2)
        second.addWidget(self._detail, 3)
        for act in self._acts():
            second.addWidget(act)
        column = QVBoxLayout(self)
        self._column = column
        column.setContentsMargins(18, 9, 18, 9)
        column.setSpacing(3)
        column.addLayout(top)
        column.addLayout(second)
        column.addWidget(self.sound)

    def set_small(self, small: bool) -> None:
        """Show one line with name, progress and action, or the whole card."""
        if small == self._is_small:
            return
        self._is_small = small
        for part in (self._make_up, self.sound):
            part.setVisible(not small)
        if small:
            self._top.insertWidget(1, self._detail, 2)
        else:
            self._second.insertWidget(1, self._detail, 3)
        for act in self._acts():
            (self._top if small else self._second).addWidget(act)
        edge = 4 if small else 9
        self._column.setContentsMargins(18, edge, 18, edge)
        self._shown = ()
        self.refresh()

    def set_chosen(self, chosen: bool) -> None:
        """Show whether the card is selected."""
        if chosen != self._is_chosen:
            self._is_chosen = chosen
            self.setProperty("chosen", chosen)
            self.style().polish(self)

    def refresh(self) -> None:
        """Show the recording's current state."""
        recording = self._session.recordings.get(self.id)
        stage = stage_of(self._session, recording)
        hearing = self._session.queue.is_being_heard(self.id)
        tone = "quiet"
        if stage.needs_attention:
            tone = "plum"
        elif hearing:
            tone = "now"
        elif recording.state is State.DRAFT:
            tone = "good"
        act = self._what_to_do()
        queued = recording.state is State.QUEUED
        offers = [words for words, _ in self._questions()]
        shown = (stage, tone, act, queued, offers, make_up(recording, self._session))
        if shown != self._shown:
            self._shown = shown
            self._make_up.set_whole(shown[-1])
            self._make_up.setVisible(recording.info is not None and not self._is_small)
            self._cancel.setVisible(queued)
            self._stage.setText(stage.text)
            if self._stage.property("tone") != tone:
                self._stage.setProperty("tone", tone)
                self._stage.style().polish(self._stage)
            self._detail.set_whole(stage.detail)
            for place, offer in enumerate(self.answers):
                offer.setVisible(place < len(offers))
                offer.setText(offers[place] if place < len(offers) else "")
                offer.setAccessibleName(f"{offer.text() or 'Question'}: {recording.path.name}")
            self.act.setText(act)
            self.act.setAccessibleName(f"{act}: {recording.path.name}")
            self.act.setVisible(bool(act))
            self.setAccessibleName(f"{recording.path.name}, {stage.text}, {stage.detail}")
        self.sound.update()

    def _acts(self) -> list[QPushButton]:
        return [*self.answers, self._cancel, self.act]

    def _questions(self) -> list[tuple[str, Callable[[], None]]]:
        """Return what a person is asked about language or speakers, and what each answer does."""
        queue, recording = self._session.queue, self._session.recordings.get(self.id)
        guesses = recording.guesses
        language = recording.how.language
        if speaks_against(guesses, *recording.how.languages):
            return [
                (f"Transcribe in {name_of(guesses[0].language)}",
                 partial(queue.hear_in, self.id, guesses[0].language)),
                (f"Keep {name_of(recording.language)}", partial(queue.keep_language, self.id)),
            ]  # fmt: skip
        if len(guesses) > 1 and not is_sure(guesses) and guesses[0].language == language:
            return [
                (f"Keep {name_of(language)}", partial(queue.keep_language, self.id)),
                (f"Transcribe in {name_of(guesses[1].language)}",
                 partial(queue.hear_in, self.id, guesses[1].language)),
            ]  # fmt: skip
        perhaps = self._session.speakers_again.perhaps(self.id)
        if perhaps:
            noun = "1 speaker" if perhaps == 1 else f"{perhaps} speakers"
            return [(f"Perhaps {noun}…", partial(self.speakers_asked.emit, self.id))]
        return []

    def _answer(self, place: int) -> None:
        answers = self._questions()
        if place < len(answers):
            answers[place][1]()

    def _what_to_do(self) -> str:
        state = self._session.recordings.get(self.id).state
        if self._session.texts.transcript(self.id).cues:
            return "Proof"
        return "Try again" if state is State.FAILED else ""

    def _do_act(self) -> None:
        act = self._what_to_do()
        if act == "Try again":
            self._session.queue.look_again(self.id)
        elif act:
            self.opened.emit(self.id)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Select the card; with Ctrl or Shift also others."""
        if event.button() == Qt.MouseButton.LeftButton:
            self._pressed = event.position()
            self.chosen.emit(self.id, event.modifiers())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the card to another place."""
        if self._pressed is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        way = (event.position() - self._pressed).manhattanLength()
        if way < 2 * QApplication.startDragDistance():
            return
        self._pressed = None
        drag = QDrag(self)
        data = QMimeData()
        data.setData(CARD_MIME, str(self.id).encode())
        drag.setMimeData(data)
        picture = self.grab().scaledToWidth(
            self.width() // 2, Qt.TransformationMode.SmoothTransformation
        )
        drag.setPixmap(picture)
        drag.exec(Qt.DropAction.MoveAction)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Open the recording in Proof."""
        self.opened.emit(self.id)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """Show the card's menu."""
        self.menu_asked.emit(self.id, event.globalPos())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Select with Space, open with Enter, show the menu with the menu key, move with Shift and
        an arrow."""
        moves = (event.key() == Qt.Key.Key_Down) - (event.key() == Qt.Key.Key_Up)
        if event.key() == Qt.Key.Key_Space:
            self.chosen.emit(self.id, Qt.KeyboardModifier.ControlModifier)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self.id)
        elif moves and event.modifiers() == Qt.KeyboardModifier.ShiftModifier:
            self.move_asked.emit(self.id, moves)
        elif moves:
            self.focusNextPrevChild(moves > 0)
        else:
            super().keyPressEvent(event)


def make_up(recording: Recording, session: Session) -> str:
    """Return length, channels, picture and voices as far as known, and settings that differ."""
    info = recording.info
    if info is None:
        return ""
    parts = [
        clock(recording.duration, 0, hours=False),
        _CONTAINERS.get(info.container, info.container),
    ]
    parts.append({1: "mono", 2: "stereo"}.get(info.channels, f"{info.channels} channels"))
    if info.picture:
        parts.append(f"picture {info.picture[0]}×{info.picture[1]}")
    if info.sound_tracks > 1:
        parts.append(f"track {recording.how.source.track + 1} of {info.sound_tracks}")
    parts += filter(None, [level_in_words(info)])
    voices = len(session.texts.transcript(recording.id).speakers)
    if voices:
        parts.append("1 speaker" if voices == 1 else f"{voices} speakers")
    if recording.guesses and recording.guesses[0].language == recording.language:
        parts.append(f"sounds like {recording.guesses[0]}")
    parts += differences(recording, *session.usual(), session.styles.of(recording).name)
    twin = session.recordings.twin_of(recording)
    if twin is not None:
        parts.append(f"the same as {twin.path.name}")
    return " · ".join(parts)
