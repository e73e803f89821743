"""How the proof sheet looks: text, doubts, notes, and the sound running down its margin."""

from __future__ import annotations

from itertools import pairwise
from time import monotonic

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen

from tamarind.desktop.proof.margin import STRIP_LEFT, STRIP_WIDTH, Band
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.sheet_rows import SPEAKER_ROOM, Note, SheetRows
from tamarind.desktop.session import Session
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.row_layout import line_x
from tamarind.formats.timecode import clock

TIME_LEFT = 30
TYPING_HOLDS_SCROLL_S = 3.0


class SheetView(SheetRows):
    """Paints the text with the sound running down its margin, and follows the sound."""

    def __init__(self, session: Session, text_size: int, layout: Layout) -> None:
        self._playhead = 0
        self._typed_at = 0.0
        self.follows = True
        self._differences: list[tuple[int, int, int]] = []
        super().__init__(session, text_size, layout)

    def mark_differences(self, differences: list[tuple[int, int, int]]) -> None:
        """Underline what was heard otherwise: (cue, first word, one after the last)."""
        self._differences = differences
        self.viewport().update()

    # Listening

    def set_playhead(self, time: int, playing: bool) -> None:
        """Light the word that is heard, and keep it in view unless the person is typing."""
        before = self._heard
        self._playhead = time
        cue = self._transcript.place_at(time)
        word = self._word_heard(cue, time) if cue is not None else None
        self._heard = None if cue is None else (cue, -1 if word is None else word)
        if before and self._heard and before[0] != self._heard[0]:
            self._update_row(before[0])
        if self._heard:
            self._update_row(self._heard[0])
            typing = monotonic() - self._typed_at < TYPING_HOLDS_SCROLL_S
            moved = not before or before[0] != self._heard[0]
            if playing and self.follows and not typing and moved:
                self._show_heard()

    def _show_heard(self) -> None:
        """Bring what is heard into view: its row, or in a paragraph higher than that its line."""
        row = self._grouping.row_of(self._heard[0])
        if self.row_area(row).height() <= self.viewport().height() - 120:
            self.show_row(row)
            return
        self._measure(row)
        number = next((n for n, w in enumerate(self._words_in(row)) if w[:2] == self._heard), 0)
        spans = self._spans(self.shown_text(row))
        text = self.text_area(row)
        y = self._word_area(row, spans[number], text).center().y() if spans else text.top()
        if not 60 <= y <= self.viewport().height() - 60:
            bar = self.verticalScrollBar()
            bar.setValue(round(bar.value() + y - self.viewport().height() / 3))

    def _word_heard(self, cue: int, time: int) -> int | None:
        for place, word in enumerate(self._transcript.cues[cue].words):
            if word.start <= time < word.end:
                return place
        return None

    def _update_row(self, cue: int) -> None:
        row = self._grouping.row_of(cue)
        if row < len(self._heights):
            self.viewport().update(self.row_area(row).toAlignedRect())

    # Painting

    def paint_ground(self, painter: QPainter) -> None:
        """The sheet of paper."""
        area = QRectF(self.viewport().rect()).adjusted(0.5, 0.5, -0.5, 30)
        painter.setPen(QPen(QColor(colours.LINE), 1))
        painter.setBrush(QColor(colours.SHEET))
        painter.drawRoundedRect(area, 8, 8)

    def paint_row(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Time, strip of sound, speaker and quiet; the caret's row lies on a card."""
        cues = self._cues_in(row)
        if row == self.caret[0]:
            self._paint_card(painter, row, area, text)
        self._paint_note(painter, self._note_above(row), self._band_above(row, area, text))
        self._paint_note(painter, self._note_below(row), self._band_below(text))
        if self._shows_speaker(row):
            speaker = self._transcript.speaker(cues[0].speaker)
            painter.setFont(fonts.interface(13, QFont.Weight.DemiBold))
            painter.setPen(QColor(colours.BARK))
            name = (speaker.label if speaker else "?").upper()
            painter.drawText(QPointF(text.left(), text.top() - 8), name)
        painter.setFont(fonts.mono(13))
        painter.setPen(QColor(colours.GREY))
        painter.drawText(QPointF(TIME_LEFT, text.top() + 18), clock(cues[0].start, 1, hours=False))
        if all(cue.settled for cue in cues):
            painter.setFont(fonts.interface(12))
            painter.setPen(QColor(colours.LEAF_TEXT))
            painter.drawText(QPointF(TIME_LEFT, text.top() + 37), "proofed")
        bands = self._bands(row, text)
        self._margin.paint(painter, bands, cues, self.devicePixelRatioF())
        if self._heard and self._grouping.row_of(self._heard[0]) == row:
            self._margin.paint_playhead(painter, bands, self._playhead)
        self._paint_heard(painter, row, text)

    def _bands(self, row: int, text: QRectF) -> list[Band]:
        """The time of each line beside it, so that the sound runs down with the text."""
        cues = self._cues_in(row)
        words = self._words_in(row)
        spans = self._spans(self.shown_text(row))
        starts = {start: word.start for (start, _), (_, _, word) in zip(spans, words, strict=False)}
        layout = self._made(row).layout
        lines = [layout.lineAt(number) for number in range(layout.lineCount())]
        edges: list[tuple[float, int]] = []
        for line in lines:
            begins = line.textStart()
            time = next((starts[at] for at in range(begins, begins + 2) if at in starts), None)
            if not edges:
                edges.append((text.top(), cues[0].start))
            elif time is not None and time > edges[-1][1]:
                edges.append((text.top() + line.y(), time))
        end = max(cue.end for cue in cues)
        edges = edges or [(text.top(), cues[0].start)]
        edges.append((text.bottom(), max(end, edges[-1][1] + 1)))
        return [Band(top, bottom, start, stop) for (top, start), (bottom, stop) in pairwise(edges)]

    def _paint_heard(self, painter: QPainter, row: int, text: QRectF) -> None:
        """The word that is heard lies on pale leaf."""
        if self._heard is None or self._grouping.row_of(self._heard[0]) != row:
            return
        words = [(cue, place) for cue, place, _ in self._words_in(row)]
        spans = self._spans(self.shown_text(row))
        if self._heard in words and words.index(self._heard) < len(spans):
            area = self._word_area(row, spans[words.index(self._heard)], text)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colours.LEAF_PALE))
            painter.drawRoundedRect(area.adjusted(-3, 0, 3, 0), 4, 4)

    def paint_over(self, painter: QPainter, row: int) -> None:
        """Doubts, differences and the borders of cues within a paragraph; then the caret."""
        text = self.text_area(row)
        words = self._words_in(row)
        spans = self._spans(self.shown_text(row))
        dots = QPen(QColor(colours.PLUM), 2.2, Qt.PenStyle.CustomDashLine)
        dots.setDashPattern([0.1, 1.9])
        dots.setCapStyle(Qt.PenCapStyle.RoundCap)
        threshold = self._session.threshold
        previous: int | None = None
        for (cue, _, word), span in zip(words, spans, strict=False):
            if word.is_doubt(threshold):
                area = self._word_area(row, span, text)
                painter.setPen(dots)
                y = area.bottom() - 1
                painter.drawLine(QPointF(area.left() + 1, y), QPointF(area.right() - 1, y))
            if previous is not None and cue != previous:
                area = self._word_area(row, span, text)
                painter.setPen(QPen(QColor(colours.SOUND), 1))
                x = area.left() - 2.5
                painter.drawLine(QPointF(x, area.top() + 4), QPointF(x, area.top() + 9))
            previous = cue
        if self._differences:
            self._paint_differences(painter, row, text, [(cue, at) for cue, at, _ in words], spans)
        super().paint_over(painter, row)

    def _band_above(self, row: int, area: QRectF, text: QRectF) -> QRectF:
        y = area.top() + (14 if row == 0 else 0)
        return QRectF(text.left(), y + 4, text.width(), 26)

    def _band_below(self, text: QRectF) -> QRectF:
        return QRectF(text.left(), text.bottom() + 12, text.width(), 26)

    def _paint_note(self, painter: QPainter, note: Note | None, band: QRectF) -> None:
        if note is not None:
            painter.setFont(fonts.interface(13))
            painter.setPen(QColor(note.colour))
            painter.drawText(band, Qt.AlignmentFlag.AlignCenter, note.text)

    def _paint_card(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        top = text.top() - (SPEAKER_ROOM if self._shows_speaker(row) else 7)
        card = QRectF(12, top, area.width() - 26, text.bottom() + 7 - top)
        painter.setPen(QPen(QColor(colours.LEAF), 1.2))
        painter.setBrush(QColor(colours.CARD))
        painter.drawRoundedRect(card, 8, 8)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.LEAF))
        painter.drawRoundedRect(QRectF(card.left(), card.top(), 5, card.height()), 2.5, 2.5)

    def _paint_differences(
        self,
        painter: QPainter,
        row: int,
        text: QRectF,
        words: list[tuple[int, int]],
        spans: list[tuple[int, int]],
    ) -> None:
        """A line under words that were heard otherwise, an upright one where some were missing."""
        number = {word: n for n, word in enumerate(words)}
        painter.setPen(QPen(QColor(colours.PULP), 2))
        for cue, first, last in self._differences:
            for at in range(first, last):
                if (cue, at) in number:
                    area = self._word_area(row, spans[number[cue, at]], text)
                    painter.drawLine(area.bottomLeft(), area.bottomRight())
            if first == last:
                before, behind = number.get((cue, first)), number.get((cue, first - 1))
                if before is not None:
                    area = self._word_area(row, spans[before], text)
                    x = area.left() - 3
                elif behind is not None:
                    area = self._word_area(row, spans[behind], text)
                    x = area.right() + 3
                else:
                    continue
                painter.drawLine(QPointF(x, area.top() + 3), QPointF(x, area.bottom() - 3))

    def _word_area(self, row: int, span: tuple[int, int], text: QRectF) -> QRectF:
        line = self._made(row).layout.lineForTextPosition(span[0])
        left, right = sorted((line_x(line, span[0]), line_x(line, span[1])))
        return QRectF(text.left() + left, text.top() + line.y(), right - left, line.height())

    # The margin

    @staticmethod
    def _in_margin(x: float) -> bool:
        return STRIP_LEFT - 6 <= x <= STRIP_LEFT + STRIP_WIDTH + 8

    def _time_in_margin(self, row: int, y: float) -> int:
        """The time at a height of a row's strip."""
        bands = self._bands(row, self.text_area(row))
        band = next((band for band in bands if y < band.bottom), bands[-1])
        return band.time_at(y)
