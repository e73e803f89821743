"""The translation sheet: source on the left, translation on the right, cue by cue."""

from __future__ import annotations

from PySide6.QtCore import Signal

from tamarind.application.session import Session
from tamarind.desktop.editor.following import Following
from tamarind.desktop.editor.sheet import Sheet
from tamarind.desktop.editor.shown import ShownText
from tamarind.desktop.theme import fonts
from tamarind.desktop.translation.sheetlayers import (
    Misspelled,
    SentenceBrace,
    SourceSound,
    SourceText,
    StateAndFit,
    TrackRowHead,
)
from tamarind.desktop.translation.sheetpointer import TranslationPointer
from tamarind.desktop.translation.sheetrows import TranslationRows
from tamarind.desktop.translation.sheetwriter import TranslationWriter
from tamarind.desktop.translation.tracktext import TrackText
from tamarind.desktop.widgets.margin import Margin

TEXT_SIZE = 19


class TranslationSheet(Sheet):
    """The caret is in the right-hand column; the left is read only."""

    play_from = Signal(int)

    def __init__(self, session: Session) -> None:
        self.text = TrackText(session)
        font = fonts.text(TEXT_SIZE)
        rows = TranslationRows(self.text, self.viewport_width, font)
        shown = ShownText(rows)
        writer = TranslationWriter(session, self.text, shown)
        super().__init__(rows, shown, writer, font, "Translation sheet")
        self.following = Following(self.text, self.row_geometry)
        self.caret.moved.connect(self.following.hold)
        self._session = session
        self._margin = Margin()
        self.sound = SourceSound(rows, self.text, self.following, self._margin)
        self.misspelled = Misspelled(self.text, self.row_geometry)
        self.under = [
            TrackRowHead(self.text, self.caret),
            self.sound,
            SourceText(rows, self.text, self.following),
            SentenceBrace(rows, self.text),
            StateAndFit(session, self.text),
        ]
        self.over = [self.misspelled]
        self.pointer = TranslationPointer(self, self.text, self.sound, self.play_from.emit)

    def viewport_width(self) -> float:
        """The width of both columns together."""
        return self.viewport().width()

    def show_track(self, recording_id: int | None, language: str) -> None:
        """Show a recording beside its track in a language."""
        self.text.show(recording_id, language)
        self.following.reset()
        self.misspelled.places = {}
        self.take_sound()
        self.reset()
        self.caret.moved.emit()

    def take_sound(self) -> None:
        """Show the recording's sound, which may have been decoded meanwhile."""
        shown = self.text.recording_id
        unheard = self._session.recordings.get(shown).unheard if shown is not None else ()
        peaks = self._session.sounds.peaks(shown) if shown is not None else None
        self._margin.set_sound(peaks, unheard)
        self.viewport().update()

    def follow_document(self) -> None:
        """Show changes of source or translation."""
        self.refresh(*self.text.follow())

    def caret_time(self) -> int:
        """When the caret's cue begins (ms)."""
        row = self.caret.place[0]
        cues = self.text.transcript.cues
        return cues[row].start if row < len(cues) else 0
