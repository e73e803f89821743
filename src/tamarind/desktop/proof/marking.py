"""Insert marks at the caret, such as [inaudible 00:12:03], from a list kept with the job."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QInputDialog, QMenu, QWidget

from tamarind.application.session import Session
from tamarind.desktop.commands import TEXT, command
from tamarind.desktop.player import Player
from tamarind.desktop.proof.marks import filled, read_marks
from tamarind.desktop.proof.sheet import ProofSheet
from tamarind.job.settings import MARKS


class Marking:
    """Offers the marks in a menu, and inserts one."""

    def __init__(
        self, session: Session, sheet: ProofSheet, player: Player, parent: QWidget
    ) -> None:
        self._session, self._sheet, self._player = session, sheet, player
        self._parent = parent

    @command(
        "Insert a mark such as [inaudible 00:12:03]…",
        "Text",
        "Ctrl+E",
        name="mark",
        opens="proof",
        needs=TEXT,
        also="inaudible crosstalk unclear tag",
    )
    def ask_mark(self) -> None:
        """Show a menu of marks at the caret; the keys 1 to 9 choose one."""
        if self._sheet.cue_caret.cue() is None:
            return
        menu = QMenu(self._parent)
        for number, mark in enumerate(self.marks(), 1):
            text = filled(mark, self._player.position)
            menu.addAction(f"&{number}   {text}", partial(self.insert_mark, text))
        menu.addSeparator()
        menu.addAction("Change the list…", self._change_marks)
        corner = self._sheet.row_geometry.edge_area(self._sheet.caret.place).bottomLeft().toPoint()
        menu.exec(self._sheet.viewport().mapToGlobal(corner))

    def marks(self) -> tuple[str, ...]:
        """Return the job's marks."""
        return read_marks(self._session.settings.get(MARKS))

    def insert_mark(self, text: str) -> None:
        """Insert a mark at the caret, with spaces around it."""
        self._session.texts.close_edit_group()
        self._sheet.editing.insert(self._sheet.editing.spaced(self._sheet.caret.place, text))
        self._session.texts.close_edit_group()
        self._sheet.setFocus()

    def _change_marks(self) -> None:
        text, accepted = QInputDialog.getMultiLineText(
            self._parent,
            "Marks",
            "One on each line. {time} becomes the time of the playhead.",
            "\n".join(self.marks()),
        )
        if accepted:
            self._session.settings.keep(MARKS, text)
