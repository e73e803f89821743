"""The sound margin: each line's own sound beside it, and where sound and text do not agree."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap

from tamarind.audio.peaks import PEAK_MS, Peaks
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.waveform import draw_sound, loudness
from tamarind.transcript.model import Cue, Word

STRIP_LEFT, STRIP_WIDTH = 104, 38
_LEFT, _WIDTH = STRIP_LEFT - 10, STRIP_WIDTH + 20
MOST_PICTURES = 200
SILENT_SHARE = 0.03
"""A word whose sound stays below this share of the loudest has no sound to speak of."""


@dataclass(frozen=True, slots=True)
class Band:
    """A line of text: from ``top`` to ``bottom`` on the viewport, from ``start`` to ``stop`` ms."""

    top: float
    bottom: float
    start: int
    stop: int

    def time_at(self, y: float) -> int:
        """The time at a height."""
        share = (y - self.top) / max(self.bottom - self.top, 1)
        return round(self.start + min(max(share, 0.0), 1.0) * (self.stop - self.start))

    def y_at(self, time: int) -> float:
        """The height at a time."""
        share = (time - self.start) / max(self.stop - self.start, 1)
        return self.top + min(max(share, 0.0), 1.0) * (self.bottom - self.top)


class Margin:
    """Draws beside the bands of a row; knows the recording's sound."""

    def __init__(self) -> None:
        self._peaks: Peaks | None = None
        self._loudest = 1.0
        self._unheard: tuple[tuple[int, int], ...] = ()
        self._pictures: dict[int, tuple[tuple[object, ...], QPixmap]] = {}

    def set_sound(self, peaks: Peaks | None, unheard: tuple[tuple[int, int], ...]) -> None:
        """Another sound, and where in it somebody speaks and no text came."""
        self._peaks, self._unheard = peaks, unheard
        self._loudest = loudness(peaks) if peaks is not None else 1.0
        self._pictures.clear()

    def paint(
        self,
        painter: QPainter,
        row: int,
        bands: Sequence[Band],
        cues: Sequence[Cue],
        ratio: float,
    ) -> None:
        """A row's picture, drawn anew only when something of it has changed.

        ``ratio`` is that of the screen's pixels to those of the window.
        """
        top = bands[0].top
        own = [Band(band.top - top, band.bottom - top, band.start, band.stop) for band in bands]
        key = (own, cues, ratio, colours.PAPER)
        known = self._pictures.get(row)
        if known is None or known[0] != key:
            picture = QPixmap(round(_WIDTH * ratio), round((own[-1].bottom + 2) * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            inside = QPainter(picture)
            inside.setRenderHint(QPainter.RenderHint.Antialiasing)
            inside.translate(-_LEFT, 0)
            self._draw(inside, own, cues)
            inside.end()
            if len(self._pictures) >= MOST_PICTURES:
                self._pictures.clear()
            known = self._pictures[row] = (key, picture)
        painter.drawPixmap(QPointF(_LEFT, top), known[1])

    def _draw(self, painter: QPainter, bands: Sequence[Band], cues: Sequence[Cue]) -> None:
        """The level of each line; a line beside it where it has words, dotted where they have no
        sound, plum where there is speech without words."""
        for band in bands:
            strip = QRectF(STRIP_LEFT, band.top, STRIP_WIDTH, band.bottom - band.top)
            settled = all(cue.settled for cue in cues if _touches(cue, band))
            colour = colours.LEAF if settled else colours.SOUND
            span = (band.start, band.stop)
            draw_sound(painter, strip, self._peaks, span, colour, True, self._loudest)
        for cue in cues:
            for first, last, silent in self._stretches(cue):
                style = Qt.PenStyle.DotLine if silent else Qt.PenStyle.SolidLine
                colour = colours.PLUM if silent else colours.LEAF
                pen = QPen(QColor(colour), 2 if silent else 1, style)
                _line(painter, bands, first, last, STRIP_LEFT - 5, pen)
        plum = QPen(QColor(colours.PLUM), 3)
        for first, last in self._unheard:
            _line(painter, bands, first, last, STRIP_LEFT - 5, plum)

    def paint_playhead(self, painter: QPainter, bands: Sequence[Band], time: int) -> None:
        """The playhead slides down the strip."""
        band = next((band for band in bands if time < band.stop), bands[-1])
        y = band.y_at(time)
        right = STRIP_LEFT + STRIP_WIDTH + 6
        painter.setPen(QPen(QColor(colours.PULP), 2))
        painter.drawLine(QPointF(STRIP_LEFT - 4, y), QPointF(right, y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.PULP))
        painter.drawEllipse(QPointF(right, y), 4, 4)

    def told_at(self, time: int, cues: Sequence[Cue]) -> str:
        """What does not agree at a time, in words."""
        if any(start <= time < end for start, end in self._unheard):
            return "   speech without text"
        words = (word for cue in cues for word in cue.words)
        word = next((word for word in words if word.start <= time < word.end), None)
        if word is None:
            return ""
        return f"   {word.text}" + ("   text without sound" if self._is_silent(word) else "")

    def _stretches(self, cue: Cue) -> list[tuple[int, int, bool]]:
        """Runs of words: from, to (ms), and whether they have no sound."""
        runs: list[tuple[int, int, bool]] = []
        for word in cue.words:
            silent = self._is_silent(word)
            if runs and runs[-1][2] == silent and word.start - runs[-1][1] < 200:
                runs[-1] = (runs[-1][0], word.end, silent)
            else:
                runs.append((word.start, word.end, silent))
        return runs

    def _is_silent(self, word: Word) -> bool:
        if self._peaks is None:
            return False
        first = word.start // PEAK_MS
        part = self._peaks[first : max(word.end // PEAK_MS, first + 1)]
        return len(part) > 0 and float(np.max(part)) < SILENT_SHARE * self._loudest


def _touches(cue: Cue, band: Band) -> bool:
    return cue.start < band.stop and cue.end > band.start


def _line(
    painter: QPainter, bands: Sequence[Band], first: int, last: int, x: float, pen: QPen
) -> None:
    """An upright line beside a time, in every band that it touches."""
    painter.setPen(pen)
    for band in bands:
        if first < band.stop and last > band.start:
            top, bottom = band.y_at(max(first, band.start)), band.y_at(min(last, band.stop))
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))
