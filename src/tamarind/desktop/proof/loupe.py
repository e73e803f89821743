"""The loupe: one cue's waveform enlarged, with edges of cue and words moved by mouse or key."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.audio.peaks import PEAK_MS, Peaks
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.waveform import draw_sound
from tamarind.formats.timecode import clock
from tamarind.transcript import timing
from tamarind.transcript.edits import with_cues
from tamarind.transcript.model import Cue, Transcript

HEIGHT = 168
AROUND_MS = 700
NEAR_PX = 7
SNAP_PX = 9
LEAST_WORD_PX = 20
ZOOM_STEP, MOST_ZOOM = 1.6, 12.0
STEP_MS = 10
_RULER, _SOUND, _WORDS, _HINT = 20, 84, 28, 24
_QUIET_SHARE = 0.12
"""Between the quietest and the loudest of what is shown: less than this is no speech."""


@dataclass(frozen=True, slots=True)
class Edge:
    """An edge that can be moved: the cue's ``start`` or ``end`` where ``word`` is None, else a
    word's; the ``border`` of a word is also the end of the one before it."""

    kind: str
    word: int | None
    time: int


class Loupe(QWidget):
    """Each move edits the text at once; one drag is one step of undo."""

    closed = Signal()
    play_asked = Signal(int, int)
    cue_asked = Signal(int)

    def __init__(self, session: Session, recording_id: int, place: int) -> None:
        super().__init__()
        self._session, self._id, self._place = session, recording_id, place
        self.setFixedHeight(HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Loupe")
        self._chosen = 0
        self._held: tuple[Edge, Cue] | None = None
        self._playhead = 0
        self._span = (0, 1)
        self._zoom = 1.0
        self._look()
        self._tell()

    @property
    def cue(self) -> Cue:
        """The cue as it is now."""
        return self._text().cues[self._place]

    @property
    def span(self) -> tuple[int, int]:
        """The times (ms) between which sound is shown."""
        return self._span

    def show_cue(self, place: int) -> None:
        """Show another cue, or the same one after its times have changed."""
        if place != self._place:
            self._place, self._chosen, self._zoom = place, 0, 1.0
        if self._held is None:
            self._look()
        self._chosen = min(self._chosen, len(self.edges()) - 1)
        self._tell()
        self.update()

    def set_playhead(self, time: int) -> None:
        """Move the playhead."""
        if self._span[0] <= time <= self._span[1] or self._span[0] <= self._playhead:
            self._playhead = time
            self.update()

    def edges(self) -> list[Edge]:
        """Return all edges, in order."""
        cue = self.cue
        found = [Edge("start", None, cue.start)]
        for place, word in enumerate(cue.words):
            before = cue.words[place - 1] if place else None
            if before is not None and before.end == word.start:
                found.append(Edge("border", place, word.start))
            else:
                if before is not None:
                    found.append(Edge("end", place - 1, before.end))
                found.append(Edge("start", place, word.start))
        if cue.words:
            found.append(Edge("end", len(cue.words) - 1, cue.words[-1].end))
        return [*found, Edge("end", None, cue.end)]

    def move_edge(
        self, edge: Edge, time: int, overlap: bool = False, base: Cue | None = None
    ) -> None:
        """Move an edge as near to a time as there is room; ``base`` is the cue to start from."""
        text = self._text()
        if base is not None:
            text = with_cues(text, self._place, self._place + 1, base)
        cue = text.cues[self._place]
        if edge.word is None:
            start, end = (time, cue.end) if edge.kind == "start" else (cue.start, time)
            new = timing.set_times(text, self._place, start, end, overlap=overlap)
        elif edge.kind == "border":
            new = timing.set_border(text, self._place, edge.word, time)
        else:
            word = cue.words[edge.word]
            start, end = (time, word.end) if edge.kind == "start" else (word.start, time)
            start, end = (min(start, word.end - 1), max(end, word.start + 1))
            new = timing.set_word_times(text, self._place, edge.word, start, end)
        if new.cues[self._place] != self.cue:
            self._session.texts.edit(
                self._id, "times in the loupe", new, f"loupe {cue.id} {edge.word}"
            )

    def snapped(self, time: int) -> int:
        """Return the nearest place to snap to: where speech starts or stops, or the edge of a
        neighbouring cue; the time itself if none is near."""
        reach = SNAP_PX * self._a_pixel()
        cues = self._text().cues
        near = [*cues[max(self._place - 1, 0) : self._place], *cues[self._place + 1 :][:1]]
        places = [edge for cue in near for edge in (cue.start, cue.end)] + self.speech_edges()
        best = min(places, key=lambda place: abs(place - time), default=time)
        return best if abs(best - time) <= reach else time

    # Painting

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint ruler, waveform, words and edges."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(colours.LINE), 1))
        painter.setBrush(QColor(colours.SAND))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 8, 8)
        cue = self.cue
        sound = QRectF(0, _RULER, self.width(), _SOUND)
        own = QRectF(self.x_at(cue.start), _RULER, 0, _SOUND + _WORDS)
        own.setRight(self.x_at(cue.end))
        painter.fillRect(own, QColor(colours.CARD))
        self._paint_ruler(painter)
        peaks = self._session.sounds.peaks(self._id)
        for area, colour in ((sound, colours.SOUND), (own, colours.LEAF)):
            painter.save()
            painter.setClipRect(area)
            draw_sound(painter, sound, peaks, self._span, colour, loudest=self._loudest())
            painter.restore()
        if peaks is None:
            painter.setPen(QColor(colours.GREY))
            painter.drawText(sound, Qt.AlignmentFlag.AlignCenter, "the sound is being decoded")
        self._paint_words(painter)
        self._paint_edges(painter, own)
        if self._span[0] <= self._playhead <= self._span[1]:
            x = self.x_at(self._playhead)
            painter.setPen(QPen(QColor(colours.PULP), 1.5, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, _RULER), QPointF(x, _RULER + _SOUND + _WORDS))
        painter.setFont(fonts.interface(12))
        painter.setPen(QColor(colours.GREY))
        foot = QRectF(14, self.height() - _HINT - 4, self.width() - 28, _HINT)
        painter.drawText(
            foot,
            Qt.AlignmentFlag.AlignVCenter,
            "← → choose   ·   Shift ← → move   ·   Ctrl overlaps, Alt does not snap   ·"
            "   ↑ ↓ other cue   ·   + − zoom   ·   Enter play   ·   Esc close",
        )
        painter.end()

    def _paint_ruler(self, painter: QPainter) -> None:
        painter.setFont(fonts.mono(11))
        start, end = self._span
        step = next(s for s in (200, 500, 1000, 2000, 5000, 10_000, 60_000) if s / (end - start)
                    * self.width() > 74)  # fmt: skip
        for time in range(-(-start // step) * step, end, step):
            x = self.x_at(time)
            painter.setPen(QPen(QColor(colours.LINE), 1))
            painter.drawLine(QPointF(x, _RULER - 4), QPointF(x, _RULER + _SOUND))
            painter.setPen(QColor(colours.GREY))
            told = clock(time, 1, hours=False)
            if x + painter.fontMetrics().horizontalAdvance(told) + 8 < self.width():
                painter.drawText(QPointF(x + 4, _RULER - 6), told)

    def _paint_words(self, painter: QPainter) -> None:
        top = _RULER + _SOUND + 3
        cues = self._text().cues
        first, last = max(self._place - 1, 0), min(self._place + 2, len(cues))
        painter.setFont(fonts.text(15))
        metrics = painter.fontMetrics()
        for place in range(first, last):
            own = place == self._place
            for word in cues[place].words:
                if word.end < self._span[0] or word.start > self._span[1]:
                    continue
                area = QRectF(self.x_at(word.start), top, 0, _WORDS - 4)
                area.setRight(self.x_at(word.end))
                if own:
                    painter.setPen(QPen(QColor(colours.LINE), 1))
                    painter.setBrush(QColor(colours.SHEET))
                    painter.drawRoundedRect(area.adjusted(0.5, 0, -0.5, 0), 4, 4)
                painter.setPen(QColor(colours.INK if own else colours.GREY))
                room = int(area.width()) - 4
                if room >= LEAST_WORD_PX:
                    text = metrics.elidedText(word.text, Qt.TextElideMode.ElideRight, room)
                    painter.drawText(area, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_edges(self, painter: QPainter, own: QRectF) -> None:
        edges = self.edges()
        painter.setPen(QPen(QColor(colours.BARK), 2))
        for x in (own.left(), own.right()):
            painter.drawLine(QPointF(x, _RULER), QPointF(x, own.bottom()))
            painter.setBrush(QColor(colours.BARK))
            painter.drawRoundedRect(QRectF(x - 4, _RULER + _SOUND / 2 - 11, 8, 22), 3, 3)
        chosen = edges[min(self._chosen, len(edges) - 1)]
        x = self.x_at(chosen.time)
        painter.setPen(QPen(QColor(colours.PULP), 3))
        top = _RULER if chosen.word is None else _RULER + _SOUND - 6
        painter.drawLine(QPointF(x, top), QPointF(x, own.bottom()))
        painter.setFont(fonts.mono(12))
        text = clock(chosen.time, 3, hours=False)
        width = painter.fontMetrics().horizontalAdvance(text) + 12
        left = min(max(x - width / 2, 4), self.width() - width - 4)
        tag = QRectF(left, _RULER + 4, width, 19)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.PULP))
        painter.drawRoundedRect(tag, 4, 4)
        painter.setPen(QColor(colours.SHEET))
        painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, text)

    # Mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of the nearest edge; anywhere else, play from there."""
        self.setFocus()
        number = self._near(event.position())
        if number is None:
            time = self._time(event.position().x())
            self.play_asked.emit(time, self._span[1])
            return
        self._chosen = number
        self._held = (self.edges()[number], self.cue)
        self._tell()
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Move the edge that is held."""
        if self._held is None:
            near = self._near(event.position()) is not None
            shape = Qt.CursorShape.SplitHCursor if near else Qt.CursorShape.PointingHandCursor
            self.setCursor(shape)
            self.setToolTip(self.word_at(event.position()))
            return
        time = self._time(event.position().x())
        if not event.modifiers() & Qt.KeyboardModifier.AltModifier:
            time = self.snapped(time)
        overlap = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        self.move_edge(self._held[0], time, overlap, self._held[1])
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End the drag, which is one step of undo."""
        if self._held is not None:
            self._held = None
            self._session.texts.close_edit_group()
            self.show_cue(self._place)

    def word_at(self, point: QPointF) -> str:
        """Return the word at a point, since short ones have no room for their letters."""
        time = self._time(point.x())
        return next((word.text for word in self.cue.words if word.start <= time < word.end), "")

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Zoom around the pointer with Ctrl."""
        if not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().wheelEvent(event)
            return
        self.zoom(event.angleDelta().y() > 0, self._time(event.position().x()))
        event.accept()

    def zoom(self, nearer: bool, middle: int | None = None) -> None:
        """Zoom around a time or the selected edge."""
        self._zoom = min(max(self._zoom * (ZOOM_STEP if nearer else 1 / ZOOM_STEP), 1), MOST_ZOOM)
        self._look(self.edges()[self._chosen].time if middle is None else middle)
        self.update()

    def _near(self, point: QPointF) -> int | None:
        """Return the edge at a point: on the waveform the cue's own, below it the words'."""
        on_words = point.y() > _RULER + _SOUND
        best: tuple[float, int] | None = None
        for number, edge in enumerate(self.edges()):
            if (edge.word is not None) != on_words:
                continue
            distance = abs(self.x_at(edge.time) - point.x())
            if distance <= NEAR_PX and (best is None or distance < best[0]):
                best = distance, number
        return best[1] if best else None

    # Keys

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Select, move and play edges, or go to another cue."""
        key, modifiers = event.key(), event.modifiers()
        sideways = (key == Qt.Key.Key_Right) - (key == Qt.Key.Key_Left)
        if key == Qt.Key.Key_Escape:
            self.closed.emit()
        elif sideways and modifiers & Qt.KeyboardModifier.ShiftModifier:
            edge = self.edges()[self._chosen]
            overlap = bool(modifiers & Qt.KeyboardModifier.ControlModifier)
            self.move_edge(edge, edge.time + sideways * STEP_MS, overlap)
        elif sideways and not modifiers & Qt.KeyboardModifier.AltModifier:
            self._chosen = min(max(self._chosen + sideways, 0), len(self.edges()) - 1)
            self._tell()
            self.update()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not modifiers:
            self.cue_asked.emit(self._place + (1 if key == Qt.Key.Key_Down else -1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not modifiers:
            self.play_asked.emit(self.cue.start, self.cue.end)
        elif event.text() in ("+", "-", "="):
            self.zoom(event.text() != "-")
        else:
            super().keyPressEvent(event)

    # Measures

    def _look(self, middle: int | None = None) -> None:
        """Show all of the cue and a little around it, or zoomed in, with ``middle`` (ms) where it
        was."""
        cue = self.cue
        whole = (max(cue.start - AROUND_MS, 0), cue.end + AROUND_MS)
        if self._zoom <= 1:
            self._span = whole
            return
        if middle is None:
            middle = (self._span[0] + self._span[1]) // 2
        length = round((whole[1] - whole[0]) / self._zoom)
        before = (middle - self._span[0]) / max(self._span[1] - self._span[0], 1)
        start = round(middle - min(max(before, 0.0), 1.0) * length)
        start = min(max(start, whole[0]), whole[1] - length)
        self._span = (start, start + length)

    def _text(self) -> Transcript:
        return self._session.texts.transcript(self._id)

    def x_at(self, time: int) -> float:
        """Return the x (px) of a time."""
        start, end = self._span
        return (time - start) / (end - start) * self.width()

    def _time(self, x: float) -> int:
        start, end = self._span
        return round(start + x / max(self.width(), 1) * (end - start))

    def _a_pixel(self) -> float:
        return (self._span[1] - self._span[0]) / max(self.width(), 1)

    def _part(self) -> Peaks:
        peaks = self._session.sounds.peaks(self._id)
        if peaks is None:
            return np.zeros(0, np.float16)
        return peaks[self._span[0] // PEAK_MS : self._span[1] // PEAK_MS]

    def _loudest(self) -> float:
        part = self._part()
        return max(float(part.max()), 0.02) if len(part) else 1.0

    def speech_edges(self) -> list[int]:
        """Return where the sound rises from quiet or falls back to it, for at least 50 ms."""
        part = self._part().astype(np.float32)
        if len(part) < 10:
            return []
        level = np.convolve(part, np.ones(5, np.float32) / 5, "same")
        low, high = np.quantile(level, 0.05), level.max()
        loud = level > low + _QUIET_SHARE * (high - low)
        places = np.flatnonzero(np.diff(loud.astype(np.int8))) + 1
        return [int(place) * PEAK_MS + self._span[0] // PEAK_MS * PEAK_MS for place in places]

    def _tell(self) -> None:
        """Tell screen readers which edge is selected."""
        edge = self.edges()[min(self._chosen, len(self.edges()) - 1)]
        what = "the cue" if edge.word is None else f"“{self.cue.words[edge.word].text}”"
        kind = "start" if edge.kind == "border" else edge.kind
        time = clock(edge.time, 3, hours=False)
        self.setAccessibleDescription(f"{kind} of {what}, {time}")
