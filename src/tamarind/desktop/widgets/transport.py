"""The transport at the foot of every page: the whole recording as a strip, and the controls of
playback."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QSlider, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.audio.peaks import Peaks
from tamarind.desktop.player import Player
from tamarind.desktop.theme import colours
from tamarind.desktop.theme.icons import icon
from tamarind.desktop.widgets.hints import set_hint, set_tip
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.desktop.widgets.waveform import BAR, draw_heights, shares
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript

ROOM_FOR_HINTS = 1180
MOST_DOUBTS = 6_000
"""Of more than these, one of each cue is marked: they are nearer to each other than a pixel."""


class Overview(QWidget):
    """The whole recording: what is proofed, where the doubts are, and the playhead."""

    sought = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(50)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("The whole recording")
        self._peaks: Peaks | None = None
        self._transcript = Transcript("en")
        self._doubts: Sequence[int] = ()
        self._duration = 0
        self._position = 0
        self._drawn: QPixmap | None = None
        self._marks: list[int] = []
        self._listened: Sequence[tuple[int, int]] = ()
        self.setToolTip(
            "Green: proofed. Plum: uncertain words. The line at the foot: listened to. A"
            " click goes there."
        )

    def show_marks(self, times: list[int]) -> None:
        """Show the matches of a search (ms)."""
        self._marks = times
        self._drawn = None
        self.update()

    def show_sound(
        self,
        peaks: Peaks | None,
        transcript: Transcript,
        doubts: Sequence[int],
        duration: int,
        listened: Sequence[tuple[int, int]] = (),
    ) -> None:
        """Show another recording or state of its text; ``doubts`` are times (ms), ``listened`` what
        a person has listened to (from, to, in ms)."""
        self._listened = listened
        self._peaks, self._transcript, self._duration = peaks, transcript, duration
        self._doubts = doubts
        self._drawn = None
        self.update()

    def forget_picture(self) -> None:
        """Draw again, as in another theme."""
        self._drawn = None
        self.update()

    def set_position(self, position: int) -> None:
        """Move the playhead."""
        self._position = position
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Draw again."""
        self._drawn = None

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the cached waveform, and the playhead."""
        if self._drawn is None:
            self._drawn = self._draw()
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._drawn)
        if self._duration:
            x = self._position / self._duration * self.width()
            painter.setPen(QPen(QColor(colours.PULP), 2))
            painter.drawLine(QPointF(x, 2), QPointF(x, self.height() - 2))
        painter.end()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Move the playhead there."""
        if self._duration:
            share = min(max(event.position().x() / max(self.width(), 1), 0.0), 1.0)
            self.sought.emit(int(share * self._duration))

    mouseMoveEvent = mousePressEvent

    def _draw(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        picture = QPixmap(self.size() * ratio)
        picture.setDevicePixelRatio(ratio)
        picture.fill(Qt.GlobalColor.transparent)
        if not self._duration:
            return picture
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(0, 2, self.width(), self.height() - 14)
        scale = self.width() / self._duration
        spans = self._proofed()
        for start, end in spans:
            ground = QRectF(start * scale, 0, (end - start) * scale, self.height())
            painter.fillRect(ground, QColor(colours.SHEET))
        count = self.width() // BAR
        if self._peaks is not None and count > 0:
            heights = shares(self._peaks, (0, self._duration), count)
            proofed = np.zeros(count + 1, bool)
            for start, end in spans:
                proofed[int(start * scale / BAR) : int(end * scale / BAR) + 1] = True
            proofed = proofed[:count]
            draw_heights(painter, area, heights, colours.SOUND, where=~proofed)
            draw_heights(painter, area, heights, colours.LEAF, where=proofed)
        painter.setPen(QPen(QColor(colours.PLUM), 2))
        for x in sorted({round(time * scale) for time in self._doubts if time < self._duration}):
            painter.drawLine(QPointF(x, self.height() - 9), QPointF(x, self.height() - 3))
        painter.setPen(QPen(QColor(colours.GREY), 2))
        for start, end in self._listened:
            y = self.height() - 1
            painter.drawLine(QPointF(start * scale, y), QPointF(end * scale, y))
        painter.setPen(QPen(QColor(colours.BARK), 2))
        for time in self._marks:
            painter.drawLine(QPointF(time * scale, 0), QPointF(time * scale, 7))
        painter.end()
        return picture

    def _proofed(self) -> list[tuple[int, int]]:
        spans: list[tuple[int, int]] = []
        for cue in self._transcript.cues:
            if not cue.settled:
                continue
            if spans and cue.start - spans[-1][1] < 1500:
                spans[-1] = (spans[-1][0], cue.end)
            else:
                spans.append((cue.start, cue.end))
        return spans


class Transport(QWidget):
    """Strip, time, play and speed."""

    play_asked = Signal()
    skip_asked = Signal(int)
    sound_asked = Signal()

    def __init__(self, session: Session, player: Player) -> None:
        super().__init__()
        self.setObjectName("transport")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._player = session, player
        self.overview = Overview()
        self._time = label("00:00:00.000", "time")
        self.length = ElidedLabel("", "note")
        self.play_button = button("", self.play_asked.emit, "play", "Play or stop ({play})")
        self.play_button.setAccessibleName("Play or stop")
        self.play_button.setFixedSize(QSize(38, 38))
        self.play_button.setIconSize(QSize(22, 22))
        self.play_button.setIcon(icon("play"))
        self._speed = button("Speed 1.0×", self._next_speed, "plain")
        set_tip(self._speed, "Slower {slower}, faster {faster}")
        self.wants_clean = False
        self.sound = button("As recorded", self.change_sound, "plain")
        set_tip(
            self.sound,
            "Listen to the sound as recorded, or with noise reduction ({clean_sound})",
        )
        self.volume = QSlider(Qt.Orientation.Horizontal)
        self.volume.setRange(0, 100)
        self.volume.setFixedWidth(76)
        self.volume.setAccessibleName("Volume")
        set_tip(self.volume, "Volume: quieter {quieter}, louder {louder}")
        self.volume.setValue(round(100 * player.volume))
        self.volume.valueChanged.connect(lambda value: player.set_volume(value / 100))
        player.volume_changed.connect(lambda volume: self.volume.setValue(round(100 * volume)))
        back = button("−2 s", lambda: self.skip_asked.emit(-2000), "plain", "{back}")
        forward = button("+2 s", lambda: self.skip_asked.emit(2000), "plain", "{forward}")
        self._hints = label("", "note")
        set_hint(self._hints, "Play: {play}    Anything: {anything}")
        for widget in (self.play_button, self._speed, self.sound, self.volume, back, forward):
            widget.setFocusPolicy(Qt.FocusPolicy.TabFocus)

        left, middle, right = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        left.addWidget(self._time)
        left.addWidget(self.length, 1)
        for widget in (back, self.play_button, forward):
            middle.addWidget(widget)
        middle.setSpacing(8)
        right.addWidget(self._speed)
        right.addWidget(self.sound)
        right.addSpacing(6)
        right.addWidget(label("Volume", "note"))
        right.addWidget(self.volume)
        right.addStretch(1)
        right.addWidget(self._hints)
        self._lay_out(player, left, middle, right)

    def _lay_out(
        self, player: Player, left: QHBoxLayout, middle: QHBoxLayout, right: QHBoxLayout
    ) -> None:
        """Place the controls in a row."""
        row = QHBoxLayout()
        row.setContentsMargins(20, 0, 20, 8)
        row.addLayout(left, 1)
        row.addLayout(middle)
        row.addLayout(right, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(2)
        strip = QHBoxLayout()
        strip.setContentsMargins(16, 0, 16, 0)
        strip.addWidget(self.overview)
        column.addLayout(strip)
        column.addLayout(row)

        self.overview.sought.connect(player.seek)
        player.moved.connect(self._moved)
        player.playing_changed.connect(
            lambda playing: self.play_button.setIcon(icon("stop" if playing else "play"))
        )
        player.speed_changed.connect(lambda speed: self._speed.setText(f"Speed {speed:.1f}×"))
        self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Show the keys where there is room for them."""
        self._hints.setVisible(self.width() >= ROOM_FOR_HINTS)
        super().resizeEvent(event)

    def change_sound(self) -> None:
        """Switch between the recorded and the cleaned sound."""
        self.wants_clean = not self.wants_clean
        self.sound_asked.emit()

    def show_sound(self, is_clean: bool) -> None:
        """Show which sound is played."""
        waits = self.wants_clean and not is_clean
        self.sound.setText("Cleaning…" if waits else "Cleaned" if is_clean else "As recorded")

    def restyle(self) -> None:
        """Take the colours of another theme."""
        self.overview.forget_picture()

    def refresh(self) -> None:
        """Show the current recording, sound and text."""
        recording = self._session.shown_recording()
        self.play_button.setEnabled(recording is not None and recording.duration > 0)
        if recording is None:
            self.overview.show_sound(None, Transcript("en"), [], 0)
            self.length.set_whole("no recording yet")
            return
        transcript = self._session.texts.transcript(recording.id)
        peaks = self._session.sounds.peaks(recording.id)
        doubts = self._session.survey(recording.id).doubt_times(MOST_DOUBTS)
        self.overview.show_sound(peaks, transcript, doubts, recording.duration, recording.listened)
        length = clock(recording.duration, 0, hours=False)
        self.length.set_whole(f"of {length} · {recording.name}")

    def _moved(self, position: int) -> None:
        self._time.setText(clock(position))
        self.overview.set_position(position)

    def _next_speed(self) -> None:
        steps = (0.6, 0.8, 1.0, 1.2, 1.5)
        later = [step for step in steps if step > self._player.speed + 0.01]
        self._player.set_speed(later[0] if later else steps[0])
