"""The dialog that downloads a translation model for a pair of languages."""

from __future__ import annotations

from PySide6.QtWidgets import QLineEdit, QWidget

from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.fetch_progress import FetchProgress
from tamarind.desktop.widgets.parts import button, label
from tamarind.desktop.widgets.row_list import RowList
from tamarind.system.fetching import amount
from tamarind.transcript.languages import name_of
from tamarind.translation.engines import shelf
from tamarind.translation.engines.modelfolder import TranslationModel
from tamarind.translation.engines.offered import PairOffer, fetch, offers

_WHAT = (
    "Small models that translate on this computer alone, one for each pair of languages. The list "
    "and the models come over the internet; none of your texts leaves this computer."
)
_TITLE = "Download a translation model"
_FOUND = "Choose a pair. Pairs with English also serve other languages by way of English."


class FetchDialog(Dialog):
    """Asks first which pairs there are, then downloads the chosen one."""

    def __init__(self, source: str, parent: QWidget | None = None) -> None:
        """``source`` is the language whose pairs are listed first."""
        super().__init__(_TITLE, (560, 520), parent, _TITLE)
        self._source = source
        self._offers: list[PairOffer] = []
        self._listed: list[PairOffer] = []
        self._coming = False
        self.fetched: list[TranslationModel] = []
        """What has been fetched since it was opened."""
        self._tasks = tasks_of(self, "downloading a translation model", latest_only=False)
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("A language")
        self.filter.setAccessibleName("Show the pairs of a language")
        self.filter.textChanged.connect(self._show)
        self.rows = RowList("Pairs of languages", ("from", "to", "size"))
        self.rows.currentItemChanged.connect(lambda _now, _before: self._name_acts())
        self.rows.itemActivated.connect(lambda _item: self.act())
        for column, width in enumerate((200, 200)):
            self.rows.setColumnWidth(column, width)
        self.note = label("", "note", wrap=True)
        self.progress = FetchProgress(self.note.setText)
        self.body.addWidget(label(_WHAT, "note", wrap=True))
        self.body.addWidget(self.filter)
        self.body.addWidget(self.rows, 1)
        self.body.addWidget(self.note)
        self.body.addWidget(self.progress)
        self.go = button("", self.act, "primary")
        self.set_acts(self.go, leave="Close")
        # What is not wanted any more is not fetched to its end.
        self.finished.connect(self.progress.stop)
        self._show()

    def act(self) -> None:
        """Ask which pairs there are; once that is known, download the chosen one."""
        if self._coming:
            return
        if not self._offers:
            self._coming = True
            self.note.setText("Asking…")
            self._tasks.run(offers, self._found, self._failed)
        else:
            row = self.rows.row()
            if row is None:
                return
            offer, progress = self._listed[row], self.progress
            self._coming = True
            progress.begin(offer.in_words, offer.size)
            self._tasks.run(
                lambda: fetch(offer, shelf.home(), progress.note, progress.is_stopped),
                self._fetched,
                self._failed,
            )
        self._name_acts()

    def _found(self, found: list[PairOffer]) -> None:
        self._coming = False
        self._offers = found
        self.note.setText(_FOUND if found else "There are no models to download.")
        self._show()

    def _fetched(self, model: TranslationModel) -> None:
        self._coming = False
        self.progress.end()
        self.fetched.append(model)
        said = f"{name_of(model.source)} to {name_of(model.target)}"
        self.note.setText(f"{said} has been downloaded and is used from now on.")
        self._show()

    def _failed(self, sentence: str) -> None:
        self._coming = False
        self.progress.end()
        self.note.setText(sentence)
        self._name_acts()

    def _show(self) -> None:
        wanted = self.filter.text().strip().casefold()
        there = {model.folder.name for model in shelf.models()}
        self._listed = [
            offer
            for offer in sorted(
                self._offers, key=lambda one: (one.source != self._source, one.name)
            )
            if wanted in offer.in_words.casefold() and offer.name not in there
        ]
        self.rows.clear()
        for offer in self._listed:
            self.rows.add((name_of(offer.source), name_of(offer.target), amount(offer.size)))
        self.rows.choose(0)
        self.filter.setVisible(bool(self._offers))
        self._name_acts()

    def _name_acts(self) -> None:
        row = self.rows.row()
        if not self._offers:
            self.go.setText("Show available models")
        elif row is not None and row < len(self._listed):
            self.go.setText(f"Download {self._listed[row].name}")
        self.go.setEnabled(not self._coming and (not self._offers or row is not None))
