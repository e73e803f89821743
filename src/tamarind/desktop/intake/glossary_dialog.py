"""The dialog in which a job's names and terms are written, pasted or read from a file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QPlainTextEdit, QWidget

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.speech.glossary import Glossary, GlossaryError, read_glossary, write_glossary
from tamarind.system.files import read_file

LARGEST = 16 << 20

_HOW = (
    "One name or term on each line, written as it should stand in the text. If it sounds unlike "
    "its spelling, say how: coir = koyer"
)


class GlossaryDialog(Dialog):
    """Plain text, one term a line; what cannot be read is said, and the dialog stays open."""

    def __init__(self, glossary: Glossary, parent: QWidget | None = None) -> None:
        title = "Names and terms to listen for"
        super().__init__(title, (460, 480), parent, title)
        self.text = QPlainTextEdit(write_glossary(glossary))
        self.text.setAccessibleName("Names and terms, one a line")
        self.text.setPlaceholderText("Harrow Creek\nsphagnum\ncoir = koyer")
        self.problem = label("", "note", wrap=True)
        self.body.addWidget(label(_HOW, "note", wrap=True))
        self.body.addWidget(self.text, 1)
        self.body.addWidget(self.problem)
        more = button("Add from a file…", self._choose_file)
        self.set_acts(button("Listen for these", self.accept, "primary"), between=(more,))

    def glossary(self) -> Glossary:
        """What is written; raises GlossaryError with a sentence."""
        return read_glossary(self.text.toPlainText())

    def accept(self) -> None:
        """Close, unless something cannot be read."""
        try:
            self.glossary()
        except GlossaryError as error:
            self.problem.setText(str(error))
        else:
            super().accept()

    def add_from(self, path: Path) -> None:
        """Add a file's terms to those that are there."""
        try:
            more = read_glossary(decode(read_file(path, LARGEST)).text)
        except (OSError, ValueError, FormatError, GlossaryError) as error:
            self.problem.setText(f"{path.name} cannot be read: {error}")
            return
        old = self.text.toPlainText().rstrip("\n")
        self.text.setPlainText(
            "\n".join(part for part in (old, write_glossary(more).rstrip("\n")) if part)
        )

    def _choose_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A list of names and terms")
        if name:
            self.add_from(Path(name))


def ask_for_glossary(glossary: Glossary, parent: QWidget) -> Glossary | None:
    """Let the person change a glossary; None if they think better of it."""
    dialog = GlossaryDialog(glossary, parent)
    return dialog.glossary() if dialog.exec() else None
