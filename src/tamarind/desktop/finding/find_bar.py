"""The find and replace bar, for this recording or the whole job, with a list of matches."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
)

from tamarind.application.session import Session
from tamarind.desktop.finding.searched import Searched
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.timecode import clock
from tamarind.transcript.find import Match, PatternError, Wanted, find, replace_all
from tamarind.transcript.model import Transcript

AT_ONCE = 4_000
"""In so many cues letters are found before anybody notices; in more of them beside the window."""

MOST_LISTED = 1_000
MOST_SEEN = 5
ROW_HEIGHT = 24
AROUND = 28
"""Letters shown on both sides of a place in the list."""


class FindBar(QFrame):
    """Stands under the sheet; Escape closes it and returns to the text."""

    places_changed = Signal()

    def __init__(self, session: Session, searched: Searched) -> None:
        super().__init__()
        self.setObjectName("bar")
        self._session, self._searched = session, searched
        self._places: list[tuple[int, Match]] = []
        self._at = -1
        self._is_looking = False
        self._asked = 0
        """The way to go to the next place, for when places are known."""
        self._tasks = tasks_of(self, "finding")
        self.wanted, self.replacement = QLineEdit(), QLineEdit()
        self.wanted.setPlaceholderText("Find")
        self.replacement.setPlaceholderText("Replace with")
        self.wanted.setAccessibleName("Find")
        self.replacement.setAccessibleName("Replace with")
        self.scope = QComboBox()
        self.scope.setAccessibleName("Where to search")
        self.scope.addItems(["in this recording", "in the whole job"])
        self.case, self.whole = QCheckBox("Match case"), QCheckBox("Whole words")
        self.pattern = QCheckBox("Pattern")
        self.pattern.setToolTip("A regular expression; \\1 in the replacement is its first group")
        self.count = label("", "note")
        self.list = QListWidget()
        self.list.setAccessibleName("Places")
        self.list.itemActivated.connect(lambda _item: self._go(self.list.currentRow()))
        self.list.itemClicked.connect(lambda _item: self._go(self.list.currentRow()))
        self._lay_out()
        self.wanted.textChanged.connect(self.look)
        self.wanted.returnPressed.connect(lambda: self.step(1))
        self.replacement.returnPressed.connect(self.replace_one)
        self.scope.currentIndexChanged.connect(self.look)
        session.texts.changed.connect(lambda _id: self.look() if self.isVisible() else None)
        session.shown_changed.connect(lambda: self.look() if self.isVisible() else None)
        self.hide()

    def _lay_out(self) -> None:
        """Place the two fields, the options, and the list of matches."""
        boxes = QGridLayout()
        boxes.setHorizontalSpacing(14)
        boxes.setVerticalSpacing(8)
        boxes.setColumnStretch(0, 1)
        finding, replacing, choices = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        for row in (finding, replacing, choices):
            row.setSpacing(12)
        finding.addWidget(button("Previous", lambda: self.step(-1), "link"))
        finding.addWidget(button("Next", lambda: self.step(1), "link"))
        finding.addWidget(self.count, 1)
        replacing.addWidget(button("Replace", self.replace_one, "link"))
        replacing.addWidget(button("Replace all", self.replace_all, "link"))
        replacing.addStretch(1)
        for choice in (self.case, self.whole, self.pattern):
            choices.addWidget(choice)
            choice.toggled.connect(self.look)
        choices.addStretch(1)
        choices.addWidget(self.scope)
        choices.addWidget(button("Close", self.close_bar, "link"))
        boxes.addWidget(self.wanted, 0, 0)
        boxes.addLayout(finding, 0, 1)
        boxes.addWidget(self.replacement, 1, 0)
        boxes.addLayout(replacing, 1, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        column.setSpacing(8)
        column.addLayout(boxes)
        column.addLayout(choices)
        column.addWidget(self.list)

    def open(self, replacing: bool = False) -> None:
        """Show the bar with the selection in it, ready to be typed over."""
        chosen = self._searched.selected_text()
        if chosen and "\n" not in chosen:
            self.wanted.setText(chosen)
        self.show()
        box = self.replacement if replacing and self.wanted.text() else self.wanted
        box.setFocus()
        box.selectAll()
        self.look()

    def close_bar(self) -> None:
        """Return to the text, at the last match."""
        self.hide()
        self._tasks.stop()
        self._is_looking, self._asked = False, 0
        self._places = []
        self.places_changed.emit()
        self._searched.take_focus()

    def marks(self) -> list[int]:
        """Return the times (ms) of the matches in the shown recording."""
        shown = self._session.shown
        if shown is None:
            return []
        cues = self._searched.transcript(shown).cues
        return [cues[f.row].start for key, f in self._places if key == shown and f.row < len(cues)]

    def look(self) -> None:
        """Find all matches again."""
        self._look("")

    def _look(self, done: str) -> None:
        """Find all matches; show what has just been ``done``, if anything, instead of their
        number."""
        wanted = self._wanted()
        texts = [(key, self._searched.transcript(key)) for key in self._keys()]
        if not wanted.text or _is_quick(texts, wanted):
            self._tasks.stop()
            self._show_found(found_in(texts, wanted, lambda: False), done)
            return
        is_current = self._tasks.is_current()
        self._is_looking = True
        self.count.setText("looking…")
        self._tasks.run(
            lambda: found_in(texts, wanted, lambda: not is_current()),
            lambda found: self._show_found(found, done),
            lambda sentence: self._show_found(([], sentence), done),
        )

    def _show_found(self, found: tuple[list[tuple[int, Match]], str], done: str) -> None:
        self._places, said = found
        self._at = -1
        self._is_looking = False
        self.count.setText(done or (said if self.wanted.text() else ""))
        self._fill_list()
        self.places_changed.emit()
        asked, self._asked = self._asked, 0
        if asked:
            self.step(asked)

    def step(self, direction: int) -> None:
        """Go to the next or previous match from the caret, round the ends."""
        if self._is_looking:
            self._asked = direction
            return
        if not self._places:
            return
        keys = [recording.id for recording in self._session.recordings.all()]
        order = {key: place for place, key in enumerate(keys)}
        shown = self._session.shown
        here = (order.get(shown, 0) if shown is not None else 0, *self._start())
        spots = [(order[key], found.row, found.first) for key, found in self._places]
        if direction > 0:
            later = (n for n, spot in enumerate(spots) if spot > here)
            self._go(next(later, 0))
        else:
            earlier = (n for n in range(len(spots) - 1, -1, -1) if spots[n] < here)
            self._go(next(earlier, len(spots) - 1))

    def replace_one(self) -> None:
        """Replace the selected match, or go to the first one."""
        here = self._start()
        shown = self._session.shown
        for key, found in () if self._is_looking else self._places:
            if key == shown and (found.row, found.first) == here:
                self._replace(key, [found])
                break
        self.step(1)

    def replace_all(self) -> None:
        """Replace every match, as one step of undo for each recording."""
        texts = [(key, self._searched.transcript(key)) for key in self._keys()]
        wanted, by = self._wanted(), self.replacement.text()

        def work() -> list[tuple[int, Transcript, Transcript, int]]:
            return [(key, text, *replace_all(text, wanted, by)) for key, text in texts]

        if not _is_quick(texts, wanted):
            self._is_looking = False
            self.count.setText("replacing…")
            self._tasks.run(work, self._take_replaced, self.count.setText)
            return
        try:
            self._take_replaced(work())
        except PatternError as error:
            self.count.setText(str(error))

    def _take_replaced(self, replaced: list[tuple[int, Transcript, Transcript, int]]) -> None:
        """Put in the new texts; a recording that was edited meanwhile stays as it is."""
        total = 0
        for key, before, after, count in replaced:
            if (
                self._session.recordings.has(key)
                and self._searched.transcript(key) is before
                and count
            ):
                self._searched.replace(key, after)
                total += count
        self._look(f"{total} replaced" if total else "nothing to replace")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Close on Escape."""
        if event.key() == Qt.Key.Key_Escape:
            self.close_bar()
        else:
            super().keyPressEvent(event)

    def _replace(self, key: int, places: list[Match] | None) -> int:
        text = self._searched.transcript(key)
        try:
            new, count = replace_all(text, self._wanted(), self.replacement.text(), places)
        except PatternError as error:
            self.count.setText(str(error))
            return 0
        if new is not text:
            self._searched.replace(key, new)
        return count

    def _go(self, place: int) -> None:
        if not 0 <= place < len(self._places):
            return
        self._at = place
        key, found = self._places[place]
        if key != self._session.shown:
            places = self._places
            self._session.show(key)
            self._places = places
        self._searched.select(found)
        self.list.setCurrentRow(place)
        self.count.setText(f"{place + 1} of {len(self._places)}")

    def _start(self) -> tuple[int, int]:
        selected, (cue, offset) = self._searched.start()
        return (cue, offset) if selected else (cue, offset - 1)

    def _keys(self) -> list[int]:
        if self.scope.currentIndex():
            return [recording.id for recording in self._session.recordings.all()]
        return [self._session.shown] if self._session.shown is not None else []

    def _wanted(self) -> Wanted:
        return Wanted(
            self.wanted.text(),
            self.case.isChecked(),
            self.whole.isChecked(),
            self.pattern.isChecked(),
        )

    def _fill_list(self) -> None:
        self.list.clear()
        whole_job = bool(self.scope.currentIndex())
        for key, found in self._places[:MOST_LISTED]:
            cue = self._searched.transcript(key).cues[found.row]
            text = cue.text
            before = text[max(found.first - AROUND, 0) : found.first]
            before = f"…{before}" if found.first > AROUND else before
            after = text[found.last : found.last + AROUND]
            after = f"{after}…" if found.last + AROUND < len(text) else after
            name = f"{self._session.recordings.get(key).name}   " if whole_job else ""
            time = clock(cue.start, 1, hours=False)
            line = f"{time}   {name}{before}{text[found.first : found.last]}{after}"
            QListWidgetItem(line, self.list)
        rows = min(len(self._places), MOST_SEEN)
        self.list.setFixedHeight(rows * ROW_HEIGHT + 12)
        self.list.setVisible(bool(self._places))


def _is_quick(texts: Sequence[tuple[int, Transcript]], wanted: Wanted) -> bool:
    """Whether a search is too quick to notice: plain letters in texts that are not long."""
    return not wanted.pattern and sum(len(text.cues) for _, text in texts) <= AT_ONCE


def found_in(
    texts: Sequence[tuple[int, Transcript]], wanted: Wanted, stopped: Callable[[], bool]
) -> tuple[list[tuple[int, Match]], str]:
    """Return all matches in some recordings' texts, and what to say of them."""
    places: list[tuple[int, Match]] = []
    try:
        for key, text in texts:
            places += [(key, found) for found in find(text, wanted, stopped)]
    except PatternError as error:
        return [], str(error)
    return places, _many(len(places))


def _many(count: int) -> str:
    return "not found" if not count else "1 place" if count == 1 else f"{count} places"
