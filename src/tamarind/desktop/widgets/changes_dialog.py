"""The dialog that shows changes before and after, to be taken all or one by one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHeaderView, QWidget

from tamarind.desktop.widgets.lines_delegate import LinesDelegate
from tamarind.desktop.widgets.row_list import RowList
from tamarind.desktop.widgets.ticked_dialog import TickedDialog


@dataclass(frozen=True, slots=True)
class ProposedChange:
    """A change at a place of the text, and the text that it concerns."""

    place: int
    before: str
    after: str
    text: str
    ticked: bool = True


class ChangesDialog(TickedDialog):
    """A row for each change, with a tick."""

    def __init__(
        self,
        title: str,
        changes: Sequence[ProposedChange],
        parent: QWidget | None = None,
        *,
        note: str = "",
        texts: bool = False,
        about: str = "text",
        columns: tuple[str, str] = ("before", "after"),
        act: tuple[str, str] = ("Make 1 change", "Make {} changes"),
    ) -> None:
        """``note`` is shown above the list; ``texts`` shares the width between before and after,
        ``columns`` head those two, ``about`` the last. ``act`` is the button's text for one and for
        many."""
        rows = RowList(title, (*columns, about))
        self._places = [change.place for change in changes]
        resize = QHeaderView.ResizeMode
        for column in (0, 1):
            mode = resize.Interactive if texts else resize.ResizeToContents
            rows.header().setSectionResizeMode(column, mode)
            if texts:
                rows.setColumnWidth(column, 300)
        if texts:
            rows.setItemDelegate(LinesDelegate(rows))
        for change in changes:
            row = rows.add((change.before, change.after, change.text), change.ticked)
            row.setToolTip(0, change.before)
            row.setToolTip(1, change.after)
            if texts:
                for column in range(3):
                    row.setTextAlignment(
                        column, Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft
                    )
        super().__init__(
            title,
            (860, 480),
            parent,
            heading=title,
            rows=rows,
            act=act,
            leave="Cancel",
            note=note,
        )

    def chosen(self) -> list[int]:
        """Return the places of the ticked changes."""
        return [self._places[row] for row in self.rows.ticked()]
