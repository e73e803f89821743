"""What Translation shows while a recording has no translation: languages to choose from."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tamarind.desktop.translation.languages import FROM_SOUND, Languages
from tamarind.desktop.widgets.parts import button, clear, label
from tamarind.transcript.languages import name_of
from tamarind.translation.engines.apertium import HOW_TO_INSTALL

MOST_OFFERED = 4
BY_EAR = "The multilingual recogniser can transcribe this language into English."


class EmptyPage(QWidget):
    """A title, a note, and buttons below it."""

    def __init__(self) -> None:
        super().__init__()
        self.title = label("", "title")
        self.note = label("", "note", wrap=True)
        self.note.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.note.setFixedWidth(560)
        self._start = QHBoxLayout()
        column = QVBoxLayout(self)
        column.addStretch(2)
        for widget in (self.title, self.note):
            column.addWidget(widget, 0, Qt.AlignmentFlag.AlignCenter)
        column.addSpacing(10)
        column.addLayout(self._start)
        column.addStretch(3)

    def say(self, title: str, note: str) -> None:
        """Show words without buttons."""
        self.title.setText(title)
        self.note.setText(note)
        clear(self._start)
        self._start.addStretch(1)

    def offer(self, source: str, languages: Languages, chosen: Callable[[str], object]) -> None:
        """Offer the languages that can be translated into from ``source``."""
        targets = languages.targets(source)
        by_ear = languages.can_be_heard_in_english(source)
        if targets:
            note = "Translations are made on this computer, as drafts to check against the source."
        else:
            note = BY_EAR if by_ear else HOW_TO_INSTALL
        title = "Choose a language" if targets or by_ear else "No translator is installed"
        self.say(title, note)
        for language in targets[:MOST_OFFERED]:
            self._start.addWidget(button(name_of(language), partial(chosen, language)))
        if by_ear:
            self._start.addWidget(button(FROM_SOUND, languages.hear_in_english))
        more = button("Other language…", lambda: None, "plain")
        more.setMenu(languages.menu(source, targets[:MOST_OFFERED]))
        self._start.addWidget(more)
        self._start.addStretch(1)
