"""The sequence: excerpts as one text, in which words are cut, split and moved."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QFont, QKeyEvent, QTextBlockFormat, QTextCharFormat, QTextCursor
from PySide6.QtWidgets import QTextEdit

from tamarind.application.excerpting import Key
from tamarind.desktop.theme import colours, fonts
from tamarind.formats.timecode import clock
from tamarind.job.excerpts import Chosen
from tamarind.transcript.excerpts import Span, words_between
from tamarind.transcript.model import Word

TEXT_SIZE = 19


@dataclass(frozen=True, slots=True)
class Said:
    """A word of the sequence: its range of letters, and its excerpt."""

    first: int
    last: int
    key: Key
    word: Word
    is_cut: bool


class SequenceSheet(QTextEdit):
    """A read-only text with a caret; Delete, Enter and Ctrl with the arrows edit the excerpts."""

    chosen = Signal(object)
    taken_out = Signal(object, int, int)
    """Take the words between two times (ms) out of an excerpt."""
    restored = Signal(object, int, int)
    split = Signal(object, int)
    moved = Signal(int)
    played = Signal(int)
    """From a time of the chosen excerpt on."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Sequence")
        self.setReadOnly(True)
        self.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse
            | Qt.TextInteractionFlag.TextSelectableByKeyboard
        )
        self._words: list[Said] = []
        self._starts: list[int] = []
        self._heads: list[tuple[int, Key]] = []
        self._fills = False
        self.cursorPositionChanged.connect(self._caret_moved)

    def show_excerpts(self, found: Sequence[Chosen]) -> None:
        """Show excerpts one under the other; the caret keeps its place as far as possible."""
        self._fills = True
        at = self.textCursor().position()
        held = self.word_at(at)
        scrolled = self.verticalScrollBar().value()
        self.clear()
        self._words.clear()
        self._heads.clear()
        cursor = self.textCursor()
        cursor.beginEditBlock()
        for number, one in enumerate(found, 1):
            self._add(cursor, number, one)
        cursor.endEditBlock()
        self._starts = [word.first for word in self._words]
        if held is not None:
            # What stands above may have got shorter.
            same = (word for word in self._words
                    if (word.key, word.word.start) == (held.key, held.word.start))  # fmt: skip
            at += next((word.first - held.first for word in same), 0)
        cursor.setPosition(min(max(at, 0), max(self.document().characterCount() - 1, 0)))
        self.setTextCursor(cursor)
        self.verticalScrollBar().setValue(scrolled)
        self._fills = False

    def mark(self, key: Key | None) -> None:
        """Highlight the selected excerpt."""
        place = next((first for first, of in self._heads if of == key), None)
        marks = []
        if place is not None:
            mark = QTextEdit.ExtraSelection()
            mark.cursor = QTextCursor(self.document())
            mark.cursor.setPosition(place)
            mark.format.setBackground(QColor(colours.LEAF_PALE))
            mark.format.setProperty(QTextCharFormat.Property.FullWidthSelection, True)
            marks.append(mark)
        self.setExtraSelections(marks)

    def go_to(self, key: Key) -> None:
        """Move the caret to an excerpt, unless it is there."""
        if self.key_at(self.textCursor().position()) == key:
            return
        place = next((first for first, of in self._heads if of == key), None)
        if place is not None:
            cursor = self.textCursor()
            cursor.setPosition(place)
            self._fills = True
            self.setTextCursor(cursor)
            self._fills = False
            self.ensureCursorVisible()

    def key_at(self, position: int) -> Key | None:
        """Return the excerpt at a position of the text."""
        at = bisect_right([first for first, _ in self._heads], position)
        return self._heads[at - 1][1] if at else None

    def word_at(self, position: int) -> Said | None:
        """Return the word at a position, or the one before it."""
        at = bisect_right(self._starts, position)
        return self._words[at - 1] if at else None

    def chosen_words(self) -> list[Said]:
        """Return the words in the selection; without one the word at the caret."""
        cursor = self.textCursor()
        if not cursor.hasSelection():
            word = self.word_at(cursor.position())
            here = word is not None and word.first <= cursor.position() <= word.last
            return [word] if word is not None and here else []
        start, end = cursor.selectionStart(), cursor.selectionEnd()
        return [word for word in self._words if word.last > start and word.first < end]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Cut or restore with Delete, split with Enter, move with Ctrl and the arrows, play with
        Space."""
        key = event.key()
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if control and key in steps:
            self.moved.emit(steps[Qt.Key(key)])
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._cut()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not control:
            word = self.word_at(self.textCursor().position())
            if word is not None:
                self.split.emit(word.key, word.word.start)
        elif key == Qt.Key.Key_Space and not event.modifiers():
            word = self.word_at(self.textCursor().position())
            if word is not None:
                self.played.emit(word.word.start)
        else:
            super().keyPressEvent(event)

    def _cut(self) -> None:
        words = self.chosen_words()
        if not words:
            return
        key = words[0].key
        mine = [word for word in words if word.key == key]
        span: Span = mine[0].word.start, mine[-1].word.end
        signal = self.restored if all(word.is_cut for word in mine) else self.taken_out
        signal.emit(key, *span)

    def _add(self, cursor: QTextCursor, number: int, one: Chosen) -> None:
        plain, block = QTextCharFormat(), QTextBlockFormat()
        if self._heads:
            cursor.insertBlock(block, plain)
        self._heads.append((cursor.position(), one.key))
        block.setTopMargin(14)
        head = QTextCharFormat()
        head.setFont(fonts.interface(13, QFont.Weight.DemiBold))
        head.setForeground(QColor(colours.BARK))
        cursor.setBlockFormat(block)
        cursor.insertText(f"{number}  {one.name}", head)
        head.setFont(fonts.interface(13))
        head.setForeground(QColor(colours.GREY))
        begins = clock(one.excerpt.start, 1, hours=False)
        about = (one.speakers, one.recording.name, begins, f"{one.excerpt.length / 1000:.1f} s")
        cursor.insertText("   " + " · ".join(filter(None, about)), head)
        block = QTextBlockFormat()
        block.setTopMargin(3)
        block.setBottomMargin(6)
        cursor.insertBlock(block, plain)
        excerpt = one.excerpt
        said = list(words_between(one.document.transcript, excerpt.start, excerpt.end))
        if not said:
            gone = QTextCharFormat()
            gone.setFont(fonts.interface(14))
            gone.setForeground(QColor(colours.PLUM))
            cursor.insertText(f"Its words have been deleted from the text: “{excerpt.quote}”", gone)
        plain.setFont(fonts.text(TEXT_SIZE))
        plain.setForeground(QColor(colours.INK))
        taken = QTextCharFormat(plain)
        taken.setFontStrikeOut(True)
        taken.setForeground(QColor(colours.GREY))
        at, runs = cursor.position(), list[tuple[bool, str]]()
        for place, (_, word) in enumerate(said):
            middle = (word.start + word.end) / 2
            is_cut = any(a <= middle < b for a, b in excerpt.cuts)
            if place and not word.glued:
                runs.append((is_cut and self._words[-1].is_cut, " "))
                at += 1
            runs.append((is_cut, word.text))
            first, at = at, at + _units(word.text)
            self._words.append(Said(first, at, one.key, word, is_cut))
        # A run at a time: to insert is what takes long.
        for is_cut, parts in groupby(runs, key=lambda run: run[0]):
            cursor.insertText("".join(text for _, text in parts), taken if is_cut else plain)

    def _caret_moved(self) -> None:
        if self._fills:
            return
        key = self.key_at(self.textCursor().position())
        if key is not None:
            self.chosen.emit(key)


def _units(text: str) -> int:
    """Return the length of a text in UTF-16 units, in which documents of Qt count."""
    return len(text.encode("utf-16-le", "surrogatepass")) // 2
