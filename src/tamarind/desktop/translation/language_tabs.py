"""The tabs of a recording's languages: the source, its translations, and a button to add one."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QWidget

from tamarind.desktop.translation.languages import Languages
from tamarind.desktop.widgets.parts import button, clear, label
from tamarind.transcript.languages import name_of


class LanguageTabs(QWidget):
    """Are made again only when something differs."""

    def __init__(self, chosen: Callable[[str], object]) -> None:
        super().__init__()
        self._chosen = chosen
        self._shown: tuple[str, tuple[str, ...], str] | None = None
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(14)

    def show_source(self, source: str) -> None:
        """Show the source only, or nothing for a recording without a text."""
        self._shown = None
        clear(self._row)
        if source:
            self._row.addWidget(label(name_of(source), "job"))

    def show_tracks(
        self, source: str, tracks: Sequence[str], chosen: str, languages: Languages
    ) -> None:
        """Show the source and the languages of the translations, with the chosen one."""
        wanted = source, tuple(tracks), chosen
        if wanted == self._shown:
            return
        self.show_source(source)
        self._shown = wanted
        self._row.addWidget(label("→", "note"))
        for language in tracks:
            tab = button(name_of(language), partial(self._chosen, language), "step")
            tab.setCheckable(True)
            tab.setChecked(language == chosen)
            self._row.addWidget(tab)
        add = button("+ another language", lambda: None, "plain")
        add.setMenu(languages.menu(source, list(tracks)))
        self._row.addWidget(add)
