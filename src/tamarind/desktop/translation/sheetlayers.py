"""What is painted beside a translation: its time, its source, and how well it fits its time."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetrics, QPainter, QPainterPath, QPen

from tamarind.application.session import Session
from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.dots import draw_dots
from tamarind.desktop.editor.following import Following
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.editor.layers import CHANGING, paint_card
from tamarind.desktop.editor.rowlayout import line_x
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.translation.sheetrows import FIT_WIDTH, SOURCE_LEFT, TranslationRows
from tamarind.desktop.translation.tracktext import TrackText
from tamarind.desktop.widgets.margin import Band, Margin, bands_of
from tamarind.formats.timecode import clock
from tamarind.transcript.tokens import spans_of, tokens_of
from tamarind.translation.states import CueState, letters_over, state_of

TIME_LEFT = 32
BRACE_LEFT, BRACE_HOOK, BRACE_INSET = 16.0, 5.0, 9.0


class TrackRowHead:
    """Paints the card of the caret's row, and the time."""

    def __init__(self, text: TrackText, caret: Caret) -> None:
        self._text, self._caret = text, caret

    def state(self, row: int) -> object:
        """Return the row's cue."""
        return self._text.transcript.cues[row]

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint beside the first line."""
        if row == self._caret.place[0]:
            paint_card(painter, area, text.top() - 10, text.bottom() + 10)
        time = clock(self._text.transcript.cues[row].start, 1, hours=False)
        painter.setFont(fonts.mono(13))
        painter.setPen(QColor(colours.GREY))
        painter.drawText(QPointF(TIME_LEFT, text.top() + 18), time)


class SourceText:
    """Paints the source text; the spoken word is on pale green."""

    def __init__(self, rows: TranslationRows, text: TrackText, following: Following) -> None:
        self._rows, self._text, self._following = rows, text, following

    def state(self, row: int) -> object:
        """Return the spoken word."""
        heard = self._following.heard
        return heard[1] if heard is not None and heard[0] == row else None

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint in the left-hand column."""
        heard = self._following.heard
        if heard is not None and heard[0] == row and heard[1] is not None:
            self._light(painter, row, heard[1], text)
        painter.setPen(QColor(colours.INK))
        self._rows.source(row).draw(painter, QPointF(SOURCE_LEFT, text.top()))

    def _light(self, painter: QPainter, row: int, word: int, text: QRectF) -> None:
        cue, layout = self._text.transcript.cues[row], self._rows.source(row)
        spans = spans_of(cue.text, [one.token for one in cue.words])
        if word >= len(spans):
            return
        first, last = spans[word]
        line = layout.lineForTextPosition(first)
        if not line.isValid():
            return
        left, right = line_x(line, first), line_x(line, last)
        place = QRectF(SOURCE_LEFT + left, text.top() + line.y(), right - left, line.height())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LEAF_PALE))
        painter.drawRoundedRect(place.adjusted(-3, 0, 3, 0), 4, 4)


class SourceSound:
    """Paints the waveform down beside the source, for each line its own; green where a person has
    approved the translation."""

    def __init__(
        self, rows: TranslationRows, text: TrackText, following: Following, margin: Margin
    ) -> None:
        self._rows, self._text = rows, text
        self._following, self._margin = following, margin

    def state(self, row: int) -> object:
        """Return the sound, and whether a person has approved the row; the playhead moves all the
        time."""
        heard = self._following.heard
        if heard is not None and heard[0] == row:
            return CHANGING
        return self._margin.version, self._is_settled(row)

    def _is_settled(self, row: int) -> bool:
        entry = self._text.track.texts.get(self._text.transcript.cues[row].id)
        return entry is not None and entry.is_settled

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the strip, with the playhead if it is in this row."""
        cue = self._text.transcript.cues[row]
        bands = self.bands(row, text)
        shown = replace(cue, settled=self._is_settled(row))
        self._margin.paint(painter, bands, [shown])
        heard = self._following.heard
        if heard is not None and heard[0] == row:
            self._margin.paint_playhead(painter, bands, self._following.playhead)

    def time_at(self, row: int, text: QRectF, y: float) -> int:
        """Return the time (ms) at a height of a row's strip."""
        bands = self.bands(row, text)
        return next((band for band in bands if y < band.bottom), bands[-1]).time_at(y)

    def told_at(self, row: int, text: QRectF, y: float) -> str:
        """Describe what lies at a height of a row's strip."""
        time = self.time_at(row, text, y)
        about = self._margin.told_at(time, self._text.transcript.cues[row : row + 1])
        return f"{clock(time, 1, hours=False)}{about}"

    def bands(self, row: int, text: QRectF) -> list[Band]:
        """Return the time span of each line of the source."""
        cue, layout = self._text.transcript.cues[row], self._rows.source(row)
        spans = spans_of(cue.text, [word.token for word in cue.words])
        starts = {span[0]: word.start for span, word in zip(spans, cue.words, strict=True)}
        last = layout.lineAt(max(layout.lineCount() - 1, 0))
        height = last.y() + last.height() if last.isValid() else text.height()
        area = QRectF(SOURCE_LEFT, text.top(), text.width(), height)
        return bands_of(layout, area, starts, cue.start, cue.end)


