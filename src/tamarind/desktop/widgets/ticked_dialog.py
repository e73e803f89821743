"""A dialog with a list of ticks; the ticked rows are done."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList


class TickedDialog(Dialog):
    """Shows the number of ticks on its button."""

    def __init__(
        self,
        title: str,
        size: tuple[int, int],
        parent: QWidget | None,
        *,
        heading: str,
        rows: RowList,
        act: tuple[str, str],
        leave: str,
        note: str = "",
    ) -> None:
        """``act`` is the button's text for one row and for many, ``leave`` the other's; ``note``
        stands above the ``rows``."""
        super().__init__(title, size, parent, heading)
        self.rows, self._act = rows, act
        self.rows.itemChanged.connect(self._count)
        self.take = button("", self.accept, "primary")
        self._count()
        if note:
            self.body.addWidget(label(note, "note", wrap=True))
        self.body.addWidget(self.rows, 1)
        ticks = (
            button("Tick all", lambda: self.rows.tick_all(True)),
            button("Untick all", lambda: self.rows.tick_all(False)),
        )
        self.take.setDefault(True)
        self.set_acts(self.take, leave=leave, between=ticks)
        self.rows.choose(0)
        self.rows.setFocus()

    def _count(self) -> None:
        count = len(self.rows.ticked())
        one, many = self._act
        self.take.setText(one if count == 1 else many.format(count))
        self.take.setEnabled(count > 0)
