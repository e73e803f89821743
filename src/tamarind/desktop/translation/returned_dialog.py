"""The dialog that shows a translation that has come back and where it would go."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QPlainTextEdit, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.transcript.model import Cue
from tamarind.translation.exchange.returned import Fitted

MOST_LISTED = 200


class ReturnedDialog(Dialog):
    """Counts what fits, and lists what does not."""

    def __init__(
        self, where: str, found: Fitted, new: int, cues: Sequence[Cue], parent: QWidget | None
    ) -> None:
        title = f"From {where}"
        super().__init__(title, (560, 440), parent, title)
        same = len(found.texts) - new
        said = f"{new} translations would change" + (f", {same} are the same." if same else ".")
        self.facts = label(said, "note", wrap=True)
        self.body.addWidget(self.facts)
        lines = [*_section("Not imported, because they match no cue:", found.left_out)]
        lines += _section("Divided differently:", found.changed)
        missing = [f"{place + 1}: “{cues[place].text}”" for place in found.missing]
        lines += _section("Missing translations:", missing)
        self.list = QPlainTextEdit("\n".join(lines) if lines else "Everything matches.")
        self.list.setReadOnly(True)
        self.list.setAccessibleName("Problems")
        self.body.addWidget(self.list, 1)
        self.take = button("Import", self.accept, "primary")
        self.take.setEnabled(bool(new))
        self.set_acts(self.take)


def _section(title: str, told: Sequence[str]) -> list[str]:
    if not told:
        return []
    more = [f"… and {len(told) - MOST_LISTED} more"] if len(told) > MOST_LISTED else []
    return [title, *(f"    {one}" for one in told[:MOST_LISTED]), *more, ""]
