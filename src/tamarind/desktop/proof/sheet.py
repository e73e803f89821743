"""The proof sheet as it is worked on: editing, keys, the loupe, and the mouse."""

from __future__ import annotations

from contextlib import AbstractContextManager
from time import monotonic

from PySide6.QtCore import QEvent, QPointF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QToolTip, QWidget

from tamarind.desktop.proof.rows import Layout
from tamarind.desktop.proof.sheet_view import SheetView
from tamarind.desktop.session import Session
from tamarind.desktop.widgets.row_view import Place
from tamarind.formats.timecode import clock
from tamarind.transcript import edits
from tamarind.transcript.model import Word

LOOKS = {"i": "italics", "b": "bold", "u": "underlined"}
_MODIFIER_KEYS = (
    Qt.Key.Key_Shift,
    Qt.Key.Key_Control,
    Qt.Key.Key_Alt,
    Qt.Key.Key_AltGr,
    Qt.Key.Key_Meta,
)


class ProofSheet(SheetView):
    """Every edit goes to the session at once."""

    play_from = Signal(int)
    speaker_asked = Signal(int)
    reading_asked = Signal(int)
    """A number key on a doubt: 1 for its first reading and so on, 0 to keep it as heard."""

    def __init__(self, session: Session, text_size: int, layout: Layout) -> None:
        self.settles_by_number = False
        self._loupe: tuple[int, QWidget] | None = None
        super().__init__(session, text_size, layout)
        self.setMouseTracking(True)
        self.verticalScrollBar().valueChanged.connect(self._place_loupe)

    def show_recording(self, recording_id: int | None) -> None:
        """Show a recording's text from its start."""
        self.close_loupe()
        super().show_recording(recording_id)

    def set_layout(self, layout: Layout) -> None:
        """Lay the same text out in cues or in paragraphs; caret and view keep their place."""
        super().set_layout(layout)
        self._place_loupe()

    def follow_document(self) -> None:
        """The text has changed, here or elsewhere."""
        super().follow_document()
        self._follow_loupe()

    # Editing

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Every keystroke is an edit of its own on disk; undo takes back a word at a time."""
        if self._recording_id is None:
            return
        self._typed_at = monotonic()
        (low, start), (high, stop) = self.spot_of(first), self.spot_of(last)
        cue = self._transcript.cues[low]
        whole = self._shown_cue(low)[:start] + text + self._shown_cue(high)[stop:]
        if low == high:
            new = edits.set_text(self._transcript, low, whole)
        elif self._grouping.layout is Layout.CUES:
            new = self._transcript
            for _ in range(high - low):
                new = edits.join(new, low)
            new = edits.set_text(new, low, whole)
        else:
            new = self._transcript
            for row in range(last[0], first[0], -1):
                new = edits.join_paragraph(new, self._grouping.cues_of(row)[0])
            new = edits.set_text_over(new, low, high + 1, whole)
        alone = typed and low == high
        if not alone:
            self._session.close_edit_group()
        group = f"typing {cue.id}" if alone else None
        self._session.edit(self._recording_id, "typing", new, group)
        if text.isspace():
            self._session.close_edit_group()

    def as_one(self) -> AbstractContextManager[None]:
        """Edits within are one step of undo."""
        return self._session.as_one("move text")

    def _shown_cue(self, cue: int) -> str:
        """A cue's text as it stands on the screen, with spaces just typed."""
        row = self._grouping.row_of(cue)
        text = self.shown_text(row)
        starts = list(self._starts_in(row))
        for (at, start), (_, stop) in zip(starts, [*starts[1:], (0, len(text))], strict=True):
            if at == cue:
                return text[start:stop]
        return ""

    def break_row(self, place: Place) -> bool:
        """Split the cue at the caret, or the paragraph."""
        cue, offset = self.spot_of(place)
        spans = self._spans(self._shown_cue(cue))
        word = sum(1 for start, end in spans if (start + end) / 2 < offset)
        new = edits.split(self._transcript, cue, word)
        if self._grouping.layout is Layout.PARAGRAPHS:
            following = cue + 1 if word else cue
            if following >= len(new.cues):
                return False
            new = edits.set_paragraph(new, following, True)
        if self._recording_id is None or new == self._transcript:
            return False
        self._session.edit(self._recording_id, "split", new)
        return True

    def break_line(self) -> None:
        """Begin a line of the caption with the word at the caret, or no longer."""
        cue, offset = self.spot_of(self.caret)
        if self._recording_id is None or cue >= len(self._transcript.cues):
            return
        spans = self._spans(self._shown_cue(cue))
        word = sum(1 for start, end in spans if (start + end) / 2 < offset)
        shown = self.breaks_of(self._transcript.cues[cue])
        new = edits.toggle_line(self._transcript, cue, word, shown)
        self._session.edit(self._recording_id, "line", new)

    def join_next(self) -> None:
        """Join the caret's cue with the next; the caret stays at the seam."""
        cue = self.caret_place()
        if self._recording_id is not None and cue + 1 < len(self._transcript.cues):
            seam = len(self._transcript.cues[cue].text)
            self._session.edit(self._recording_id, "join", edits.join(self._transcript, cue))
            self.go_to((cue, seam))

    def delete_cue(self) -> None:
        """Take the caret's cue out of the text; the caret goes to what follows."""
        cue = self.caret_place()
        if self._recording_id is not None and cue < len(self._transcript.cues):
            new = edits.delete(self._transcript, cue)
            self._session.edit(self._recording_id, "take a cue out", new)
            self.go_to((min(cue, max(len(new.cues) - 1, 0)), 0))

    # Doubts

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Right after going to a doubt a number settles it; any other key goes back to typing."""
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

    # Loupe

    def room_below(self, row: int) -> float:
        """The loupe stands below the row of its cue."""
        if self._loupe is None or self._grouping.row_of(self._loupe[0]) != row:
            return 0.0
        return self._loupe[1].height() + 10.0

    def open_loupe(self, loupe: QWidget, cue: int) -> None:
        """Show the loupe under a cue; it closes the one that is open."""
        self.close_loupe()
        self._loupe = (cue, loupe)
        loupe.setParent(self.viewport())
        loupe.show()
        self._room_for_loupe(cue)

    def close_loupe(self) -> None:
        """Close the loupe, if one is open."""
        if self._loupe is not None:
            cue, loupe = self._loupe
            self._loupe = None
            loupe.hide()
            loupe.deleteLater()
            if cue < len(self._transcript.cues):
                self._room_for_loupe(cue)

    @property
    def loupe_place(self) -> int | None:
        """The place of the cue that the loupe is open under."""
        return self._loupe[0] if self._loupe else None

    def move_loupe(self, cue: int) -> None:
        """The loupe's cue stands at another place now, or it goes to another one."""
        if self._loupe is not None:
            before, loupe = self._loupe
            self._loupe = (cue, loupe)
            self._room_for_loupe(before)
            self._room_for_loupe(cue)

    def _room_for_loupe(self, cue: int) -> None:
        row = self._grouping.row_of(min(cue, max(len(self._transcript.cues) - 1, 0)))
        if row < self.row_count():
            self._measure(row)
            self.show_row(row)
        self._place_loupe()
        self.viewport().update()

    def _follow_loupe(self) -> None:
        if self._loupe is not None and self._loupe[0] >= len(self._transcript.cues):
            self.close_loupe()
        self._place_loupe()

    def _place_loupe(self) -> None:
        if self._loupe is None or not self.row_count():
            return
        cue, loupe = self._loupe
        text = self.text_area(self._grouping.row_of(cue))
        loupe.setGeometry(
            26, round(text.bottom()) + 10, self.viewport().width() - 54, loupe.height()
        )

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The loupe is as wide as the sheet."""
        super().resizeEvent(event)
        self._place_loupe()

    # Mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """In the margin or on a note: hear from there. On a word with Ctrl: from that word."""
        self.settles_by_number = False
        row = self.row_at(event.position().y())
        if event.button() != Qt.MouseButton.LeftButton or row is None:
            return
        x = event.position().x()
        text = self.text_area(row)
        if self._in_margin(x):
            time = self._time_in_margin(row, event.position().y())
            cue = self._transcript.place_at(time)
            self.go_to((cue if cue is not None else self._grouping.cues_of(row)[0], 0))
            self.play_from.emit(time)
            return
        note = self._note_at(row, event.position().y())
        if note is not None and text.left() <= x <= text.right():
            self.go_to((self._grouping.cues_of(row)[0], 0))
            self.play_from.emit(note.start)
            return
        above_text = text.top() - 26 <= event.position().y() < text.top() - 2
        if self._shows_speaker(row) and above_text and text.left() <= x < text.left() + 180:
            self.go_to((self._grouping.cues_of(row)[0], 0))
            self.speaker_asked.emit(row)
            return
        super().mousePressEvent(event)
        self._session.close_edit_group()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.play_from.emit(self.caret_time())

    def viewportEvent(self, event: QEvent) -> bool:
        """Over a word: when it is said, and how sure that is; over the margin: what lies there."""
        if event.type() is QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            QToolTip.showText(event.globalPos(), self.told_at(QPointF(event.pos())), self)
            return True
        return super().viewportEvent(event)

    def told_at(self, point: QPointF) -> str:
        """What is said of a point of the sheet."""
        row = self.row_at(point.y())
        if row is None:
            return ""
        text = self.text_area(row)
        if self._in_margin(point.x()) and text.top() <= point.y() <= text.bottom():
            time = self._time_in_margin(row, point.y())
            about = self._margin.told_at(time, self._cues_in(row))
            return f"{clock(time, 1, hours=False)}{about}"
        for (_, _, word), span in zip(
            self._words_in(row), self._spans(self.shown_text(row)), strict=False
        ):
            if self._word_area(row, span, text).contains(point):
                return _told_of(word)
        return ""

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """A hand over the sound; the times of a word under the pointer."""
        super().mouseMoveEvent(event)
        x = event.position().x()
        row = self.row_at(event.position().y())
        in_margin = self._in_margin(x)
        on_note = row is not None and self._note_at(row, event.position().y()) is not None
        shape = (
            Qt.CursorShape.PointingHandCursor
            if in_margin or on_note
            else Qt.CursorShape.IBeamCursor
        )
        if self.viewport().cursor().shape() != shape:
            self.viewport().setCursor(shape)


def _told_of(word: Word) -> str:
    start, end = clock(word.start, 2, hours=False), clock(word.end, 2, hours=False)
    sure = "by hand" if word.certainty is None else f"certainty {word.certainty:.2f}"
    spans = "".join(f"   {LOOKS.get(span, span)}" for span in word.spans)
    return f"{word.text}   {start} – {end}   {sure}{spans}"
