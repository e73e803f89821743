"""The dialog for a list, one entry a line, typed, pasted or read from a file."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QPlainTextEdit, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.system.files import read_file

LARGEST = 16 << 20


class LinesDialog(Dialog):
    """A plain text; if it cannot be read, that is told and the dialog stays open."""

    def __init__(
        self,
        title: str,
        how: str,
        example: str,
        *,
        text: str,
        check: Callable[[str], object],
        act: str,
        parent: QWidget | None = None,
    ) -> None:
        """``how`` says what to write, ``act`` is the button's text; ``check`` raises ValueError
        with a sentence for a text that cannot be read."""
        super().__init__(title, (460, 480), parent, title)
        self._check = check
        self.text = QPlainTextEdit(text)
        self.text.setAccessibleName(f"{title}, one on each line")
        self.text.setPlaceholderText(example)
        self.problem = label("", "note", wrap=True)
        self.body.addWidget(label(how, "note", wrap=True))
        self.body.addWidget(self.text, 1)
        self.body.addWidget(self.problem)
        more = button("Add from a file…", self._choose_file)
        self.set_acts(button(act, self.accept, "primary"), between=(more,))

    def accept(self) -> None:
        """Close if the text can be read."""
        try:
            self._check(self.text.toPlainText())
        except ValueError as error:
            self.problem.setText(str(error))
        else:
            super().accept()

    def add_from(self, path: Path) -> None:
        """Append a file's lines."""
        try:
            more = decode(read_file(path, LARGEST)).text
            self._check(more)
        except (OSError, ValueError, FormatError) as error:
            self.problem.setText(f"{path.name} cannot be read: {error}")
            return
        old = self.text.toPlainText().rstrip("\n")
        added = more.lstrip("\ufeff").rstrip("\n")
        self.text.setPlainText("\n".join(part for part in (old, added) if part))

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, self.windowTitle())
        if name:
            self.add_from(Path(name))
