"""What is painted on a row of the proof sheet, under and over its text."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from operator import is_
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter, QPen

from tamarind.application.session import Session
from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.dots import draw_dots
from tamarind.desktop.editor.following import Following
from tamarind.desktop.editor.geometry import RowGeometry, letters_seen, span_in
from tamarind.desktop.editor.layers import CHANGING, paint_card
from tamarind.desktop.proof.notes import Note, Notes
from tamarind.desktop.proof.sheetrows import SPEAKER_ROOM, band_above, band_below, heading_band
from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.proof.spots import Spots
from tamarind.desktop.theme import colours, fonts
from tamarind.desktop.widgets.margin import Band, Margin, bands_of
from tamarind.formats.timecode import clock
from tamarind.job.settings import SHOWS_LEFT_OUT
from tamarind.language.housestyle import AS_HEARD, Verbatim, Wording
from tamarind.system.later import Later
from tamarind.transcript.excerpts import Span
from tamarind.transcript.model import Cue

if TYPE_CHECKING:
    from tamarind.language import verbatim
else:
    # Seldom wanted.
    verbatim = Later("tamarind.language.verbatim")

Gone = frozenset[tuple[int, int]]
"""Words by the place of their cue in the text, and their own in the cue."""

NOTHING: Gone = frozenset()
TIME_LEFT = 30
HEADING_SIZE = 24


class RowHead:
    """Paints card, notes, heading, speaker, time, and whether the row is proofed."""

    def __init__(self, text: SheetText, notes: Notes, caret: Caret) -> None:
        self._text, self._notes, self._caret = text, notes, caret

    def state(self, row: int) -> object:
        """Return the row's cues, their speakers' names, and the notes."""
        cues = self._text.cues_in(row)
        speaker = None
        if self._text.shows_speaker(row):
            speaker = self._text.transcript.speaker(cues[0].speaker) or cues[0].speaker
        return cues, speaker, self._notes.above(row), self._notes.below(row)

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the head of the row."""
        cues = self._text.cues_in(row)
        shows_speaker = self._text.shows_speaker(row)
        if row == self._caret.place[0]:
            top = text.top() - (SPEAKER_ROOM if shows_speaker else 7)
            paint_card(painter, area, top, text.bottom() + 7)
        _paint_note(painter, self._notes.above(row), band_above(row, area, text))
        _paint_note(painter, self._notes.below(row), band_below(text))
        heading = self._text.heading(row)
        if heading:
            band = heading_band(text, shows_speaker)
            painter.setFont(fonts.text(HEADING_SIZE, QFont.Weight.DemiBold))
            painter.setPen(QColor(colours.BARK))
            said = painter.fontMetrics().elidedText(
                heading, Qt.TextElideMode.ElideRight, int(band.width())
            )
            painter.drawText(band, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, said)
        if shows_speaker:
            speaker = self._text.transcript.speaker(cues[0].speaker)
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


class SoundStrip:
    """Paints the waveform down beside the text, for each line its own stretch."""

    def __init__(
        self,
        text: SheetText,
        spots: Spots,
        geometry: RowGeometry,
        margin: Margin,
        following: Following,
    ) -> None:
        self._text, self._spots, self._geometry = text, spots, geometry
        self._margin, self._following = margin, following

    def state(self, row: int) -> object:
        """Return what the strip depends on, except the playhead, which moves all the time."""
        heard = self._following.heard
        if heard is not None and self._text.row_of(heard[0]) == row:
            return CHANGING
        return self._margin.version

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the strip, with the playhead if it is in this row."""
        bands = self.bands(row, text)
        self._margin.paint(painter, bands, self._text.cues_in(row))
        heard = self._following.heard
        if heard is not None and self._text.row_of(heard[0]) == row:
            self._margin.paint_playhead(painter, bands, self._following.playhead)

    def time_at(self, row: int, y: float) -> int:
        """Return the time (ms) at a height of a row's strip."""
        bands = self.bands(row, self._geometry.text_area(row))
        band = next((band for band in bands if y < band.bottom), bands[-1])
        return band.time_at(y)

    def told_at(self, row: int, y: float) -> str:
        """Describe what lies at a height of a row's strip."""
        time = self.time_at(row, y)
        about = self._margin.told_at(time, self._text.cues_in(row))
        return f"{clock(time, 1, hours=False)}{about}"

    def bands(self, row: int, text: QRectF) -> list[Band]:
        """Return the time span of each line."""
        cues = self._text.cues_in(row)
        starts = {word.span[0]: word.word.start for word in self._spots.words(row)}
        layout, end = self._geometry.layout(row), max(cue.end for cue in cues)
        return bands_of(layout, text, starts, cues[0].start, end)


