"""The sound margin: the waveform of each line beside it, and where sound and text disagree."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QTextLayout

from tamarind.audio.peaks import PEAK_MS, Peaks
from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.waveform import draw_sound, loudness
from tamarind.transcript.model import Cue, Word

STRIP_LEFT, STRIP_WIDTH = 104, 38
MOST_KNOWN = 600
JOINED_MS = 200
SILENT_SHARE = 0.03
"""A word whose sound stays below this share of the loudest has no sound to speak of."""


_Line = tuple[int, int, str]
"""From when to when (ms) something is marked beside the sound, and what."""


@dataclass(frozen=True, slots=True)
class Band:
    """A line of text: from ``top`` to ``bottom`` in the viewport, from ``start`` to ``stop``
    (ms)."""

    top: float
    bottom: float
    start: int
    stop: int

    def time_at(self, y: float) -> int:
        """Return the time at a height."""
        share = (y - self.top) / max(self.bottom - self.top, 1)
        return round(self.start + min(max(share, 0.0), 1.0) * (self.stop - self.start))

    def y_at(self, time: int) -> float:
        """Return the height at a time."""
        share = (time - self.start) / max(self.stop - self.start, 1)
        return self.top + min(max(share, 0.0), 1.0) * (self.bottom - self.top)


def bands_of(
    layout: QTextLayout, text: QRectF, starts: Mapping[int, int], first: int, end: int
) -> list[Band]:
    """Return the time span of each line of a text that fills ``text`` in the viewport.

    ``starts`` has when words begin (ms) by where they begin in the text; all of it is said from
    ``first`` to ``end``.
    """
    edges: list[tuple[float, int]] = [(text.top(), first)]
    for number in range(1, layout.lineCount()):
        line = layout.lineAt(number)
        begins = line.textStart()
        time = next((starts[at] for at in range(begins, begins + 2) if at in starts), None)
        if time is not None and time > edges[-1][1]:
            edges.append((text.top() + line.y(), time))
    edges.append((text.bottom(), max(end, edges[-1][1] + 1)))
    return [Band(top, bottom, start, stop) for (top, start), (bottom, stop) in pairwise(edges)]


def is_in_margin(x: float) -> bool:
    """Whether the strip is at an x."""
    return STRIP_LEFT - 6 <= x <= STRIP_LEFT + STRIP_WIDTH + 8


class Margin:
    """Paints beside the bands of a row; knows the recording's sound."""

    def __init__(self) -> None:
        self.version = 0
        """Another number for every sound."""
        self._peaks: Peaks | None = None
        self._loudest = 1.0
        self._unheard: tuple[tuple[int, int], ...] = ()
        self._known: dict[int, tuple[tuple[Word, ...], tuple[_Line, ...]]] = {}

    def set_sound(self, peaks: Peaks | None, unheard: tuple[tuple[int, int], ...]) -> None:
        """Set the sound, and where in it somebody speaks without text."""
        self.version += 1
        self._peaks, self._unheard = peaks, unheard
        self._loudest = loudness(peaks) if peaks is not None else 1.0
        self._known.clear()

    def paint(self, painter: QPainter, bands: Sequence[Band], cues: Sequence[Cue]) -> None:
        """Paint the level of each line; beside it a thin line where it has words, dotted where
        these have no sound, plum where there is speech without words."""
        lines = self._lines(cues)
        pens = {
            "said": QPen(QColor(colours.LEAF), 1),
            "silent": QPen(QColor(colours.PLUM), 2, Qt.PenStyle.DotLine),
            "unheard": QPen(QColor(colours.PLUM), 3),
        }
        seen = painter.clipBoundingRect() if painter.hasClipping() else None
        for band in bands:
            if seen is not None and (band.top > seen.bottom() or band.bottom < seen.top()):
                continue
            settled = all(cue.settled for cue in cues if _touches(cue, band))
            colour = colours.LEAF if settled else colours.SOUND
            strip = QRectF(STRIP_LEFT, band.top, STRIP_WIDTH, band.bottom - band.top)
            span = (band.start, band.stop)
            draw_sound(painter, strip, self._peaks, span, colour, True, self._loudest)
            for first, last, kind in lines:
                if first < band.stop and last > band.start:
                    painter.setPen(pens[kind])
                    top, bottom = band.y_at(max(first, band.start)), band.y_at(min(last, band.stop))
                    painter.drawLine(QPointF(STRIP_LEFT - 5, top), QPointF(STRIP_LEFT - 5, bottom))

    def _lines(self, cues: Sequence[Cue]) -> list[_Line]:
        """Return the lines to mark beside the sound of some cues."""
        lines = [line for cue in cues for line in self._stretches(cue)]
        low, high = cues[0].start, max(cue.end for cue in cues)
        missed = ((start, end) for start, end in self._unheard if start < high and end > low)
        return [*lines, *((start, end, "unheard") for start, end in missed)]

    def paint_playhead(self, painter: QPainter, bands: Sequence[Band], time: int) -> None:
        """Paint the playhead in the strip."""
        band = next((band for band in bands if time < band.stop), bands[-1])
        y = band.y_at(time)
        right = STRIP_LEFT + STRIP_WIDTH + 6
        painter.setPen(QPen(QColor(colours.PULP), 2))
        painter.drawLine(QPointF(STRIP_LEFT - 4, y), QPointF(right, y))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.PULP))
        painter.drawEllipse(QPointF(right, y), 4, 4)

    def told_at(self, time: int, cues: Sequence[Cue]) -> str:
        """Describe what disagrees at a time."""
        if any(start <= time < end for start, end in self._unheard):
            return "   speech without text"
        words = (word for cue in cues for word in cue.words)
        word = next((word for word in words if word.start <= time < word.end), None)
        if word is None:
            return ""
        return f"   {word.text}" + ("   text without sound" if self._is_silent(word) else "")

    def _stretches(self, cue: Cue) -> tuple[_Line, ...]:
        """Yield runs of words that have a sound, or none."""
        known = self._known.get(cue.id)
        if known is not None and known[0] is cue.words:
            return known[1]
        runs: list[_Line] = []
        for word in cue.words:
            kind = "silent" if self._is_silent(word) else "said"
            if runs and runs[-1][2] == kind and word.start - runs[-1][1] < JOINED_MS:
                runs[-1] = (runs[-1][0], word.end, kind)
            else:
                runs.append((word.start, word.end, kind))
        if len(self._known) >= MOST_KNOWN:
            self._known.clear()
        self._known[cue.id] = (cue.words, tuple(runs))
        return self._known[cue.id][1]

    def _is_silent(self, word: Word) -> bool:
        if self._peaks is None:
            return False
        first = word.start // PEAK_MS
        part = self._peaks[first : max(word.end // PEAK_MS, first + 1)]
        return len(part) > 0 and float(np.max(part)) < SILENT_SHARE * self._loudest


def _touches(cue: Cue, band: Band) -> bool:
    return cue.start < band.stop and cue.end > band.start
