"""The caret of a sheet and the selection."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from tamarind.desktop.editor.content import Content, Place
from tamarind.desktop.editor.geometry import RowGeometry
from tamarind.desktop.editor.shown import ShownText


class Caret(QObject):
    """A place, and the other end of the selection; the same place if nothing is selected."""

    moved = Signal()

    def __init__(
        self, content: Content, shown: ShownText, geometry: RowGeometry, parent: QObject
    ) -> None:
        super().__init__(parent)
        self._content, self._shown, self._geometry = content, shown, geometry
        self.place: Place = (0, 0)
        self.anchor: Place = (0, 0)
        self.goal: float | None = None
        """The x that up and down keep to, while nothing else moves the caret."""

    def set(self, place: Place, keep_anchor: bool = False, goal: float | None = None) -> None:
        """Move the caret and bring it into view; ``keep_anchor`` selects."""
        before = self.place[0]
        self.place = self.bounded(place)
        if not keep_anchor:
            self.anchor = self.place
        self.goal = goal
        left = self._shown.leave(self.place[0])
        if left is not None:
            self._geometry.forget(left)
        if before != self.place[0] and self._shown.composed:
            self._geometry.forget(before)
        self._geometry.show_row(self.place[0])
        self.moved.emit()

    def select(self, first: Place, last: Place) -> None:
        """Select from one place to another, where the caret goes."""
        self.anchor = self.bounded(first)
        self.set(last, keep_anchor=True)

    def select_all(self) -> None:
        """Select every row."""
        if self._content.row_count():
            last = self._content.row_count() - 1
            self.select((0, 0), (last, len(self._shown.of(last))))

    def select_word(self, place: Place) -> None:
        """Select the word at a place."""
        row, offset = place
        text = self._shown.of(row)
        end = text.find(" ", offset)
        start = text.rfind(" ", 0, offset) + 1
        self.select((row, start), (row, len(text) if end < 0 else end))

    def reset(self) -> None:
        """Go to the start of other contents."""
        self.place = self.anchor = (0, 0)
        self.goal = None

    def keep_within(self) -> None:
        """Move the caret to an existing place after rows have changed."""
        self.place, self.anchor = self.bounded(self.place), self.bounded(self.anchor)

    def bounded(self, place: Place) -> Place:
        """Return the nearest existing place."""
        count = self._content.row_count()
        if not count:
            return (0, 0)
        row = min(max(place[0], 0), count - 1)
        return row, min(max(place[1], 0), len(self._shown.of(row)))

    def selection(self) -> tuple[Place, Place] | None:
        """Return first and last place of the selection, in order."""
        if self.place == self.anchor:
            return None
        return min(self.place, self.anchor), max(self.place, self.anchor)

    def is_selected(self, place: Place) -> bool:
        """Whether a place lies in the selection."""
        selection = self.selection()
        return selection is not None and selection[0] <= place < selection[1]

    def selected_in(self, row: int) -> tuple[int, int] | None:
        """Return the selected part of a row's text as first and last offset."""
        selection = self.selection()
        if selection is None or not selection[0][0] <= row <= selection[1][0]:
            return None
        (first_row, start), (last_row, end) = selection
        return (
            start if row == first_row else 0,
            end if row == last_row else len(self._shown.of(row)),
        )

    def selected_text(self) -> str:
        """Return the selected text, with line ends between rows."""
        selection = self.selection()
        if selection is None:
            return ""
        (first_row, start), (last_row, end) = selection
        texts = [self._shown.of(row) for row in range(first_row, last_row + 1)]
        texts[-1] = texts[-1][:end]
        texts[0] = texts[0][start:]
        return "\n".join(texts)
