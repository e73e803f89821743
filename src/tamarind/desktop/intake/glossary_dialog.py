"""The dialog in which a job's names and terms are written, pasted or read from a file."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from tamarind.desktop.widgets.lines_dialog import LinesDialog
from tamarind.speech.glossary import Glossary, read_glossary, write_glossary

_HOW = (
    "One name or term on each line, written as it should stand in the text. If it sounds unlike "
    "its spelling, say how: coir = koyer"
)


def glossary_dialog(glossary: Glossary, parent: QWidget | None = None) -> LinesDialog:
    """The dialog with a job's glossary in it."""
    return LinesDialog(
        "Names and terms to listen for",
        _HOW,
        "Harrow Creek\nsphagnum\ncoir = koyer",
        write_glossary(glossary),
        read_glossary,
        "Listen for these",
        parent,
    )


def ask_for_glossary(glossary: Glossary, parent: QWidget) -> Glossary | None:
    """Let the person change a glossary; None if they think better of it."""
    dialog = glossary_dialog(glossary, parent)
    return read_glossary(dialog.text.toPlainText()) if dialog.exec() else None
