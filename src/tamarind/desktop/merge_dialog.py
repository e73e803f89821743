"""The dialog that takes back what was proofed elsewhere: what both changed stands side by side."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFileDialog, QHeaderView, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.lines_delegate import LinesDelegate
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import clock
from tamarind.job.jobfile import PACKED_SUFFIX, SUFFIX
from tamarind.job.takingback import MergedDocument, came_back, in_words, merge_back
from tamarind.system.errors import ToldError

HERE, THERE = "here", "there"


class MergeDialog(Dialog):
    """A row for each conflict; the keys 1 and 2 choose what is here or there, and go on."""

    def __init__(
        self,
        session: Session,
        merged: Sequence[MergedDocument],
        problems: Sequence[str],
        parent: QWidget | None,
    ) -> None:
        super().__init__("Merge", (940, 560), parent, "Merge a returned job")
        self._session, self._merged = session, merged
        self._rows = [(one, conflict) for one in merged for conflict in one.conflicts]
        self._choices: list[str] = [""] * len(self._rows)
        taken = sum(one.taken for one in merged)
        noun = "1 change" if taken == 1 else f"{taken} changes"
        said = [f"{noun} from there."]
        if self._rows:
            count = len(self._rows)
            both = "1 place was" if count == 1 else f"{count} places were"
            said.append(f"{both} changed by both: press 1 for what is here, 2 for what is there.")
        self.body.addWidget(label(" ".join([*said, *problems]), "note", wrap=True))
        self.list = RowList("Changed by both", ("recording", "time", "1  here", "2  there", ""))
        self.list.setItemDelegate(LinesDelegate(self.list))
        resize = QHeaderView.ResizeMode
        for column, mode in enumerate(
            (resize.ResizeToContents, resize.ResizeToContents, resize.Interactive)
        ):
            self.list.header().setSectionResizeMode(column, mode)
        for one, conflict in self._rows:
            name = session.recordings.get(one.recording_id).name
            time = clock(conflict.start, 1, hours=False)
            self.list.add((name, time, *in_words(conflict), ""))
        self.list.setColumnWidth(2, 290)
        self.list.setColumnWidth(3, 290)
        self.list.installEventFilter(self)
        self.body.addWidget(self.list, 1)
        self.go = button("Merge", self.accept, "primary")
        others = (
            button("1  All from here", lambda: self.choose_all(HERE)),
            button("2  All from there", lambda: self.choose_all(THERE)),
        )
        for act in others:
            act.setEnabled(bool(self._rows))
        self.set_acts(self.go, between=others)
        self.go.setDefault(True)
        self.list.choose(0)
        self.list.setFocus(Qt.FocusReason.OtherFocusReason)
        self._follow()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Take 1 and 2 as choices."""
        what = None
        if isinstance(event, QKeyEvent) and event.type() is QEvent.Type.KeyPress:
            what = {"1": HERE, "2": THERE}.get(event.text())
        if what is not None and watched is self.list:
            self.choose(what)
            return True
        return super().eventFilter(watched, event)

    def choose(self, what: str) -> None:
        """Decide the selected conflict, and go to the next."""
        row = self.list.row()
        if row is not None:
            self._set(row, what)
            self.list.choose(row + 1)

    def choose_all(self, what: str) -> None:
        """Decide all conflicts alike."""
        for row in range(len(self._rows)):
            self._set(row, what)

    def _set(self, row: int, what: str) -> None:
        self._choices[row] = what
        self.list.items()[row].setText(4, what)
        self._follow()

    def _follow(self) -> None:
        self.go.setEnabled(bool(self._merged) and all(self._choices))

    def take(self) -> None:
        """Write what was decided into the texts, a step of undo for each recording."""
        chosen = {
            id(conflict): what == THERE
            for (_, conflict), what in zip(self._rows, self._choices, strict=True)
        }
        texts = self._session.texts
        for one in self._merged:
            mine = texts.document(one.recording_id)
            new = one.decided(mine, lambda conflict: chosen[id(conflict)])
            texts.edit_document(one.recording_id, "what came back", new)


def take_back(session: Session, parent: QWidget) -> None:
    """Ask for a job that comes back, and merge it."""
    name, _ = QFileDialog.getOpenFileName(
        parent,
        "Merge a returned job",
        str(session.store.path.parent),
        f"Jobs (*{PACKED_SUFFIX} *{SUFFIX})",
    )
    if name:
        take_back_from(session, Path(name), parent)


def take_back_from(session: Session, path: Path, parent: QWidget) -> None:
    """Merge a job that comes back; what is wrong with it is told."""
    mine = [(one, session.texts.document(one.id)) for one in session.recordings.all()]
    try:
        with came_back(path) as store:
            merged, problems = merge_back(store, mine)
    except (ToldError, OSError) as error:
        session.trouble.emit(str(error))
        return
    if not merged:
        session.trouble.emit(" ".join(problems))
        return
    dialog = MergeDialog(session, merged, problems, parent)
    if dialog.exec():
        dialog.take()
        session.told.emit("What came back is in the texts; undo takes it out again.")
