"""A recording's card in Intake: its name, its state, and its sound, filling as it is heard."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QContextMenuEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.desktop.widgets.waveform import draw_sound
from tamarind.desktop.words import stage_of
from tamarind.formats.timecode import clock
from tamarind.job.recording import Recording, State


class _Sound(QWidget):
    """A recording's waveform: what has been heard in leaf, the rest in grey."""

    def __init__(self, session: Session, recording_id: int) -> None:
        super().__init__()
        self._session, self._id = session, recording_id
        self.setFixedHeight(46)

    def paintEvent(self, event: QPaintEvent) -> None:
        """A dashed line where there is no sound to show."""
        painter = QPainter(self)
        area = QRectF(self.rect())
        recording = self._session.recording(self._id)
        peaks = self._session.peaks(self._id)
        if peaks is None or not recording.duration:
            painter.setPen(QPen(QColor(colours.SOUND), 1, Qt.PenStyle.DashLine))
            painter.drawLine(
                QPointF(0, area.center().y()), QPointF(area.right(), area.center().y())
            )
            return
        span = (0, recording.duration)
        draw_sound(painter, area, peaks, span, colours.SOUND)
        start, until = heard_span(self._session, recording)
        if until > start:
            scale = area.width() / recording.duration
            heard = QRectF(start * scale, 0, (until - start) * scale, area.height())
            painter.setClipRect(heard)
            painter.fillRect(heard, QColor(colours.SHEET))
            draw_sound(painter, area, peaks, span, colours.LEAF)
            painter.setClipping(False)
            if recording.state in (State.QUEUED, State.STOPPED):
                painter.setPen(QPen(QColor(colours.PULP), 2))
                painter.drawLine(QPointF(heard.right(), 0), QPointF(heard.right(), area.height()))
        if recording.part != (0, None):
            self._draw_part(painter, area, recording)
        painter.end()

    def _draw_part(self, painter: QPainter, area: QRectF, recording: Recording) -> None:
        """What lies outside the part to hear is veiled, with a bracket at each end."""
        scale = area.width() / recording.duration
        left, right = recording.part[0] * scale, recording.part_end * scale
        veil = QColor(colours.SHEET)
        veil.setAlpha(170)
        painter.fillRect(QRectF(0, 0, left, area.height()), veil)
        painter.fillRect(QRectF(right, 0, area.width() - right, area.height()), veil)
        painter.setPen(QPen(QColor(colours.BARK), 2))
        for x, inward in ((left, 6), (right - 1, -6)):
            painter.drawLine(QPointF(x, 0), QPointF(x, area.height()))
            painter.drawLine(QPointF(x, 1), QPointF(x + inward, 1))
            painter.drawLine(QPointF(x, area.height() - 1), QPointF(x + inward, area.height() - 1))


def heard_span(session: Session, recording: Recording) -> tuple[int, int]:
    """What of a recording has been heard, in ms; the news of the moment counts."""
    start = recording.part[0]
    if recording.state is State.DRAFT and session.transcript(recording.id).cues:
        return start, recording.part_end
    news = session.progress(recording.id)
    return start, news[0].until if news else recording.heard_until


class Card(QFrame):
    """Click to choose, double-click to proof."""

    chosen = Signal(int, bool)
    opened = Signal(int)
    menu_asked = Signal(int, object)

    def __init__(self, session: Session, recording: Recording) -> None:
        super().__init__()
        self.id = recording.id
        self._session = session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setObjectName("card")
        self._name = ElidedLabel(recording.path.name)
        self._name.setStyleSheet("font-size: 16px; font-weight: 500;")
        self._stage = label("")
        self._make_up = ElidedLabel("", "note")
        self._detail = ElidedLabel("", "note")
        self._detail.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._act = button("", self._do_act, "link")
        self._sound = _Sound(session, recording.id)
        top, second = QHBoxLayout(), QHBoxLayout()
        second.setSpacing(12)
        top.addWidget(self._name, 1)
        top.addWidget(self._stage)
        second.addWidget(self._make_up, 2)
        second.addWidget(self._detail, 3)
        second.addWidget(self._act)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 9, 18, 9)
        column.setSpacing(3)
        column.addLayout(top)
        column.addLayout(second)
        column.addWidget(self._sound)
        self.set_chosen(False)
        self.refresh()

    def set_chosen(self, chosen: bool) -> None:
        """Show whether the settings on the right are for it."""
        edge = f"2px solid {colours.LEAF}" if chosen else f"1px solid {colours.LINE}"
        margin = 0 if chosen else 1
        self.setStyleSheet(
            f"#card {{ background: {colours.SHEET}; border: {edge}; border-radius: 10px;"
            f" padding: {margin}px; }} #card:focus {{ border-color: {colours.PULP}; }}"
        )

    def refresh(self) -> None:
        """The recording's state as it is now."""
        recording = self._session.recording(self.id)
        stage = stage_of(self._session, recording)
        self._make_up.set_whole(make_up(recording, self._session))
        self._stage.setText(stage.text)
        good = recording.state is State.DRAFT and not stage.is_plum
        hearing = self._session.is_being_heard(self.id)
        colour = colours.GREY
        if stage.is_plum:
            colour = colours.PLUM
        elif hearing:
            colour = colours.PULP
        elif good:
            colour = colours.LEAF_TEXT
        self._stage.setStyleSheet(f"font-size: 15px; font-weight: 600; color: {colour};")
        self._detail.set_whole(stage.detail)
        act = self._what_to_do()
        self._act.setText(act)
        self._act.setAccessibleName(f"{act}: {recording.path.name}")
        self._act.setVisible(bool(act))
        self.setAccessibleName(f"{recording.path.name}, {stage.text}, {stage.detail}")
        self._sound.update()

    def _what_to_do(self) -> str:
        state = self._session.recording(self.id).state
        if state is State.QUEUED:
            return "cancel"
        if self._session.transcript(self.id).cues:
            return "open to proof"
        return "try again" if state is State.FAILED else ""

    def _do_act(self) -> None:
        act = self._what_to_do()
        if act == "cancel":
            self._session.cancel(self.id)
        elif act == "try again":
            self._session.look_again(self.id)
        elif act:
            self.opened.emit(self.id)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose it; with Ctrl also others."""
        if event.button() == Qt.MouseButton.LeftButton:
            adding = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            self.chosen.emit(self.id, adding)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Open it to proof."""
        self.opened.emit(self.id)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """What else can be done with it."""
        self.chosen.emit(self.id, False)
        self.menu_asked.emit(self.id, event.globalPos())

    def keyPressEvent(self, event: object) -> None:
        """Space chooses, Enter opens, the menu key asks."""
        if event.key() == Qt.Key.Key_Space:
            self.chosen.emit(self.id, True)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self.id)
        else:
            super().keyPressEvent(event)


def make_up(recording: Recording, session: Session) -> str:
    """Length, channels, picture and voices, as far as they are known."""
    if recording.info is None:
        return "–"
    info = recording.info
    parts = [clock(recording.duration, 0, hours=False)]
    parts.append({1: "mono", 2: "stereo"}.get(info.channels, f"{info.channels} channels"))
    if info.picture:
        parts.append(f"picture {info.picture[0]}×{info.picture[1]}")
    if info.sound_tracks > 1:
        parts.append(f"track 1 of {info.sound_tracks}")
    voices = len(session.transcript(recording.id).speakers)
    if voices:
        parts.append("1 voice" if voices == 1 else f"{voices} voices")
    return " · ".join(parts)
