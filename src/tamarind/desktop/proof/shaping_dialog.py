"""The dialog to lay out, join, cut, extend or snap captions, with before and after."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QWidget,
)

from tamarind.captions.lines import as_read
from tamarind.captions.relayout import Regrouped, Reshaping, regrouped, reshape, taken
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.lines_delegate import LinesDelegate
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import clock
from tamarind.language.housestyle import HouseStyle
from tamarind.transcript.model import Transcript

ACTS = {
    Reshaping.LAY_OUT: "Lay out again: cues, lines and times",
    Reshaping.MERGE: "Join very short cues with a neighbour",
    Reshaping.SPLIT: "Split cues that are too long",
    Reshaping.EXTEND: "Extend into silence",
    Reshaping.SNAP: "Snap to speech",
}
MOST_LISTED = 2_000
AT_ONCE = 400
"""So many cues are worked out before anybody notices."""


@dataclass(frozen=True, slots=True)
class _Found:
    """What an act would make of the text; ``shown`` has the first groups before and after, ``kept``
    is how many cues stay because a person shaped them."""

    new: Transcript
    groups: list[Regrouped]
    shown: list[tuple[str, str]]
    kept: int


class ShapingDialog(Dialog):
    """Shows what each act would do to the selected cues, or to all, with ticks."""

    def __init__(
        self,
        text: Transcript,
        selected: tuple[int, int] | None,
        style: HouseStyle,
        *,
        speech: Sequence[tuple[int, int]],
        shots: Sequence[int],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__("Shape captions", (980, 600), parent, "Shape captions")
        self._text, self._selected, self._style = text, selected, style
        self._speech, self._shots = tuple(speech), tuple(shots)
        self._new = text
        self._tasks = tasks_of(self, "shaping")
        self._groups: list[Regrouped] = []
        self._act = QComboBox()
        self._act.setAccessibleName("Action")
        for act, words in ACTS.items():
            self._act.addItem(words, act)
        self._scope = QComboBox()
        self._scope.setAccessibleName("Which cues")
        count = selected[1] - selected[0] if selected else 0
        if count:
            which = "the selected cue" if count == 1 else f"{count} selected cues"
            self._scope.addItem(which, True)
        self._scope.addItem("all cues", False)
        self._locked = QCheckBox("Include cues changed by hand")
        self.rows = RowList("Before and after", ("time", "before", "after"))
        self.rows.setItemDelegate(LinesDelegate(self.rows))
        self.rows.header().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        for column, width in enumerate((110, 400, 400)):
            self.rows.setColumnWidth(column, width)
        self.rows.itemChanged.connect(lambda _item: self._count())
        self.note = label("", "note")
        self._take = button("", self.accept, "primary")
        self._lay_out(style)
        self._act.currentIndexChanged.connect(lambda _index: self._look())
        self._scope.currentIndexChanged.connect(lambda _index: self._look())
        self._locked.toggled.connect(self._look)
        self._look()
        self._act.setFocus()

    def _lay_out(self, style: HouseStyle) -> None:
        """Place the choices above what would change."""
        limits = style.captions
        lines = "one line" if limits.lines == 1 else f"{limits.lines} lines"
        rules = f"{style.name}: {limits.line_length} characters, {lines}, "
        rules += f"{limits.reading_speed:g} characters per second"
        head = QHBoxLayout()
        head.setSpacing(12)
        head.addWidget(self._act, 2)
        head.addWidget(self._scope, 1)
        head.addWidget(self._locked)
        self.body.addLayout(head)
        self.body.addWidget(label(rules, "note"))
        self.body.addWidget(self.rows, 1)
        self.body.addWidget(self.note)
        ticks = (
            button("Tick all", lambda: self.rows.tick_all(True)),
            button("Untick all", lambda: self.rows.tick_all(False)),
        )
        self._take.setDefault(True)
        self.set_acts(self._take, leave="Cancel", between=ticks)

    def set_shots(self, shots: Sequence[int]) -> None:
        """Take the times at which the picture changes."""
        if tuple(shots) != self._shots:
            self._shots = tuple(shots)
            self._look()

    def choose(self, act: Reshaping) -> None:
        """Show what another act would do."""
        self._act.setCurrentIndex(self._act.findData(act))

    def result_text(self) -> Transcript:
        """Return the text with the ticked changes."""
        chosen = [self._groups[row] for row in self.rows.ticked()]
        if self.rows.topLevelItemCount() == MOST_LISTED:
            chosen += self._groups[MOST_LISTED:]
        return taken(self._text, self._new, chosen)

    def act(self) -> Reshaping:
        """Return the chosen act."""
        return Reshaping(self._act.currentData())

    def _look(self) -> None:
        """Work out what would change, in the background if the text is long."""
        text, act, limits = self._text, self.act(), self._style.captions
        first, last = 0, len(text.cues)
        if self._scope.currentData() and self._selected is not None:
            first, last = self._selected
        also_locked, shots, speech = self._locked.isChecked(), self._shots, self._speech

        def work() -> _Found:
            new = reshape(text, first, last, act, limits, also_locked, shots, speech)
            groups = regrouped(text, new)
            shown = [
                (
                    as_read(text, group.old, group.old_last, limits),
                    as_read(new, group.new, group.new_last, limits),
                )
                for group in groups[:MOST_LISTED]
            ]
            cues = text.cues[first:last]
            kept = sum(bool(c.words) and (c.locked or c.breaks is not None) for c in cues)
            return _Found(new, groups, shown, 0 if also_locked else kept)

        if last - first <= AT_ONCE:
            self._show(work())
            return
        self.note.setText("Finding changes…")
        self._take.setEnabled(False)
        self._tasks.run(work, self._show, self.note.setText)

    def _show(self, found: _Found) -> None:
        self._new, self._groups = found.new, found.groups
        text = self._text
        self.rows.blockSignals(True)
        self.rows.clear()
        for number, (old, new) in enumerate(found.shown):
            time = clock(text.cues[self._groups[number].old].start, 1, hours=False)
            row = self.rows.add((time, old, new), ticked=True)
            for column in (1, 2):
                row.setTextAlignment(column, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        self.rows.blockSignals(False)
        now, then = len(self._new.cues), len(text.cues)
        said = "Nothing would change."
        if self._groups:
            said = f"{now} cues instead of {then}" if now != then else f"{now} cues as before"
        if found.kept:
            said += f" · {found.kept} changed by hand are kept"
        self.note.setText(said)
        self._count()

    def _count(self) -> None:
        count = len(self.rows.ticked())
        self._take.setText("Make 1 change" if count == 1 else f"Make {count} changes")
        self._take.setEnabled(count > 0)
