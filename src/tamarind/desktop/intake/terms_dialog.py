"""The dialog with names and rare words of a document, proposed for the glossary."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtWidgets import QWidget

from tamarind.desktop.widgets.row_list import RowList
from tamarind.desktop.widgets.ticked_dialog import TickedDialog
from tamarind.formats.anydocument import words_of
from tamarind.formats.captionfile import FormatError
from tamarind.language.termfinding import names_in_file_name, terms_in
from tamarind.speech.glossary import Glossary, Term
from tamarind.speech.lexicon import lexicon_of

NOTE = "Names and rare words, the most frequent first. The glossary can be changed later."


class TermsDialog(TickedDialog):
    """Ticked terms are added."""

    def __init__(self, name: str, terms: Sequence[str], parent: QWidget | None = None) -> None:
        """``name`` says where the terms are from."""
        rows = RowList(f"Names and rare words of {name}")
        for term in terms:
            rows.add((term,), True)
        act = "Add 1 term", "Add {} terms"
        super().__init__(
            "Add these terms?",
            (460, 520),
            parent,
            heading=f"From “{name}”",
            rows=rows,
            act=act,
            leave="Cancel",
            note=NOTE,
        )
        self._terms = list(terms)

    def chosen(self) -> list[str]:
        """Return the ticked terms."""
        return [self._terms[row] for row in self.rows.ticked()]


def ask_for_terms(
    path: Path, glossary: Glossary, language: str, parent: QWidget
) -> list[str] | None:
    """Let the person choose terms of a document; return None if they cancel. Raises FormatError
    with a sentence if there are none."""
    known = [term.text for term in glossary.terms]
    terms = terms_in(words_of(path), language, lexicon_of(language).is_word, known)
    if not terms:
        raise FormatError(f"“{path.name}” has no names or rare words that are new.")
    dialog = TermsDialog(path.name, terms, parent)
    return dialog.chosen() if dialog.exec() else None


def with_terms(glossary: Glossary, terms: Sequence[str]) -> Glossary:
    """Return a glossary with more terms at its end."""
    return Glossary((*glossary.terms, *map(Term, terms)))


def of_file_names(stems: Sequence[str], glossary: Glossary, language: str) -> list[str]:
    """Return names in the recordings' file names that the glossary lacks."""
    known = [term.text for term in glossary.terms]
    is_word = lexicon_of(language).is_word
    found = [name for stem in stems for name in names_in_file_name(stem, language, is_word, known)]
    return list(dict.fromkeys(found))
