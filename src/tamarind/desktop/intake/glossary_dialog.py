"""The dialog in which a job's names and terms are written, pasted, or read from files."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtWidgets import QWidget

from tamarind.desktop.intake.terms_dialog import ask_for_terms, of_file_names, with_terms
from tamarind.desktop.widgets.lines_dialog import LinesDialog
from tamarind.desktop.widgets.parts import button
from tamarind.formats.anydocument import SUFFIXES
from tamarind.formats.captionfile import FormatError
from tamarind.speech.glossary import Glossary, GlossaryError, read_glossary, write_glossary

_HOW = (
    "One name or term on each line, written as it should stand in the text. If it sounds unlike "
    "its spelling, say how: coir = koyer. An agenda, a list or slides may be added too: their "
    "names and rare words are proposed."
)
MOST_NAMED = 3


class GlossaryDialog(LinesDialog):
    """Lists are added as they are; of other documents their names and rare words are proposed, as
    are those in the names of recordings."""

    def __init__(
        self,
        glossary: Glossary,
        language: str = "en",
        stems: Sequence[str] = (),
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(
            "Names and terms to listen for",
            _HOW,
            "Harrow Creek\nsphagnum\ncoir = koyer",
            write_glossary(glossary),
            read_glossary,
            "Listen for these",
            parent,
        )
        self._language = language
        self._named = of_file_names(stems, glossary, language)
        self.from_names = button(_told(self._named), self._take_names, "link")
        self.from_names.setVisible(bool(self._named))
        self.body.addWidget(self.from_names)

    def glossary(self) -> Glossary:
        """What is written now; raises GlossaryError."""
        return read_glossary(self.text.toPlainText())

    def add_from(self, path: Path) -> None:
        """Add a list as it is; propose the terms of any other document."""
        suffix = path.suffix.lower().lstrip(".")
        if suffix not in SUFFIXES or suffix == "txt":
            super().add_from(path)
            return
        try:
            glossary = self.glossary()
            self._add(glossary, ask_for_terms(path, glossary, self._language, self) or [])
        except (FormatError, GlossaryError) as error:
            self.problem.setText(str(error))

    def _take_names(self) -> None:
        try:
            self._add(self.glossary(), self._named)
        except GlossaryError as error:
            self.problem.setText(str(error))
        else:
            self.from_names.hide()

    def _add(self, glossary: Glossary, terms: Sequence[str]) -> None:
        self.text.setPlainText(write_glossary(with_terms(glossary, terms)))


def _told(names: Sequence[str]) -> str:
    more = f" and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else ""
    return f"+ {', '.join(names[:MOST_NAMED])}{more} from the recordings' names"


def ask_for_glossary(
    glossary: Glossary, language: str, stems: Sequence[str], parent: QWidget
) -> Glossary | None:
    """Let the person change a glossary; None if they think better of it. ``stems`` are the names
    of the recordings that it is for."""
    dialog = GlossaryDialog(glossary, language, stems, parent)
    return dialog.glossary() if dialog.exec() else None
