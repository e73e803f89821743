"""The dialog for a text of unclear encoding: its first lines in each likely one, to choose by
eye."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.decoding import DecodedText, decode, name_of

MOST = 3
LINES, LETTERS = 4, 90


class EncodingDialog(Dialog):
    """``encoding`` is selected first, as the likeliest."""

    def __init__(
        self, name: str, data: bytes, decoded: DecodedText, parent: QWidget | None = None
    ) -> None:
        title = "Choose the encoding"
        super().__init__(title, (640, 460), parent, title)
        self._encodings = (decoded.encoding, *decoded.others)[:MOST]
        self.body.addWidget(
            label(
                f"“{name}” does not declare its encoding. Choose the one in which the text is"
                " readable.",
                "note",
                wrap=True,
            )
        )
        self.list = QListWidget()
        self.list.setAccessibleName("The first lines in each encoding")
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        for encoding in self._encodings:
            shown = f"{name_of(encoding)}\n{first_lines(decode(data, '', encoding).text)}"
            item = QListWidgetItem(shown)
            lines = shown.count("\n") + 1
            item.setSizeHint(QSize(0, lines * self.fontMetrics().lineSpacing() + 18))
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.itemDoubleClicked.connect(self.accept)
        self.body.addWidget(self.list, 1)
        take = button("Use this encoding", self.accept, "primary")
        take.setDefault(True)
        self.set_acts(take)
        self.list.setFocus(Qt.FocusReason.OtherFocusReason)

    @property
    def encoding(self) -> str:
        """The chosen encoding."""
        return self._encodings[max(self.list.currentRow(), 0)]


def first_lines(text: str) -> str:
    """Return the first lines with characters beyond ASCII, if there are any, since these show the
    difference."""
    lines = [line.strip() for line in text.split("\n")]
    lines = [line for line in lines if line and "-->" not in line and not line.isdigit()]
    telling = [line for line in lines if not line.isascii()] or lines
    return "\n".join(line[:LETTERS] for line in telling[:LINES])
