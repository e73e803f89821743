"""The dialog for the glossary of a job: names and terms are typed, pasted, or read from files."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QWidget

from tamarind.application import correctednames
from tamarind.application.correctednames import keep_for, kept_for
from tamarind.desktop.intake.terms_dialog import ask_for_terms, of_file_names, with_terms
from tamarind.desktop.widgets.lines_dialog import LinesDialog
from tamarind.desktop.widgets.parts import button
from tamarind.desktop.words import listed
from tamarind.formats.anydocument import SUFFIXES
from tamarind.formats.captionfile import FormatError
from tamarind.speech.glossary import Glossary, GlossaryError, read_glossary, write_glossary

_HOW = (
    "One name or term on each line, written as it should stand in the text. If it sounds unlike "
    "its spelling, say how: coir = koyer. An agenda, a list or slides may be added too: their "
    "names and rare words are proposed."
)


class GlossaryDialog(LinesDialog):
    """Adds lists as they are; of other documents, and of the recordings' names, it proposes names
    and rare words."""

    def __init__(
        self,
        glossary: Glossary,
        language: str = "en",
        stems: Sequence[str] = (),
        client: tuple[str, str] = ("", ""),
        parent: QWidget | None = None,
    ) -> None:
        """``client`` is the key and the name of a house style."""
        super().__init__(
            "Names and terms to listen for",
            _HOW,
            "Harrow Creek\nsphagnum\ncoir = koyer",
            text=write_glossary(glossary),
            check=read_glossary,
            act="Save",
            parent=parent,
        )
        self._language = language
        self._named = of_file_names(stems, glossary, language)
        self.from_names = button(_told(self._named), self._take_names, "link")
        self.from_names.setVisible(bool(self._named))
        self.body.addWidget(self.from_names)
        self._client = client
        self.corrected = button("", self._show_corrected, "link")
        self.body.addWidget(self.corrected)
        self._tell_corrected()

    def glossary(self) -> Glossary:
        """Return the glossary as written. Raises GlossaryError."""
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

    def _show_corrected(self) -> None:
        CorrectedDialog(*self._client, self).exec()
        self._tell_corrected()

    def _tell_corrected(self) -> None:
        key, name = self._client
        count = len(kept_for(key))
        noun = "1 name" if count == 1 else f"{count} names"
        told = f"{noun} corrected earlier for “{name}”" if count else "Names corrected earlier"
        self.corrected.setText(f"{told}…")
        self.corrected.setVisible(bool(key))

    def _add(self, glossary: Glossary, terms: Sequence[str]) -> None:
        self.text.setPlainText(write_glossary(with_terms(glossary, terms)))


class CorrectedDialog(LinesDialog):
    """The names corrected for a client, to be reviewed, changed and emptied."""

    def __init__(self, client: str, name: str, parent: QWidget | None = None) -> None:
        super().__init__(
            f"Corrected earlier for “{name}”",
            "Names and terms that you corrected in earlier recordings"
            " with this house style, one on each line. They are used together with the glossary.",
            "No names yet.",
            text="".join(f"{term}\n" for term in kept_for(client)),
            check=read_glossary,
            act="Save",
            parent=parent,
        )
        self._client = client
        self.remembers = QCheckBox("Remember the names that I correct")
        self.remembers.setChecked(correctednames.is_allowed())
        self.body.addWidget(self.remembers)

    def accept(self) -> None:
        """Keep what is written if it can be read."""
        super().accept()
        if self.result():
            lines = self.text.toPlainText().splitlines()
            keep_for(self._client, [line.strip() for line in lines if line.strip()])
            correctednames.allow(self.remembers.isChecked())


def _told(names: Sequence[str]) -> str:
    return f"+ {listed(names)} from the recordings' names and tags"


def ask_for_glossary(
    glossary: Glossary,
    language: str,
    stems: Sequence[str],
    client: tuple[str, str],
    parent: QWidget,
) -> Glossary | None:
    """Let the person edit a glossary; return None if they cancel. ``stems`` are the names of its
    recordings, ``client`` the key and name of their house style."""
    dialog = GlossaryDialog(glossary, language, stems, client, parent)
    return dialog.glossary() if dialog.exec() else None