class ExcerptMarks:
    """Paints words of excerpts on sand, with a line at their foot."""

    def __init__(
        self, session: Session, text: SheetText, spots: Spots, geometry: RowGeometry
    ) -> None:
        self._session, self._text = session, text
        self._spots, self._geometry = spots, geometry

    def state(self, row: int) -> object:
        """Return what is marked in the row."""
        return self._spans(row)

    def _spans(self, row: int) -> list[Span]:
        """Return the time spans of excerpts that reach into a row."""
        shown = self._text.recording_id
        excerpts = self._session.texts.document(shown).excerpts if shown is not None else ()
        if not excerpts:
            return []
        cues = self._text.cues_in(row)
        begins, ends = cues[0].start, max(cue.end for cue in cues)
        return [s for one in excerpts if one.start < ends and one.end > begins for s in one.spans]

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the row's marks, line by line."""
        spans = self._spans(row)
        if not spans:
            return
        for run in self._runs(row, text, spans):
            painter.fillRect(run, QColor(colours.SAND))
            painter.setPen(QPen(QColor(colours.SOUND), 1.2))
            painter.drawLine(run.bottomLeft(), run.bottomRight())

    def _runs(self, row: int, text: QRectF, spans: Sequence[Span]) -> list[QRectF]:
        """Yield runs of excerpts' words on a line."""
        runs: list[QRectF] = []
        goes_on = False
        for word in self._spots.words(row):
            middle = (word.word.start + word.word.end) / 2
            inside = any(a <= middle < b for a, b in spans)
            if inside:
                place = self._geometry.span_area(row, word.span, text).adjusted(-2, 1, 2, 1)
                if goes_on and abs(runs[-1].top() - place.top()) < 1:
                    runs[-1].setRight(place.right())
                else:
                    runs.append(place)
            goes_on = inside
        return runs


class SpokenWordLayer:
    """Paints the spoken word on pale green."""

    def __init__(
        self, text: SheetText, spots: Spots, geometry: RowGeometry, following: Following
    ) -> None:
        self._text, self._spots = text, spots
        self._geometry, self._following = geometry, following

    def state(self, row: int) -> object:
        """Return the spoken word if it is in this row."""
        heard = self._following.heard
        return heard if heard is not None and self._text.row_of(heard[0]) == row else None

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint it in its own row only."""
        heard = self._following.heard
        if heard is None or self._text.row_of(heard[0]) != row:
            return
        for word in self._spots.words(row):
            if (word.cue, word.place) == heard:
                place = self._geometry.span_area(row, word.span, text)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(colours.LEAF_PALE))
                painter.drawRoundedRect(place.adjusted(-3, 0, 3, 0), 4, 4)


class WordMarks:
    """Paints dots under doubts, a wedge where a word may be missing, and a tick between the cues of
    a paragraph."""

    def __init__(self, session: Session, spots: Spots, geometry: RowGeometry) -> None:
        self._session, self._spots, self._geometry = session, spots, geometry

    def state(self, row: int) -> object:
        """Return what else than the cues decides which words are doubts."""
        return self._session.threshold

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the marks of every word in the row."""
        threshold = self._session.threshold
        previous: int | None = None
        layout = self._geometry.layout(row)
        first, last = letters_seen(painter, layout, text)
        for word in self._spots.words(row):
            opens_cue = previous is not None and word.cue != previous
            previous = word.cue
            if not first <= word.span[0] < last:
                continue
            is_doubt = word.word.is_doubt(threshold)
            if not is_doubt and not opens_cue:
                continue
            place = span_in(layout, word.span, text)
            if is_doubt and word.word.missing:
                _paint_wedge(painter, place)
            elif is_doubt:
                draw_dots(painter, place)
            if opens_cue:
                painter.setPen(QPen(QColor(colours.SOUND), 1))
                x = place.left() - 2.5
                painter.drawLine(QPointF(x, place.top() + 4), QPointF(x, place.top() + 9))


