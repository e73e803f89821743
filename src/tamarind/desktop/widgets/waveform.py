"""Draw waveforms: columns of peaks along a line, to the right or downwards."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from tamarind.audio.peaks import Peaks, columns

BAR = 2


def draw_sound(
    painter: QPainter,
    area: QRectF,
    peaks: Peaks | None,
    span: tuple[int, int],
    colour: QColor | str,
    downwards: bool = False,
    loudest: float | None = None,
) -> None:
    """Draw the peaks of ``span`` (from, to, in ms) as mirrored bars over the whole of ``area``.

    ``loudest`` is the peak that fills the area, so that quiet recordings can be seen too.
    """
    length = area.height() if downwards else area.width()
    count = int(length // BAR)
    if peaks is None or count < 1:
        return
    draw_heights(painter, area, shares(peaks, span, count, loudest), colour, downwards)


def draw_heights(
    painter: QPainter,
    area: QRectF,
    heights: np.ndarray,
    colour: QColor | str,
    downwards: bool = False,
    where: NDArray[np.bool_] | None = None,
) -> None:
    """Draw bars of heights 0 to 1, each ``BAR`` wide, mirrored at the middle of ``area``; with
    ``where`` only some of them."""
    across = (area.width() if downwards else area.height()) / 2
    painter.save()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colour))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    middle = area.center()
    left, top = round(area.left()), round(area.top())
    halves = np.maximum(heights * across, 0.6).tolist()
    x, y = middle.x(), middle.y()
    places = range(len(halves)) if where is None else np.flatnonzero(where).tolist()
    if downwards:
        rects = [QRectF(x - halves[at], top + at * BAR, 2 * halves[at], BAR) for at in places]
    else:
        rects = [QRectF(left + at * BAR, y - halves[at], BAR, 2 * halves[at]) for at in places]
    painter.drawRects(rects)
    painter.restore()


def shares(
    peaks: Peaks, span: tuple[int, int], count: int, loudest: float | None = None
) -> NDArray[np.float64]:
    """Return the heights (0 to 1) of ``count`` bars; a power below one makes quiet sound
    visible."""
    top = loudest if loudest is not None else loudness(peaks)
    heights: NDArray[np.float64] = np.clip(columns(peaks, *span, count) / max(top, 1e-3), 0, 1)
    return np.power(heights, 0.75)


def loudness(peaks: Peaks) -> float:
    """Return a peak that hardly any other exceeds."""
    if not len(peaks):
        return 1.0
    step = max(len(peaks) // 20_000, 1)
    return float(np.quantile(peaks[::step].astype(np.float32), 0.995))
