"""The dialog for a set of styles: choose, edit, copy, open from a file, save, remove.

What ships is not changed: a change makes a copy of one's own. Whoever opens the dialog keeps what
was changed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any, Protocol

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.fields import Fields
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone
from tamarind.system.files import write_whole
from tamarind.system.shelf import Shelf

_KEY = 0x100
OWN, SHIPPED = "Your own", "Included with Tamarind; editing makes a copy"


class JobSets(Protocol):
    """Where the open job keeps its own styles."""

    def all(self) -> Mapping[str, Any]:
        """Return all styles by key."""

    def keep(self, key: str, item: Any) -> None:
        """Keep a style with the job; None removes it."""


class ShelfDialog(Dialog):
    """Edits copies, which are saved when the dialog is left by one of its acts.

    ``parts`` are the fields of each part of a set, by the name of its attribute.
    """

    shown = Signal()
    """All of the chosen one is to be shown."""
    changed = Signal()
    """The chosen one was changed."""
    not_kept = Signal(str)
    """One could not be kept for all jobs, in a sentence."""

    def __init__(
        self,
        title: str,
        size: tuple[int, int],
        shelf: Shelf[Any],
        *,
        kept: JobSets,
        key: str,
        parent: QWidget | None,
    ) -> None:
        super().__init__(title, size, parent)
        self._shelf, self._kept = shelf, kept
        self.items = dict(kept.all())
        self.before = dict(self.items)
        self.key = key if key in self.items else next(iter(self.items))
        self.parts: dict[str, Fields] = {}
        self.list = QListWidget()
        self.list.setAccessibleName(f"{shelf.noun.capitalize()}s")
        self.list.currentItemChanged.connect(lambda now, _before: self._chosen(now))
        self.name = ElidedLabel("", "title")
        self.note = ElidedLabel("", "note")
        self.remove = button("Remove", self.take_away, "link")

    def fields(self, part: str, kind: type[Any], **how: Any) -> Fields:
        """Make the fields for one part of the styles."""
        self.parts[part] = Fields(partial(self.set, part), kind, **how)
        return self.parts[part]

    def lay_out(
        self,
        heading: str,
        acts: Iterable[QWidget],
        pages: Mapping[str, Sequence[QWidget]],
        width: int,
    ) -> QVBoxLayout:
        """Place the list (``width`` px) with its buttons on the left and the pages behind tabs in
        the middle; return the empty column on the right."""
        left, middle, right = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        self.list.setFixedWidth(width)
        left.addWidget(label(heading, "heading"))
        left.addWidget(self.list, 1)
        for act in acts:
            left.addWidget(act)
        middle.addWidget(self.name)
        middle.addWidget(self.note)
        self._add_pages(middle, pages)
        row = QHBoxLayout()
        row.setSpacing(20)
        for column, stretch in ((left, 0), (middle, 1), (right, 0)):
            column.setSpacing(8)
            row.addLayout(column, stretch)
        self.body.addLayout(row, 1)
        return right

    def _add_pages(self, column: QVBoxLayout, pages: Mapping[str, Sequence[QWidget]]) -> None:
        stack, group, tabs = QStackedWidget(), QButtonGroup(self), QHBoxLayout()
        tabs.setSpacing(3)
        for number, (title, parts) in enumerate(pages.items()):
            stack.addWidget(_scrolled(parts))
            tab = button(title, partial(stack.setCurrentIndex, number), "tab")
            tab.setCheckable(True)
            tab.setChecked(number == 0)
            group.addButton(tab)
            tabs.addWidget(tab)
        tabs.addStretch(1)
        column.addLayout(tabs)
        column.addWidget(stack, 1)

    def acts(self) -> list[QPushButton]:
        """Return the acts for the list, except removing."""
        return [
            button("Duplicate…", self.ask_copy, "link"),
            button("Import…", self._ask_take, "link"),
            button("Export…", self._ask_save, "link"),
        ]

    def item_now(self) -> Any:
        """Return the selected style as edited."""
        return self.items[self.key]

    def choose(self, key: str) -> None:
        """Select another style."""
        self.key = key
        self.fill()

    def is_shipped(self) -> bool:
        """Whether the selected style ships with the program."""
        return self.key in self._shelf.shipped

    def changed_items(self) -> dict[str, Any]:
        """Return the changed and new styles by key."""
        return {
            key: item
            for key, item in self.items.items()
            if key not in self._shelf.shipped and self.before.get(key) != item
        }

    def gone(self) -> list[str]:
        """The keys of removed styles."""
        return [key for key in self.before if key not in self.items]

    def set(self, part: str, name: str, value: Any) -> None:
        """Take a person's change of an option."""
        item = self.item_now()
        changed = replace(getattr(item, part), **{name: value})
        if changed == getattr(item, part):
            return
        changed = replace(item, **{part: changed})
        wrong = self.objection(changed)
        if wrong:
            self.tell_wrong(wrong)
        else:
            self.put(changed)

    def objection(self, item: Any) -> str:
        """Return why a style cannot be used as edited, in a sentence; "" if it can."""
        return ""

    def show_parts(self) -> None:
        """Show all options of the selected style, and where it comes from."""
        item = self.item_now()
        self.name.set_whole(item.name)
        set_tone(self.note, "")
        self.note.set_whole(SHIPPED if self.is_shipped() else OWN)
        self.remove.setEnabled(not self.is_shipped())
        for part, fields in self.parts.items():
            fields.show_values(getattr(item, part))

    def keep_changes(self) -> str:
        """Save changed, new and removed styles; return the key of the selected one."""
        for key, item in self.changed_items().items():
            self._guarded(partial(self._shelf.keep, item))
            self._kept.keep(key, item)
        for key in self.gone():
            self._guarded(partial(self._shelf.discard, key))
            self._kept.keep(key, None)
        return self.key

    def _guarded(self, do: Callable[[], object]) -> None:
        try:
            do()
        except OSError as error:
            reason = error.strerror or "the disk cannot be written"
            self.not_kept.emit(f"The {self._shelf.noun} was not saved for other jobs: {reason}.")

    def put(self, item: Any) -> None:
        """Replace the selected style by its changed form; one that ships is copied instead."""
        if self.is_shipped():
            self.add(replace(item, name=self.free(f"{item.name}, own")))
        else:
            self.items[self.key] = item
            self.changed.emit()

    def add(self, item: Any) -> None:
        """Add a style and select it."""
        self.key = self._shelf.key_of(item.name)
        self.items[self.key] = item
        self.fill()

    def free(self, name: str) -> str:
        """Return a name that no style has."""
        names = {item.name.casefold() for item in self.items.values()}
        wanted, number = name, 2
        while wanted.casefold() in names or self._shelf.key_of(wanted) in self.items:
            wanted, number = f"{name} {number}", number + 1
        return wanted

    def fill(self) -> None:
        """List all styles again, and show the selected one."""
        self.list.blockSignals(True)
        self.list.clear()
        for key, item in self.items.items():
            row = QListWidgetItem(item.name, self.list)
            row.setData(_KEY, key)
            if key == self.key:
                self.list.setCurrentItem(row)
        self.list.blockSignals(False)
        self.shown.emit()

    def ask_copy(self) -> None:
        """Copy the selected style under a name that is asked for."""
        now = self.item_now()
        name, accepted = QInputDialog.getText(
            self, f"New {self._shelf.noun}", "Name", text=self.free(f"{now.name} 2")
        )
        if accepted and name.strip():
            self.add(replace(now, name=self.free(" ".join(name.split()))))

    def take(self, path: Path) -> None:
        """Add the style in a file; what is wrong with it is told."""
        try:
            item = self._shelf.read_file(path)
        except self._shelf.wrong as error:
            self.tell_wrong(str(error))
            return
        self.add(replace(item, name=self.free(item.name)))

    def save(self, path: Path) -> None:
        """Write the selected style to a file."""
        try:
            write_whole(path, self.item_now().packed().encode())
        except OSError as error:
            self.tell_wrong(f"“{path.name}” cannot be written: {error.strerror}.")
            return
        self.note.set_whole(f"Saved as “{path.name}”.")

    def take_away(self) -> None:
        """Remove the selected style."""
        del self.items[self.key]
        self.key = next(iter(self.items))
        self.fill()

    def tell_wrong(self, sentence: str) -> None:
        """Show what could not be done."""
        set_tone(self.note, "plum")
        self.note.set_whole(sentence)

    def _chosen(self, row: QListWidgetItem | None) -> None:
        if row is not None:
            self.key = row.data(_KEY)
            self.shown.emit()

    def _filter(self) -> str:
        """Return the filter for file dialogs."""
        return f"{self._shelf.noun.capitalize()}s (*{self._shelf.suffix} *.json)"

    def _ask_take(self) -> None:
        noun = self._shelf.noun
        path, _ = QFileDialog.getOpenFileName(self, f"Import {noun}", "", self._filter())
        if path:
            self.take(Path(path))

    def _ask_save(self) -> None:
        name = f"{self._shelf.key_of(self.item_now().name)}{self._shelf.suffix}"
        path, _ = QFileDialog.getSaveFileName(
            self, f"Export {self._shelf.noun}", name, self._filter()
        )
        if path:
            self.save(Path(path))


def _scrolled(pages: Sequence[QWidget]) -> QScrollArea:
    inside = QWidget()
    inside.setObjectName("page")
    column = QVBoxLayout(inside)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    for page in pages:
        column.addWidget(page)
    column.addStretch(1)
    scroll = QScrollArea()
    scroll.setWidget(inside)
    scroll.setWidgetResizable(True)
    scroll.setFrameShape(QFrame.Shape.NoFrame)
    return scroll
