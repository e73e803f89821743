"""A sheet of text in rows, edited like one text: caret, selection, clipboard, input methods."""

from __future__ import annotations

from contextlib import AbstractContextManager, nullcontext

from PySide6.QtCore import QMimeData, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QDrag,
    QDragEnterEvent,
    QDragMoveEvent,
    QDropEvent,
    QFont,
    QFontMetricsF,
    QGuiApplication,
    QInputMethodEvent,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QTextLayout,
)
from PySide6.QtWidgets import QApplication

from tamarind.desktop.theme import colours
from tamarind.desktop.widgets.row_layout import line_x
from tamarind.desktop.widgets.row_view import Place, RowView
from tamarind.transcript.bounds import clean_text, tokens_of
from tamarind.transcript.direction import is_right_to_left


class TextSheet(RowView):
    """Base of the sheets of Proof and Translation."""

    caret_moved = Signal()

    def __init__(self, font: QFont) -> None:
        super().__init__(font)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_InputMethodEnabled)
        self.setAcceptDrops(True)
        self.viewport().setCursor(Qt.CursorShape.IBeamCursor)
        self._caret: Place = (0, 0)
        self._anchor: Place = (0, 0)
        self._goal_x: float | None = None
        self._typed: tuple[int, str, str] | None = None
        self._coming: tuple[int, str, str] | None = None
        self._preedit = ""
        self._pressed: QPointF | None = None
        self._caret_on = True
        self._blink = QTimer(self, interval=QApplication.cursorFlashTime() // 2 or 500)
        self._blink.timeout.connect(self._flash)

    # What a subclass says

    def write(self, first: Place, last: Place, text: str, typed: bool) -> None:
        """Replace what is between two places; ``typed`` joins with the typing before it."""
        raise NotImplementedError

    def break_row(self, place: Place) -> bool:
        """Enter was pressed; whether a new row begins there now."""
        return False

    def as_one(self) -> AbstractContextManager[None]:
        """Within, all that is written is one step of undo."""
        return nullcontext()

    def description(self) -> str:
        """What is known of the row at the caret, for those who do not see it."""
        return f"row {self._caret[0] + 1} of {self.row_count()}"

    # Contents

    def reset(self) -> None:
        """Show other contents, from their start."""
        self._typed = None
        self._caret = self._anchor = (0, 0)
        super().reset()

    def refresh(self, first: int, old_last: int, new_last: int) -> None:
        """Rows from ``first`` up to ``old_last`` have become those up to ``new_last``."""
        if self._coming is not None:
            self._typed, self._coming = self._coming, None
        super().refresh(first, old_last, new_last)
        self._caret = self._bounded(self._caret)
        self._anchor = self._bounded(self._anchor)

    def shown_text(self, row: int) -> str:
        """A row's text as it stands on the screen: spaces just typed are still there."""
        text = self.row_text(row)
        if self._typed and self._typed[0] == row and self._typed[2] == text:
            return self._typed[1]
        return text

    def composed(self, row: int) -> tuple[int, str]:
        """An input method composes at the caret."""
        return (self._caret[1], self._preedit) if row == self._caret[0] else (0, "")

    # Caret

    @property
    def caret(self) -> Place:
        """Where the caret is."""
        return self._caret

    def selection(self) -> tuple[Place, Place] | None:
        """First and last place of what is selected, in order."""
        if self._caret == self._anchor:
            return None
        return min(self._caret, self._anchor), max(self._caret, self._anchor)

    def set_caret(self, place: Place, keep_anchor: bool = False, keep_goal: bool = False) -> None:
        """Put the caret somewhere and bring it into view."""
        before = self._caret[0]
        self._caret = self._bounded(place)
        if not keep_anchor:
            self._anchor = self._caret
        if not keep_goal:
            self._goal_x = None
        if self._typed and self._typed[0] != self._caret[0]:
            row, self._typed = self._typed[0], None
            self.restyle(row)
        self._caret_on = True
        if before != self._caret[0]:
            self.restyle(before)
        self.show_row(self._caret[0])
        self.updateMicroFocus()
        self.viewport().update()
        self.caret_moved.emit()

    # Painting

    def paint_over(self, painter: QPainter, row: int) -> None:
        """The caret."""
        if row == self._caret[0] and self.hasFocus() and self._caret_on:
            painter.fillRect(self.caret_area(), QColor(colours.PULP))

    def selected(self, row: int) -> tuple[int, int] | None:
        """From where to where a row's text is selected."""
        selection = self.selection()
        if selection is None or not selection[0][0] <= row <= selection[1][0]:
            return None
        (first_row, start), (last_row, end) = selection
        return (
            start if row == first_row else 0,
            end if row == last_row else len(self.shown_text(row)),
        )

    def caret_area(self) -> QRectF:
        """Where the caret is on the viewport."""
        row, offset = self._caret
        area = self.text_area(row)
        offset += len(self._preedit)
        line = self._made(row).layout.lineForTextPosition(offset)
        if not line.isValid():
            return QRectF(area.left(), area.top(), 2, QFontMetricsF(self._text_font).height())
        return QRectF(area.left() + line_x(line, offset), area.top() + line.y(), 2, line.height())

    def _flash(self) -> None:
        self._caret_on = not self._caret_on
        if 0 <= self._caret[0] < len(self._heights):
            self.viewport().update(self.row_area(self._caret[0]).toAlignedRect())

    def focusInEvent(self, event: object) -> None:
        """The caret shows."""
        self._caret_on = True
        self._blink.start()
        self.viewport().update()

    def focusOutEvent(self, event: object) -> None:
        """The caret hides."""
        self._blink.stop()
        self.viewport().update()

    # Editing

    def insert(self, text: str, typed: bool = True) -> None:
        """Put text at the caret, in place of what is selected."""
        if not self.row_count():
            return
        first, last = self.selection() or (self._caret, self._caret)
        text = clean_text(text)
        text = _on_one_line(text) if not typed else text.replace("\n", " ")
        self._replace(first, last, text, typed)

    def copy(self) -> None:
        """Put what is selected on the clipboard, a row a line."""
        text = self.selected_text()
        if text:
            QGuiApplication.clipboard().setText(text)

    def cut(self) -> None:
        """Copy and remove what is selected."""
        if self.selection():
            self.copy()
            self.insert("", typed=False)

    def paste(self) -> None:
        """Put in what is on the clipboard, on one line."""
        self.insert(QGuiApplication.clipboard().text(), typed=False)

    def select_all(self) -> None:
        """Select every row."""
        if self.row_count():
            last = self.row_count() - 1
            self._anchor = (0, 0)
            self.set_caret((last, len(self.shown_text(last))), keep_anchor=True)

    def selected_text(self) -> str:
        """What is selected, rows apart by line ends."""
        selection = self.selection()
        if selection is None:
            return ""
        (first_row, start), (last_row, end) = selection
        texts = [self.shown_text(row) for row in range(first_row, last_row + 1)]
        texts[-1] = texts[-1][:end]
        texts[0] = texts[0][start:]
        return "\n".join(texts)

    def _replace(self, first: Place, last: Place, text: str, typed: bool) -> None:
        head = self.shown_text(first[0])[: first[1]]
        tail = self.shown_text(last[0])[last[1] :]
        if first[0] != last[0] and tail and not text:
            text = " " if head and not head.endswith(" ") else ""
        whole = head + text + tail
        offset = len(head) + len(text)
        # Taken over when the rows are refreshed, which is within the writing.
        self._coming = (first[0], whole, " ".join(whole.split()))
        self.write(first, last, text, typed)
        if self._coming is not None:
            self._typed, self._coming = self._coming, None
            self.restyle(first[0])
        self._measure_visible()
        if self.shown_text(first[0]) != whole:
            offset = min(offset, len(self.shown_text(first[0])))
        self.set_caret((first[0], offset))

    def _bounded(self, place: Place) -> Place:
        if not self.row_count():
            return (0, 0)
        row = min(max(place[0], 0), self.row_count() - 1)
        return row, min(max(place[1], 0), len(self.shown_text(row)))

    # Keys

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Movement and editing as in any text; all else goes on to the window."""
        if not self.row_count():
            event.ignore()
            return
        if self._move_by_key(event) or self._edit_by_key(event):
            event.accept()
            return
        text = event.text()
        commanding = event.modifiers() & (
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier
        )
        if text and text.isprintable() and not commanding:
            self.insert(text)
            event.accept()
        else:
            event.ignore()

    def _edit_by_key(self, event: QKeyEvent) -> bool:
        standard = QKeySequence.StandardKey
        row, _ = self._caret
        if event.matches(standard.Copy):
            self.copy()
        elif event.matches(standard.Cut):
            self.cut()
        elif event.matches(standard.Paste):
            self.paste()
        elif event.matches(standard.SelectAll):
            self.select_all()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers():
            if self.break_row(self._caret):
                self.set_caret((row + 1, 0))
        elif event.matches(standard.DeleteStartOfWord) or event.matches(standard.DeleteEndOfWord):
            if not self.selection():
                forward = event.matches(standard.DeleteEndOfWord)
                self._anchor = self._step_word(1 if forward else -1)
            self._delete_selection()
        elif event.key() == Qt.Key.Key_Backspace:
            if not self.selection():
                self._anchor = self._step(-1)
            self._delete_selection()
        elif event.matches(standard.Delete):
            if not self.selection():
                self._anchor = self._step(1)
            self._delete_selection()
        else:
            return False
        return True

    def _delete_selection(self) -> None:
        selection = self.selection()
        if selection:
            self._replace(*selection, "", True)

    def _move_by_key(self, event: QKeyEvent) -> bool:
        standard = QKeySequence.StandardKey
        row, _ = self._caret
        bottom = self.row_count() - 1
        # Where text runs to the left, the key to the right goes back.
        ahead = -1 if self.shown_text(row) and is_right_to_left(self.shown_text(row)) else 1
        moves = (
            (standard.MoveToNextChar, standard.SelectNextChar, lambda: self._step(ahead)),
            (standard.MoveToPreviousChar, standard.SelectPreviousChar, lambda: self._step(-ahead)),
            (standard.MoveToNextWord, standard.SelectNextWord, lambda: self._step_word(ahead)),
            (
                standard.MoveToPreviousWord,
                standard.SelectPreviousWord,
                lambda: self._step_word(-ahead),
            ),
            (
                standard.MoveToStartOfLine,
                standard.SelectStartOfLine,
                lambda: self._line_edge(False),
            ),
            (standard.MoveToEndOfLine, standard.SelectEndOfLine, lambda: self._line_edge(True)),
            (standard.MoveToStartOfDocument, standard.SelectStartOfDocument, lambda: (0, 0)),
            (
                standard.MoveToEndOfDocument,
                standard.SelectEndOfDocument,
                lambda: (bottom, len(self.shown_text(bottom))),
            ),
        )
        for move, select, where in moves:
            if event.matches(move) or event.matches(select):
                self.set_caret(where(), keep_anchor=event.matches(select))
                return True
        vertical = (
            (standard.MoveToNextLine, standard.SelectNextLine, 1),
            (standard.MoveToPreviousLine, standard.SelectPreviousLine, -1),
        )
        for move, select, direction in vertical:
            if event.matches(move) or event.matches(select):
                self._move_line(direction, event.matches(select))
                return True
        pages = (
            (standard.MoveToNextPage, standard.SelectNextPage, 1),
            (standard.MoveToPreviousPage, standard.SelectPreviousPage, -1),
        )
        for move, select, direction in pages:
            if event.matches(move) or event.matches(select):
                step = direction * self.viewport().height() * 0.8
                target = self.place_at(QPointF(self._goal(), self.caret_area().top() + step))
                self.set_caret(target or self._caret, keep_anchor=event.matches(select))
                return True
        return False

    def _step(self, direction: int) -> Place:
        row, offset = self._caret
        layout = self._made(row).layout
        if direction > 0:
            if offset < len(self.shown_text(row)):
                return row, layout.nextCursorPosition(offset)
            return (row + 1, 0) if row + 1 < self.row_count() else self._caret
        if offset > 0:
            return row, layout.previousCursorPosition(offset)
        return (row - 1, len(self.shown_text(row - 1))) if row else self._caret

    def _step_word(self, direction: int) -> Place:
        row, offset = self._caret
        at_edge = offset == (len(self.shown_text(row)) if direction > 0 else 0)
        if at_edge:
            return self._step(direction)
        layout = self._made(row).layout
        mode = QTextLayout.CursorMode.SkipWords
        if direction > 0:
            return row, layout.nextCursorPosition(offset, mode)
        return row, layout.previousCursorPosition(offset, mode)

    def _line_edge(self, end: bool) -> Place:
        row, offset = self._caret
        line = self._made(row).layout.lineForTextPosition(offset)
        if not line.isValid():
            return self._caret
        stop = line.textStart() + line.textLength()
        last_line = stop >= len(self.shown_text(row))
        return row, (stop if last_line else stop - 1) if end else line.textStart()

    def _goal(self) -> float:
        """The x that up and down keep to, on the viewport."""
        if self._goal_x is None:
            row, offset = self._caret
            line = self._made(row).layout.lineForTextPosition(offset)
            x = line_x(line, offset) if line.isValid() else 0.0
            self._goal_x = self.text_span()[0] + x
        return self._goal_x

    def _move_line(self, direction: int, select: bool) -> None:
        row, offset = self._caret
        goal = self._goal()
        layout = self._made(row).layout
        line = layout.lineForTextPosition(offset)
        number = (line.lineNumber() if line.isValid() else 0) + direction
        if not 0 <= number < layout.lineCount():
            row += direction
            if not 0 <= row < self.row_count():
                edge = 0 if direction < 0 else len(self.shown_text(self._caret[0]))
                self.set_caret((self._caret[0], edge), keep_anchor=select)
                return
            layout = self._made(row).layout
            number = 0 if direction > 0 else layout.lineCount() - 1
        target = layout.lineAt(number)
        position = target.xToCursor(goal - self.text_span()[0])
        self.set_caret((row, position), keep_anchor=select, keep_goal=True)

    # Mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """The caret goes where the pointer is; with Shift the selection is extended."""
        if event.button() != Qt.MouseButton.LeftButton:
            return
        place = self.place_at(event.position())
        if place is None:
            return
        extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._is_selected(place) and not extend:
            self._pressed = event.position()
        else:
            self.set_caret(place, keep_anchor=extend)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """What was selected and not dragged is no longer selected."""
        if self._pressed is not None:
            place, self._pressed = self.place_at(self._pressed), None
            if place is not None:
                self.set_caret(place)

    def _is_selected(self, place: Place) -> bool:
        selection = self.selection()
        return selection is not None and selection[0] <= place < selection[1]

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Dragging selects; what is selected is dragged elsewhere."""
        if self._pressed is not None:
            moved = (event.position() - self._pressed).manhattanLength()
            if moved >= QApplication.startDragDistance():
                self._pressed = None
                self._drag()
            return
        if event.buttons() & Qt.MouseButton.LeftButton:
            place = self.place_at(event.position())
            if place is not None and place != self._caret:
                self.set_caret(place, keep_anchor=True)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Selects a word."""
        place = self.place_at(event.position())
        if place is None:
            return
        row, offset = place
        text = self.shown_text(row)
        start = text.rfind(" ", 0, offset) + 1
        end = text.find(" ", offset)
        self._anchor = (row, start)
        self.set_caret((row, len(text) if end < 0 else end), keep_anchor=True)

    def _drag(self) -> None:
        data = QMimeData()
        data.setText(self.selected_text())
        drag = QDrag(self)
        drag.setMimeData(data)
        drag.exec(Qt.DropAction.CopyAction | Qt.DropAction.MoveAction, Qt.DropAction.MoveAction)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Text may be dropped here; files are for the window."""
        if event.mimeData().hasText() and not event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        """The caret shows where it would be dropped."""
        if self.place_at(event.position()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Put it there; with Ctrl, or from elsewhere, as a copy."""
        place = self.place_at(event.position())
        if place is None:
            return
        own = event.source() is self and self.selection() is not None
        if own and event.dropAction() == Qt.DropAction.MoveAction:
            self.move_selection(place)
        else:
            self.set_caret(place)
            self.insert(self.spaced(place, event.mimeData().text()), typed=False)
        event.acceptProposedAction()

    def move_selection(self, place: Place) -> None:
        """Move what is selected to a place outside of it, as one step."""
        selection = self.selection()
        if selection is None or selection[0] <= place <= selection[1]:
            return
        text = " ".join(self.selected_text().split())
        first, last = selection
        with self.as_one():
            if place > last:
                # What comes later goes first, so that the places before it stay.
                self.set_caret(place)
                self.insert(self.spaced(place, text), typed=False)
                self._replace(first, last, "", False)
            else:
                self._replace(first, last, "", False)
                self.set_caret(place)
                self.insert(self.spaced(place, text), typed=False)

    def spaced(self, place: Place, text: str) -> str:
        """A text apart from the words around a place."""
        line = self.shown_text(place[0])
        before = " " if place[1] and not line[place[1] - 1].isspace() else ""
        after = " " if place[1] < len(line) and not line[place[1]].isspace() else ""
        return f"{before}{text}{after}"

    # Input methods

    def inputMethodEvent(self, event: QInputMethodEvent) -> None:
        """Text that is being composed is shown in place; what is committed is inserted."""
        if not self.row_count():
            return
        self._preedit = event.preeditString()
        if event.commitString():
            preedit, self._preedit = self._preedit, ""
            self.insert(event.commitString())
            self._preedit = preedit
        self.restyle(self._caret[0])
        self.updateMicroFocus()
        self.viewport().update()

    def inputMethodQuery(self, query: Qt.InputMethodQuery) -> object:
        """What an input method asks of the text around the caret."""
        if not self.row_count():
            return super().inputMethodQuery(query)
        row, offset = self._caret
        if query == Qt.InputMethodQuery.ImCursorRectangle:
            return self.caret_area()
        if query == Qt.InputMethodQuery.ImSurroundingText:
            return self.shown_text(row)
        if query == Qt.InputMethodQuery.ImCursorPosition:
            return offset
        if query == Qt.InputMethodQuery.ImAnchorPosition:
            return self._anchor[1] if self._anchor[0] == row else offset
        if query == Qt.InputMethodQuery.ImCurrentSelection:
            return self.selected_text()
        return super().inputMethodQuery(query)


def _on_one_line(text: str) -> str:
    """A text with single spaces; one at either end stays, as it keeps words apart."""
    words = " ".join(tokens_of(text))
    before = " " if words and text[:1] == " " else ""
    return before + words + (" " if words and text[-1:] == " " else "")