def _paint_wedge(painter: QPainter, place: QRectF) -> None:
    """Paint a wedge before a word where another may be missing."""
    y = place.bottom() - 1
    painter.setPen(QPen(QColor(colours.PLUM), 1.8))
    x = place.left() - 3
    painter.drawPolyline([QPointF(x - 4, y + 2), QPointF(x, y - 5), QPointF(x + 4, y + 2)])


class LeftOut:
    """Strikes out the words that the house style leaves out of a transcript."""

    def __init__(
        self, session: Session, text: SheetText, spots: Spots, geometry: RowGeometry
    ) -> None:
        self._session, self._text = session, text
        self._spots, self._geometry = spots, geometry
        self._wording: Wording | None = None
        self._known: dict[int, tuple[tuple[Cue, ...], Gone]] = {}

    def forget(self) -> None:
        """Look again, since another style or recording is shown, or nothing is to be struck out."""
        self._wording = None
        self._known.clear()

    def is_wanted(self) -> bool:
        """Whether the house style leaves anything out, and that is to be seen."""
        if self._wording is None:
            self._wording = self._read_wording()
        return self._wording.verbatim is not Verbatim.FULL

    def state(self, row: int) -> object:
        """Return the places of the row's words that are left out."""
        return self._gone(row)

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint a line through each of them."""
        gone = self._gone(row)
        if not gone:
            return
        painter.setPen(QPen(QColor(colours.GREY), 1.4))
        for word in self._spots.words(row):
            if (word.cue, word.place) in gone:
                place = self._geometry.span_area(row, word.span, text)
                middle = place.center().y() + 1
                painter.drawLine(
                    QPointF(place.left() - 1, middle), QPointF(place.right() + 1, middle)
                )

    def _read_wording(self) -> Wording:
        shown = self._session.shown_recording()
        is_wanted = shown is not None and self._session.settings.get(SHOWS_LEFT_OUT)
        return self._session.styles.of(shown).wording if shown and is_wanted else AS_HEARD

    def _gone(self, row: int) -> Gone:
        if not self.is_wanted() or self._wording is None:
            return NOTHING
        rows = range(max(row - 1, 0), min(row + 2, self._text.row_count()))
        cues = tuple(cue for one in rows for cue in self._text.cues_in(one))
        known = self._known.get(row)
        if known is not None and len(known[0]) == len(cues) and all(map(is_, known[0], cues)):
            return known[1]
        around = replace(self._text.transcript, cues=cues)
        found = verbatim.left_out(around, self._wording)
        numbers = [number for one in rows for number in range(*self._text.cues_of(one))]
        places = [
            (number, place)
            for number, cue in zip(numbers, cues, strict=True)
            for place in range(len(cue.words))
        ]
        gone = frozenset(places[at] for one in found for at in range(one.first, one.last))
        self._known[row] = cues, gone
        return gone


class Differences:
    """Paints a line under words that another transcription has otherwise, and an upright one where
    it has more."""

    def __init__(self, spots: Spots, geometry: RowGeometry) -> None:
        self._spots, self._geometry = spots, geometry
        self.places: list[tuple[int, int, int]] = []
        """Each a cue, the first of its words, and one after the last."""

    def state(self, row: int) -> object:
        """Return the differences in the row."""
        return tuple(self.places)

    def paint(self, painter: QPainter, row: int, area: QRectF, text: QRectF) -> None:
        """Paint the differences in the row."""
        if not self.places:
            return
        spans = {(word.cue, word.place): word.span for word in self._spots.words(row)}
        painter.setPen(QPen(QColor(colours.PULP), 2))
        for cue, first, last in self.places:
            for at in range(first, last):
                if (cue, at) in spans:
                    place = self._geometry.span_area(row, spans[cue, at], text)
                    painter.drawLine(place.bottomLeft(), place.bottomRight())
            if first == last:
                before, behind = spans.get((cue, first)), spans.get((cue, first - 1))
                if before is not None:
                    place = self._geometry.span_area(row, before, text)
                    x = place.left() - 3
                elif behind is not None:
                    place = self._geometry.span_area(row, behind, text)
                    x = place.right() + 3
                else:
                    continue
                painter.drawLine(QPointF(x, place.top() + 3), QPointF(x, place.bottom() - 3))


def _paint_note(painter: QPainter, note: Note | None, band: QRectF) -> None:
    if note is not None:
        painter.setFont(fonts.interface(13))
        painter.setPen(QColor(note.colour))
        painter.drawText(band, Qt.AlignmentFlag.AlignCenter, note.text)
