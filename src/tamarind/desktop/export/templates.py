"""The client's documents that documents are made within: choose them, and tell which they are."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.parts import button, label
from tamarind.formats.captionfile import FormatError
from tamarind.formats.reading.template import Template, read_template
from tamarind.job.settings import EXPORT_TEMPLATES


class TemplateChoice(QWidget):
    """At most one for each kind of document; their paths are kept with the job."""

    changed = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.chosen: dict[str, Template] = {}
        """By their suffixes."""
        self._said = label("", "note", wrap=True)
        self.choose = button("Document template…", self.ask)
        self.choose.setToolTip("A .docx or .odt file with {body}, {title}, {date}, {client}")
        self._without = button("Remove", self._forget, "link")
        told = QHBoxLayout()
        told.addWidget(self._said, 1)
        told.addWidget(self._without)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.choose)
        column.addLayout(told)
        self._take_kept()

    def ask(self) -> None:
        """Ask for a client's document to use as template."""
        name, _ = QFileDialog.getOpenFileName(
            self.window(), "Document template", "", "Documents (*.docx *.odt)"
        )
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """Use a document as template for documents of its kind; why it cannot be used is told."""
        try:
            template = read_template(path)
        except FormatError as error:
            self._session.trouble.emit(str(error))
            return
        self.chosen[template.suffix] = template
        kept = {**self._session.settings.get(EXPORT_TEMPLATES), template.suffix: str(path)}
        self._session.settings.keep(EXPORT_TEMPLATES, kept)
        self.show_chosen(self.chosen.values())
        self.changed.emit()

    def show_chosen(self, templates: Iterable[Template]) -> None:
        """Use these templates."""
        self.chosen = {one.suffix: one for one in templates}
        names = ", ".join(f"“{one.name}”" for one in self.chosen.values())
        self._said.setText(f"within {names}" if names else "")
        self._said.setVisible(bool(names))
        self._without.setVisible(bool(names))

    def _forget(self) -> None:
        self._session.settings.keep(EXPORT_TEMPLATES, {})
        self.show_chosen(())
        self.changed.emit()

    def _take_kept(self) -> None:
        found = []
        for path in self._session.settings.get(EXPORT_TEMPLATES).values():
            try:
                found.append(read_template(self._session.store.path.parent / path))
            except FormatError:
                # It is elsewhere now: it is asked for again where it is wanted.
                continue
        self.show_chosen(found)
