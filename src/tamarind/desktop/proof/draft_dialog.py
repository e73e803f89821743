"""The dialog with all changes since the draft, each with its place, and how much was wrong."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHeaderView, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.formats.timecode import clock
from tamarind.transcript.comparison import Changed, Comparison, compare
from tamarind.transcript.model import Cue

MOST_LISTED = 5_000


class DraftDialog(Dialog):
    """``place`` is the chosen change, ``restores`` whether to restore the draft there."""

    def __init__(
        self, name: str, draft: Sequence[Cue], text: Sequence[Cue], parent: QWidget | None = None
    ) -> None:
        super().__init__(
            "Changes since the draft", (880, 540), parent, f"Changes in “{name}” since the draft"
        )
        whole = compare(draft, text)
        self.restores = False
        self.place: int | None = None
        self.sentence = _sentence(whole, compare(draft, text, only_settled=True), text)
        self.changes = whole.changes
        self.list = RowList("Changes since the draft", ("time", "draft", "now"))
        resize = QHeaderView.ResizeMode
        self.list.header().setSectionResizeMode(0, resize.ResizeToContents)
        self.list.header().setSectionResizeMode(1, resize.Interactive)
        self.list.setColumnWidth(1, 360)
        for change in whole.changes[:MOST_LISTED]:
            self.list.add(_row(change))
        self.list.itemActivated.connect(lambda _item: self.go(False))
        go = button("Go to it", lambda: self.go(False), "primary")
        back = button("Restore the draft there", lambda: self.go(True))
        for act in (go, back):
            act.setEnabled(bool(whole.changes))
        self.body.addWidget(label(self.sentence, "note", wrap=True))
        self.body.addWidget(self.list, 1)
        self.set_acts(go, leave="Close", between=(back,))
        self.list.choose(0)
        self.list.setFocus(Qt.FocusReason.OtherFocusReason)

    def go(self, restores: bool) -> None:
        """Go to the place in the text, restoring what was recognised or not."""
        row = self.list.row()
        if row is not None:
            self.place, self.restores = self.changes[row].place, restores
            self.accept()


def _row(change: Changed) -> list[str]:
    return [
        clock(change.start, 1, hours=False),
        change.before or "(nothing)",
        change.after or "(left out)",
    ]


def _sentence(whole: Comparison, settled: Comparison, text: Sequence[Cue]) -> str:
    marks = sum(change.errors == 0 for change in whole.changes)
    facts = [
        f"{whole.errors} of {whole.words:,} words".replace(",", " ")
        + " were wrong, missing or extra in the draft"
    ]
    if settled.words and not all(cue.settled for cue in text):
        facts.append(f"word error rate of what is proofed {settled.error_rate:.1%}")
    else:
        facts.append(f"word error rate {whole.error_rate:.1%}")
    facts.append(f"{marks} changes of punctuation and capitals only")
    return "  ·  ".join(facts)