class Misspelled:
    """Paints dots under words that the language's dictionary does not have."""

    def __init__(self, text: TrackText, geometry: RowGeometry) -> None:
        self._text, self._geometry = text, geometry
        self.places: dict[int, list[tuple[int, int]]] = {}
        """By the ids of cues: the first of the words, and one after the last."""

    def state(self, row: int) -> object:
        """Return the misspelled words in the row."""
        return self.places.get(self._text.transcript.cues[row].id)

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint those that are still there."""
        cue = self._text.transcript.cues[row]
        places = self.places.get(cue.id)
        if not places:
            return
        shown = self._geometry.layout(row).text()
        spans = spans_of(shown, tokens_of(shown))
        for first, last in places:
            for span in spans[first:last]:
                draw_dots(painter, self._geometry.span_area(row, span, text))


class SentenceBrace:
    """Paints a line beside source cues that share a sentence."""

    def __init__(self, rows: TranslationRows, text: TrackText) -> None:
        self._rows, self._text = rows, text

    def state(self, row: int) -> object:
        """Return whether the sentence goes on, before and after."""
        return self._text.sentence_at(row)

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint from the middle of its first row to that of its last."""
        begun, goes_on = self._text.sentence_at(row)
        if not (begun or goes_on):
            return
        x = text.left() - BRACE_LEFT
        top = area.top() if begun else text.top() + BRACE_INSET
        bottom = area.bottom() if goes_on else text.bottom() - BRACE_INSET
        if bottom <= top:
            bottom = top + BRACE_INSET
        painter.setPen(QPen(QColor(colours.PULP), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        line = QPainterPath(QPointF(x, top))
        if not begun:
            line = QPainterPath(QPointF(x - BRACE_HOOK, top))
            line.lineTo(QPointF(x, top))
        line.lineTo(QPointF(x, bottom))
        if not goes_on:
            line.lineTo(QPointF(x - BRACE_HOOK, bottom))
        painter.drawPath(line)


class StateAndFit:
    """Paints a bar that fills up as a translation uses its time; below it the cue's state, by a
    sign and in words."""

    def __init__(self, session: Session, text: TrackText) -> None:
        self._session, self._text = session, text

    def state(self, row: int) -> object:
        """Return the row's translation and its limits."""
        track = self._text.track
        limits = self._session.styles.limits_of(self._text.recording_id, track.language)
        cue = self._text.transcript.cues[row]
        return track.texts.get(cue.id), state_of(track, cue, limits), limits

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint at the right."""
        left = area.width() - FIT_WIDTH - 12
        cue, track = self._text.transcript.cues[row], self._text.track
        limits = self._session.styles.limits_of(self._text.recording_id, track.language)
        state = state_of(track, cue, limits)
        if state is CueState.NOTHING:
            return
        translation = track.text(cue.id)
        over = letters_over(translation, cue, limits)
        bar = QRectF(left, text.top() + 11, FIT_WIDTH - 24, 5)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LINE))
        painter.drawRoundedRect(bar, 2.5, 2.5)
        if translation:
            speed = limits.speed(translation, cue.start, cue.end)
            painter.setBrush(QColor(colours.PLUM if over else colours.LEAF))
            bar.setWidth(max(bar.width() * min(speed / limits.reading_speed, 1), 5))
            painter.drawRoundedRect(bar, 2.5, 2.5)
        words = f"{over} characters too long" if state is CueState.TOO_LONG else state.value
        if over == 1:
            words = words.replace("letters", "letter")
        if state is CueState.APPROVED and over:
            words = f"approved, {over} too long"
        ink = QColor(_ink(state))
        _paint_sign(painter, state, QPointF(left + 5, text.top() + 30), ink)
        painter.setFont(fonts.interface(12))
        painter.setPen(ink)
        place = QRectF(left + 16, text.top() + 20, FIT_WIDTH, 20)
        painter.drawText(place, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)
        comment = self._text.comment(row)
        if comment:
            painter.setPen(QColor(colours.BARK))
            metrics = QFontMetrics(painter.font())
            kept = metrics.elidedText(f"✎ {comment}", Qt.TextElideMode.ElideRight, FIT_WIDTH)
            painter.drawText(QPointF(left, text.top() + 54), kept)


def _ink(state: CueState) -> str:
    if state is CueState.APPROVED:
        return colours.LEAF
    if state is CueState.MACHINE:
        return colours.GREY
    return colours.INK if state is CueState.EDITED else colours.PLUM


def _paint_sign(painter: QPainter, state: CueState, middle: QPointF, ink: QColor) -> None:
    """Paint a tick, a filled or an empty ring, a question mark, or a warning."""
    painter.setPen(QPen(ink, 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    x, y = middle.x(), middle.y()
    if state is CueState.APPROVED:
        tick = QPainterPath(QPointF(x - 4.5, y))
        tick.lineTo(QPointF(x - 1, y + 3.5))
        tick.lineTo(QPointF(x + 5, y - 4.5))
        painter.drawPath(tick)
    elif state is CueState.MACHINE:
        painter.drawEllipse(middle, 3.4, 3.4)
    elif state is CueState.EDITED:
        painter.setBrush(ink)
        painter.drawEllipse(middle, 3.4, 3.4)
    else:
        mark = "?" if state is CueState.DOUBTFUL else "!"
        painter.setFont(fonts.interface(13, QFont.Weight.Bold))
        box = QRectF(x - 6, y - 9, 12, 18)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, mark)
