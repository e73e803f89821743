"""The dialog for models: what each recognises, how well, its size and speed; to fetch or add."""

from __future__ import annotations

import shutil
import subprocess
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QMessageBox,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.fetch_progress import FetchProgress
from tamarind.desktop.widgets.parts import button, clear, label
from tamarind.speech.recognisers import hub
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import ModelFolder, look_into
from tamarind.speech.recognisers.known.multilingual import languages_of_many
from tamarind.speech.recognisers.offered import (
    OFFERS,
    Offer,
    base_slowness,
    in_words,
    offer_for,
)
from tamarind.speech.recognisers.room import memory_in_words
from tamarind.speech.recognisers.shelf import ModelShelf, of_this_machine
from tamarind.speech.recognisers.slowness import measured
from tamarind.system.fetching import amount

_WHAT = (
    "The models that come with Tamarind recognise English very quickly, and other languages"
    " well. A larger model "
    "makes fewer mistakes and takes longer. Only downloading one needs the "
    "internet."
)


class ModelsDialog(Dialog):
    """Saves every change at once; what is wrong with a folder is told."""

    def __init__(self, shelf: ModelShelf, home: Path, parent: QWidget | None = None) -> None:
        super().__init__("Recognition models", (680, 600), parent, "Recognition models")
        self._shelf, self._home = shelf, home
        self._tasks = tasks_of(self, "downloading a model", latest_only=False)
        self._coming: Offer | None = None
        listed = QWidget()
        listed.setObjectName("page")
        self._rows = QVBoxLayout(listed)
        self._rows.setContentsMargins(0, 0, 8, 0)
        self._rows.setSpacing(10)
        # However many there are, none is cut off.
        rows = QScrollArea()
        rows.setWidgetResizable(True)
        rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        rows.setWidget(listed)
        self.note = label("", "note", wrap=True)
        self.progress = FetchProgress(self.note.setText)
        self.body.addWidget(label(_WHAT, "note", wrap=True))
        self.body.addWidget(rows, 1)
        self.body.addWidget(self.note)
        self.body.addWidget(self.progress)
        self.set_acts(button("Add a folder…", self._choose, "primary"), leave="Close")
        # A model that is not wanted any more is not fetched to its end.
        self.finished.connect(self.progress.stop)
        self._show()

    def add(self, folder: Path) -> None:
        """Add a folder to the list, or say why not."""
        try:
            self.note.setText(f"{self._shelf.add(folder).path.name} is on the list.")
        except RecogniserError as error:
            self.note.setText(str(error))
        self._show()

    def remove(self, folder: Path) -> None:
        """Remove a folder from the list; it stays on the disk unless it was fetched."""
        was_fetched = folder.parent == self._home
        try:
            self._shelf.remove(folder)
            if was_fetched:
                shutil.rmtree(folder, ignore_errors=True)
            left = "gone" if was_fetched else "no longer listed; its folder is kept"
            self.note.setText(f"{folder.name} is {left}.")
        except RecogniserError as error:
            self.note.setText(str(error))
        self._show()

    def fetch(self, offer: Offer) -> None:
        """Fetch a model in the background; one at a time."""
        if self._coming is not None:
            return
        self._coming, progress = offer, self.progress
        self.progress.begin(offer.name, offer.size)
        self._tasks.run(
            lambda: hub.fetch(offer, self._home, progress.note, progress.is_stopped).path,
            self._fetched,
            self._not_fetched,
        )
        self._show()

    def measure(self, folder: Path) -> None:
        """Measure a model's speed here, in a process of its own."""
        self.note.setText(f"Measuring how slow {folder.name} is here…")
        command = [sys.executable, "-m", "tamarind", "models", "measure", str(folder)]

        def run() -> str:
            done = subprocess.run(command, capture_output=True, text=True, check=False)
            return "" if done.returncode == 0 else done.stderr.strip()

        self._tasks.run(run, self._measured)

    def _measured(self, problem: str) -> None:
        self.note.setText(problem)
        self._show()

    def _fetched(self, folder: Path) -> None:
        self._coming = None
        self.progress.end()
        self.add(folder)
        self.measure(folder)

    def _not_fetched(self, sentence: str) -> None:
        self._coming = None
        self.progress.end()
        self.note.setText(sentence)
        self._show()

    def _choose(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Folder with a model", str(Path.home()))
        if name:
            self.add(Path(name))

    def _ask_remove(self, folder: Path) -> None:
        question = f"Delete {folder.name} from this computer? It can be downloaded again."
        if folder.parent != self._home or (
            QMessageBox.question(self, "Remove a model", question) == QMessageBox.StandardButton.Yes
        ):
            self.remove(folder)

    def _show(self) -> None:
        clear(self._rows)
        self._rows.addWidget(label("ON THIS COMPUTER", "heading"))
        self._row("built in", "English · included · fastest")
        if languages_of_many():
            count = len(languages_of_many())
            slow = in_words(base_slowness())
            self._row("multilingual", f"{count} languages · included · {slow}")
        for folder in self._shelf.folders():
            self._folder_row(folder, button("Remove", partial(self._ask_remove, folder), "link"))
        for folder in of_this_machine():
            self._folder_row(folder, None, "for all users of this computer")
        self._rows.addWidget(label("TO DOWNLOAD", "heading"))
        there = {folder.name for folder in self._shelf.folders() if folder.parent == self._home}
        for offer in OFFERS:
            if offer.name not in there:
                came = hub.here_already(offer, self._home)
                words = f"Download {amount(offer.size)}"
                if came:
                    words = f"Resume download ({amount(came)} of {amount(offer.size)} done)"
                act = button(words, partial(self.fetch, offer), "link")
                act.setEnabled(self._coming is None)
                about = (
                    f"{offer.hears} · {in_words(offer.slowness)}, by its size ·"
                    f" {memory_in_words(offer.millions)}"
                )
                self._row(offer.name, about, offer.accuracy, act)
        self._rows.addStretch(1)

    def _folder_row(self, folder: Path, act: QPushButton | None, whose: str = "") -> None:
        try:
            model = look_into(folder)
        except RecogniserError as error:
            self._row(folder.name, str(error), act=act)
            return
        offer = offer_for(folder.name)
        self._row(
            folder.name,
            " · ".join(filter(None, (whose, *_facts(model, offer)))),
            offer.accuracy if offer else "",
            act,
            None if measured(folder) else partial(self.measure, folder),
        )

    def _row(
        self,
        name: str,
        about: str,
        accuracy: str = "",
        act: QPushButton | None = None,
        measure: Callable[[], None] | None = None,
    ) -> None:
        line = QWidget()
        column = QVBoxLayout(line)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        head = QHBoxLayout()
        head.setSpacing(14)
        head.addWidget(label(name, "card"), 1)
        if measure is not None:
            head.addWidget(
                button("Measure", measure, "link", f"Measure the speed of {name} on this computer")
            )
        if act is not None:
            act.setAccessibleName(f"{act.text()}: {name}")
            head.addWidget(act)
        column.addLayout(head)
        for text in filter(None, (accuracy, about)):
            column.addWidget(label(text, "note", wrap=True))
        self._rows.addWidget(line)


def _facts(model: ModelFolder, offer: Offer | None) -> list[str]:
    """Return what a model recognises, its size, and its speed if it was measured."""
    factor = measured(model.path)
    facts = [model.hears, amount(model.size)]
    if factor is not None:
        facts.append(f"{in_words(factor)}, measured on this computer")
    elif offer is not None:
        facts.append(f"{in_words(offer.slowness)}, by its size")
    return facts
