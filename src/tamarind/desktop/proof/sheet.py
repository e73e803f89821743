"""The proof sheet: a recording's text with its waveform in the margin."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QResizeEvent

from tamarind.application.session import Session
from tamarind.desktop.editor.following import Following
from tamarind.desktop.editor.layers import Layer
from tamarind.desktop.editor.overlay import Overlay
from tamarind.desktop.editor.sheet import Sheet
from tamarind.desktop.editor.shown import ShownText
from tamarind.desktop.proof.cuecaret import CueCaret
from tamarind.desktop.proof.inview import InView
from tamarind.desktop.proof.notes import Notes
from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.sheetlayers import (
    Differences,
    ExcerptMarks,
    LeftOut,
    RowHead,
    SoundStrip,
    SpokenWordLayer,
    WordMarks,
)
from tamarind.desktop.proof.sheetpointer import Asks, Parts, ProofPointer
from tamarind.desktop.proof.sheetrows import ProofRows
from tamarind.desktop.proof.sheettext import SheetText
from tamarind.desktop.proof.sheetwriter import ProofWriter
from tamarind.desktop.proof.spots import Spots
from tamarind.desktop.theme import fonts
from tamarind.desktop.widgets.margin import Margin
from tamarind.job.settings import SHOWS_LEFT_OUT
from tamarind.transcript.model import Transcript

_MODIFIER_KEYS = (
    Qt.Key.Key_Shift,
    Qt.Key.Key_Control,
    Qt.Key.Key_Alt,
    Qt.Key.Key_AltGr,
    Qt.Key.Key_Meta,
)


class ProofSheet(Sheet):
    """Combines the parts of the editor with those of proofing."""

    play_from = Signal(int)
    speaker_asked = Signal(int)
    heading_asked = Signal()
    reading_asked = Signal(int)
    """A number key on a doubt: 1 for its first reading and so on, 0 to keep it as heard."""

    def __init__(self, session: Session, text_size: int, layout: Layout) -> None:
        self._session = session
        self.settles_by_number = False
        self.text = SheetText(session, layout)
        self.notes = Notes(self.text)
        rows = ProofRows(session, self.text, self.notes)
        shown = ShownText(rows)
        self.spots = Spots(self.text, shown)
        writer = ProofWriter(session, self.text, self.spots)
        super().__init__(rows, shown, writer, fonts.text(text_size), "Proof sheet")
        text, spots, geometry = self.text, self.spots, self.row_geometry
        self.cue_caret = CueCaret(text, spots, self.caret)
        self.following = Following(text, geometry, InView(self, spots, geometry).show)
        writer.wrote = self.following.hold
        self.overlay = Overlay(self, rows, geometry, text.row_of)
        self._margin = Margin()
        self.strip = SoundStrip(text, spots, geometry, self._margin, self.following)
        self.differences = Differences(spots, geometry)
        self.left_out = LeftOut(session, text, spots, geometry)
        session.styles.changed.connect(self._style_changed)
        self.under = [
            RowHead(text, self.notes, self.caret),
            self.strip,
            ExcerptMarks(session, text, spots, geometry),
            SpokenWordLayer(text, spots, geometry, self.following),
        ]
        self._marks: tuple[Layer, ...] = (WordMarks(session, spots, geometry), self.differences)
        self._place_left_out()
        self.pointer = ProofPointer(
            self,
            Parts(text, spots, self.cue_caret, self.notes, self.strip),
            Asks(
                self.play_from.emit,
                self.speaker_asked.emit,
                self.heading_asked.emit,
                self._pressed,
            ),
        )

    @property
    def transcript(self) -> Transcript:
        """The text that is shown."""
        return self.text.transcript

    def show_recording(self, recording_id: int | None) -> None:
        """Show a recording's text from its start."""
        self.overlay.close()
        self.text.show(recording_id)
        self._place_left_out()
        self.following.reset()
        self._read_sound()
        self.reset()
        self.caret.moved.emit()

    def _place_left_out(self) -> None:
        """Have the layer only where the house style leaves anything out, since each takes time."""
        self.left_out.forget()
        self.over = list(self._marks)
        if self.left_out.is_wanted():
            self.over.insert(0, self.left_out)

    def _style_changed(self) -> None:
        self._place_left_out()
        self.viewport().update()

    def show_left_out(self, wanted: bool) -> None:
        """Strike out what the house style leaves out, or do not."""
        self._session.settings.keep(SHOWS_LEFT_OUT, wanted)
        self._style_changed()

    def set_layout(self, layout: Layout) -> None:
        """Show the same text in cues or paragraphs; caret and view keep their place."""
        caret, anchor = map(self.spots.spot_of, (self.caret.place, self.caret.anchor))
        geometry = self.row_geometry
        y = geometry.edge_area(self.caret.place).top() if self.text.row_count() else 0.0
        self.text.set_layout(layout)
        self._place_left_out()
        self.shown.leave()
        geometry.reset()
        if self.text.row_count():
            self.caret.select(self.spots.place_of(anchor), self.spots.place_of(caret))
            bar = self.verticalScrollBar()
            for _ in range(2):
                # What comes into view is measured, which may move the caret once more.
                bar.setValue(bar.value() + round(geometry.edge_area(self.caret.place).top() - y))
                geometry.measure_visible()
        self.overlay.follow()
        self.viewport().update()

    def take_sound(self) -> None:
        """Show the recording's sound, which may have been decoded meanwhile."""
        before = self.notes.unheard
        self._read_sound()
        if self.notes.unheard != before:
            count = self.text.row_count()
            self.refresh(0, count, count)
        self.viewport().update()

    def follow_document(self) -> None:
        """Show the changed text."""
        changed = self.text.follow()
        if self._read_descriptions():
            count = self.text.row_count()
            self.refresh(0, count, count)
        if changed is not None:
            self.refresh(*changed)
            self.caret.moved.emit()
        self.overlay.follow()

    def _read_descriptions(self) -> bool:
        """Read the audio descriptions; return whether they have changed."""
        shown = self.text.recording_id
        before = self.notes.descriptions
        if shown is None:
            self.notes.descriptions, self.notes.has_picture = (), False
            return bool(before)
        self.notes.descriptions = self._session.texts.document(shown).descriptions
        info = self._session.recordings.get(shown).info
        self.notes.has_picture = info is not None and info.picture is not None
        return self.notes.descriptions != before

    def _pressed(self) -> None:
        self.settles_by_number = False
        self._session.texts.close_edit_group()

    def mark_differences(self, places: list[tuple[int, int, int]]) -> None:
        """Underline words that another transcription has otherwise: (cue, first word, one after the
        last)."""
        self.differences.places = places
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Let a number settle a doubt right after going to it; any other key types."""
        key = event.key()
        if key in _MODIFIER_KEYS:
            super().keyPressEvent(event)
            return
        settling, self.settles_by_number = self.settles_by_number, False
        digit = key - Qt.Key.Key_0
        plain = not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if settling and plain and 0 <= digit <= 9:
            self.reading_asked.emit(digit)
            event.accept()
            return
        super().keyPressEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Make what is open below a row as wide as the sheet."""
        super().resizeEvent(event)
        self.overlay.follow()

    def _read_sound(self) -> None:
        shown = self.text.recording_id
        self._read_descriptions()
        self.notes.unheard = (
            self._session.recordings.get(shown).unheard if shown is not None else ()
        )
        peaks = self._session.sounds.peaks(shown) if shown is not None else None
        self._margin.set_sound(peaks, self.notes.unheard)
