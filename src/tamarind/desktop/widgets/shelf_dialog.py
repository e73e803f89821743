"""A dialog of named things on a shelf, as house styles and looks are: choose one, change it, make a
copy, take one from a file, save it, take it away.

What ships is not changed: a change makes a copy of one's own. Whoever opens the dialog keeps what
was changed.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import (
    QFileDialog,
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QWidget,
)

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import ElidedLabel, button, set_tone
from tamarind.system.files import write_whole

_KEY = 0x100
OWN, SHIPPED = "your own", "comes with Tamarind: a change makes a copy of your own"


@dataclass(frozen=True)
class Shelf:
    """What lies there: ``noun`` as a person calls one, ``shipped`` those that come along, ``read``
    one in a file, which raises ``wrong`` with a sentence."""

    noun: str
    suffix: str
    shipped: Mapping[str, Any]
    key_of: Callable[[str], str]
    read: Callable[[Path], Any]
    wrong: type[Exception]

    @property
    def filter(self) -> str:
        """For file dialogs."""
        return f"{self.noun.capitalize()}s (*{self.suffix} *.json)"


class ShelfDialog(Dialog):
    """``items`` are values with a name that can be packed into a file, by their keys."""

    def __init__(
        self,
        title: str,
        size: tuple[int, int],
        shelf: Shelf,
        items: Mapping[str, Any],
        key: str,
        parent: QWidget | None,
    ) -> None:
        super().__init__(title, size, parent)
        self._shelf = shelf
        self.items = dict(items)
        self.before = dict(items)
        self.key = key if key in self.items else next(iter(self.items))
        self.list = QListWidget()
        self.list.setAccessibleName(f"{shelf.noun.capitalize()}s")
        self.list.currentItemChanged.connect(lambda now, _before: self._chosen(now))
        self.name = ElidedLabel("", "title")
        self.note = ElidedLabel("", "note")
        self.remove = button("take it away", self.take_away, "link")

    def acts(self) -> list[QPushButton]:
        """What can be done with the shelf, but for taking away."""
        return [
            button("a new one like this…", self.ask_copy, "link"),
            button("take from a file…", self._ask_take, "link"),
            button("save as a file…", self._ask_save, "link"),
        ]

    def show_item(self) -> None:
        """Show all of the chosen one."""
        raise NotImplementedError

    def follow(self) -> None:
        """The chosen one was changed."""
        raise NotImplementedError

    def item_now(self) -> Any:
        """The one that is chosen, as it is edited now."""
        return self.items[self.key]

    def choose(self, key: str) -> None:
        """Show another one."""
        self.key = key
        self.fill()

    def is_shipped(self) -> bool:
        """Whether the chosen one comes along."""
        return self.key in self._shelf.shipped

    def changed_items(self) -> dict[str, Any]:
        """Those that were changed or made, by their keys."""
        return {
            key: item
            for key, item in self.items.items()
            if key not in self._shelf.shipped and self.before.get(key) != item
        }

    def gone(self) -> list[str]:
        """The keys of those that were taken away."""
        return [key for key in self.before if key not in self.items]

    def put(self, item: Any) -> None:
        """The chosen one has changed; of one that ships this is a copy."""
        if self.is_shipped():
            self.add(replace(item, name=self.free(f"{item.name}, own")))
        else:
            self.items[self.key] = item
            self.follow()

    def add(self, item: Any) -> None:
        """Put one more there, and choose it."""
        self.key = self._shelf.key_of(item.name)
        self.items[self.key] = item
        self.fill()

    def free(self, name: str) -> str:
        """A name that none has."""
        names = {item.name.casefold() for item in self.items.values()}
        wanted, number = name, 2
        while wanted.casefold() in names or self._shelf.key_of(wanted) in self.items:
            wanted, number = f"{name} {number}", number + 1
        return wanted

    def fill(self) -> None:
        """List all anew, and show the chosen one."""
        self.list.blockSignals(True)
        self.list.clear()
        for key, item in self.items.items():
            row = QListWidgetItem(item.name, self.list)
            row.setData(_KEY, key)
            if key == self.key:
                self.list.setCurrentItem(row)
        self.list.blockSignals(False)
        self.show_item()

    def ask_copy(self) -> None:
        """Make one of one's own from this one."""
        now = self.item_now()
        name, accepted = QInputDialog.getText(
            self, f"New {self._shelf.noun}", "Its name", text=self.free(f"{now.name} 2")
        )
        if accepted and name.strip():
            self.add(replace(now, name=self.free(" ".join(name.split()))))

    def take(self, path: Path) -> None:
        """Add the one in a file; what is wrong with it is said."""
        try:
            item = self._shelf.read(path)
        except self._shelf.wrong as error:
            self.tell_wrong(str(error))
            return
        self.add(replace(item, name=self.free(item.name)))

    def save(self, path: Path) -> None:
        """Write the chosen one to a file."""
        try:
            write_whole(path, self.item_now().packed().encode())
        except OSError as error:
            self.tell_wrong(f"“{path.name}” cannot be written: {error.strerror}.")
            return
        self.note.set_whole(f"Saved as “{path.name}”.")

    def take_away(self) -> None:
        """Do without the chosen one."""
        del self.items[self.key]
        self.key = next(iter(self.items))
        self.fill()

    def tell_wrong(self, sentence: str) -> None:
        """Say what could not be done."""
        set_tone(self.note, "plum")
        self.note.set_whole(sentence)

    def _chosen(self, row: QListWidgetItem | None) -> None:
        if row is not None:
            self.key = row.data(_KEY)
            self.show_item()

    def _ask_take(self) -> None:
        noun = self._shelf.noun
        path, _ = QFileDialog.getOpenFileName(self, f"Take a {noun}", "", self._shelf.filter)
        if path:
            self.take(Path(path))

    def _ask_save(self) -> None:
        name = f"{self._shelf.key_of(self.item_now().name)}{self._shelf.suffix}"
        path, _ = QFileDialog.getSaveFileName(
            self, f"Save the {self._shelf.noun}", name, self._shelf.filter
        )
        if path:
            self.save(Path(path))
