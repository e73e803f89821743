"""A list of languages: recent and usual ones first, searched by typing either name."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QCompleter, QLineEdit, QListView

from tamarind.application import personal
from tamarind.transcript.languages import USUAL, by_name, name_of, own_name_of

MOST_RECENT = 4


class LanguageBox(QComboBox):
    """``first`` are entries that are no languages, by their words. ``activated`` is emitted when a
    person has chosen."""

    def __init__(self, first: Sequence[tuple[str, str]] = ()) -> None:
        super().__init__()
        self._first = tuple(first)
        self.setEditable(True)
        self.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        completer = QCompleter(self.model(), self)
        completer.setCompletionMode(QCompleter.CompletionMode.PopupCompletion)
        completer.setFilterMode(Qt.MatchFlag.MatchContains)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.activated.connect(self._remember)
        popup = QListView()
        popup.setObjectName("completions")
        completer.setPopup(popup)
        self._line = QLineEdit()
        self._line.setPlaceholderText("differs")
        self.setLineEdit(self._line)
        self.setCompleter(completer)
        self._line.editingFinished.connect(self._take_typed)

    def offer(self, languages: Sequence[str]) -> None:
        """Set the languages of the list; the choice stays."""
        chosen = self.currentData()
        recent = [tag for tag in personal.read(personal.RECENT_LANGUAGES) if tag in languages]
        usual = [tag for tag in USUAL if tag in languages]
        self.clear()
        for words, value in self._first:
            self.addItem(words, value)
        for tag in dict.fromkeys([*recent, *usual, *by_name(languages)]):
            self.addItem(_shown(tag), tag)
        self.show_language(chosen)

    def show_language(self, tag: str | None) -> None:
        """Select an entry without a signal; one that is missing is added."""
        place = -1 if tag is None else self.findData(tag)
        if tag and place < 0:
            self.addItem(_shown(tag), tag)
            place = self.count() - 1
        self.setCurrentIndex(place)
        if place < 0:
            self.clearEditText()

    def _take_typed(self) -> None:
        """Select the language whose name was typed, or the only one that contains it; ignore
        anything else."""
        typed = self._line.text().strip().casefold()
        names = [self.itemText(place).casefold() for place in range(self.count())]
        exact = [place for place, name in enumerate(names) if typed in name.split(" – ")]
        near = exact or [place for place, name in enumerate(names) if typed and typed in name]
        if len(near) >= 1 and near[0] != self.currentIndex() and (exact or len(near) == 1):
            self.setCurrentIndex(near[0])
            self.activated.emit(near[0])
        self.setEditText(self.itemText(self.currentIndex()))

    def _remember(self, place: int) -> None:
        tag = self.itemData(place)
        if tag and all(tag != value for _, value in self._first):
            others = [one for one in personal.read(personal.RECENT_LANGUAGES) if one != tag]
            personal.keep(personal.RECENT_LANGUAGES, [tag, *others][:MOST_RECENT])


def _shown(tag: str) -> str:
    name, own = name_of(tag), own_name_of(tag)
    return name if own == name else f"{name} – {own}"
