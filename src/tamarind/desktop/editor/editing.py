"""Edit the text of a sheet: typing, deleting, the clipboard, moving text."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence

from tamarind.desktop.editor.caret import Caret
from tamarind.desktop.editor.content import Content, Place, Writer
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.editor.movement import Movement
from tamarind.desktop.editor.shown import ShownText
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.tokens import joined, tokens_of

_COMMANDING = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


class Editing:
    """All edits go through ``_replace`` to the writer."""

    def __init__(
        self,
        content: Content,
        writer: Writer,
        shown: ShownText,
        *,
        geometry: RowGeometry,
        caret: Caret,
        movement: Movement,
    ) -> None:
        self._content, self._writer, self._shown = content, writer, shown
        self._geometry, self._caret, self._movement = geometry, caret, movement

    def insert(self, text: str, typed: bool = True) -> None:
        """Insert text at the caret, replacing the selection."""
        if not self._content.row_count():
            return
        place = self._caret.place
        first, last = self._caret.selection() or (place, place)
        text = clean_text(text)
        text = text.replace("\n", " ") if typed else _on_one_line(text)
        self._replace(first, last, text, typed)

    def delete(self, to: Place) -> None:
        """Delete the selection, or else what lies between the caret and a place."""
        if self._caret.selection() is None:
            self._caret.anchor = to
        selection = self._caret.selection()
        if selection:
            self._replace(*selection, "", True)

    def copy(self) -> None:
        """Copy the selection, one row a line."""
        text = self._caret.selected_text()
        if text:
            QGuiApplication.clipboard().setText(text)

    def cut(self) -> None:
        """Copy and delete the selection."""
        if self._caret.selection():
            self.copy()
            self.insert("", typed=False)

    def paste(self) -> None:
        """Insert the clipboard's text, on one line."""
        self.insert(QGuiApplication.clipboard().text(), typed=False)

    def drop(self, place: Place, text: str) -> None:
        """Insert a text at a place, with spaces between it and the words there."""
        self._caret.set(place)
        self.insert(self.spaced(place, text), typed=False)

    def move_selection(self, place: Place) -> None:
        """Move the selection to a place outside of it, as one step."""
        selection = self._caret.selection()
        if selection is None or selection[0] <= place <= selection[1]:
            return
        text = " ".join(self._caret.selected_text().split())
        first, last = selection
        with self._writer.as_one():
            if place > last:
                # What comes later goes first, so that the places before it stay.
                self.drop(place, text)
                self._replace(first, last, "", False)
            else:
                self._replace(first, last, "", False)
                self.drop(place, text)

    def spaced(self, place: Place, text: str) -> str:
        """Return a text with spaces between it and the words around a place."""
        line = self._shown.of(place[0])
        before = " " if place[1] and not line[place[1] - 1].isspace() else ""
        after = " " if place[1] < len(line) and not line[place[1]].isspace() else ""
        return f"{before}{text}{after}"

    def by_key(self, event: QKeyEvent) -> bool:
        """Edit as a key says; return whether it is an editing key."""
        key = QKeySequence.StandardKey
        move = self._movement
        if event.matches(key.Copy):
            self.copy()
        elif event.matches(key.Cut):
            self.cut()
        elif event.matches(key.Paste):
            self.paste()
        elif event.matches(key.SelectAll):
            self._caret.select_all()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers():
            place = self._writer.break_row(self._caret.place)
            if place is not None:
                self._caret.set(place)
        elif event.matches(key.DeleteStartOfWord):
            self.delete(move.step_word(-1))
        elif event.matches(key.DeleteEndOfWord):
            self.delete(move.step_word(1))
        elif event.key() == Qt.Key.Key_Backspace:
            self.delete(move.step(-1))
        elif event.matches(key.Delete):
            self.delete(move.step(1))
        elif event.text() and event.text().isprintable() and not event.modifiers() & _COMMANDING:
            self.insert(event.text())
        else:
            return False
        return True

    def _replace(self, first: Place, last: Place, text: str, typed: bool) -> None:
        if not self._writer.joins_rows and not text and self._is_seam(first, last):
            self._caret.set(first if self._caret.place == last else last)
            return
        head = self._shown.of(first[0])[: first[1]]
        tail = self._shown.of(last[0])[last[1] :]
        if first[0] != last[0] and tail and not text:
            text = " " if head and not head.endswith(" ") else ""
        whole = head + text + tail
        offset = len(head) + len(text)
        # Taken over when the rows are refreshed, which is within the writing.
        self._shown.expect(first[0], whole)
        self._writer.write(first, last, text, typed)
        if self._shown.arrive():
            self._geometry.forget(first[0])
        self._geometry.measure_visible()
        there = self._shown.of(first[0]) if first[0] < self._content.row_count() else ""
        self._caret.set((first[0], offset if there == whole else min(offset, len(there))))

    def _is_seam(self, first: Place, last: Place) -> bool:
        """Whether only the end of a row lies between two places."""
        return last == (first[0] + 1, 0) and first[1] == len(self._shown.of(first[0]))


def _on_one_line(text: str) -> str:
    """Return a text with single spaces; one at either end stays, since it separates words."""
    words = joined(tokens_of(text))
    before = " " if words and text[:1] == " " else ""
    return before + words + (" " if words and text[-1:] == " " else "")
