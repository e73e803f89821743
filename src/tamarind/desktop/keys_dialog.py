"""The dialog for all keys: what they do, changing them, conflicts, and a sheet to print."""

from __future__ import annotations

from collections.abc import Callable
from html import escape
from pathlib import Path

from PySide6.QtCore import QMarginsF
from PySide6.QtGui import QFont, QKeySequence, QPageSize, QPdfWriter, QTextDocument
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QKeySequenceEdit,
    QLineEdit,
    QTreeWidget,
    QTreeWidgetItem,
    QWidget,
)

from tamarind.desktop.commands import find, listed, shown
from tamarind.desktop.keys import Keys, written
from tamarind.desktop.theme import fonts
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label


class KeysDialog(Dialog):
    """Uses changes at once; ``changed`` is called after each."""

    def __init__(
        self, keys: Keys, changed: Callable[[], object], parent: QWidget | None = None
    ) -> None:
        super().__init__("Keys", (720, 600), parent)
        self._keys, self._changed = keys, changed
        self.rows: dict[str, QTreeWidgetItem] = {}
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("Filter")
        self.filter.setAccessibleName("Filter the keys")
        self.filter.textChanged.connect(self._filter)
        self.list = QTreeWidget()
        self.list.setAccessibleName("Keys")
        self.list.setRootIsDecorated(False)
        self.list.setHeaderLabels(["what it does", "keys"])
        self.list.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.list.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self._fill()
        self.first, self.second = QKeySequenceEdit(), QKeySequenceEdit()
        change = QHBoxLayout()
        change.setSpacing(10)
        for edit, name in ((self.first, "Key"), (self.second, "Another key")):
            edit.setMaximumSequenceLength(1)
            edit.setClearButtonEnabled(True)
            edit.setAccessibleName(name)
            change.addWidget(label(name))
            change.addWidget(edit)
            edit.keySequenceChanged.connect(lambda _key: self._check())
        self.give = button("Set", self.keep)
        self._back = button("Default", self.reset_one)
        change.addStretch(1)
        change.addWidget(self._back)
        change.addWidget(self.give)
        self.problem = label("", "plum", wrap=True)
        self.body.addWidget(self.filter)
        self.body.addWidget(self.list, 1)
        self.body.addLayout(change)
        self.body.addWidget(self.problem)
        self.set_acts(
            button("Save as PDF…", self._ask_sheet),
            leave="Close",
            between=(button("All defaults", self.reset_all),),
        )
        self.list.currentItemChanged.connect(lambda *_: self._show())
        self.choose(next(iter(self.rows)))

    def choose(self, name: str) -> None:
        """Select a command."""
        self.list.setCurrentItem(self.rows[name])

    def _fill(self) -> None:
        self.list.clear()
        self.rows.clear()
        for group, rows in listed(self._keys.of).items():
            head = QTreeWidgetItem(self.list, [group.upper(), ""])
            head.setFirstColumnSpanned(True)
            head.setDisabled(True)
            head.setFont(0, fonts.interface(12, QFont.Weight.DemiBold))
            for text, keys, name in rows:
                row = QTreeWidgetItem(self.list, [text, keys])
                if name:
                    self.rows[name] = row
                    self._name_keys(name)
                else:
                    row.setDisabled(True)

    def _name_keys(self, name: str) -> None:
        keys = "  or  ".join(map(shown, self._keys.of(name)))
        own = "   (your own)" if self._keys.is_own(name) else ""
        self.rows[name].setText(1, (keys or "–") + own)

    def _filter(self, text: str) -> None:
        wanted = text.casefold().split()
        for row in range(self.list.topLevelItemCount()):
            item = self.list.topLevelItem(row)
            if item is None:
                continue
            told = f"{item.text(0)} {item.text(1)}".casefold()
            item.setHidden(not all(part in told for part in wanted))

    def _name(self) -> str | None:
        item = self.list.currentItem()
        return next((name for name, row in self.rows.items() if row is item), None)

    def _show(self) -> None:
        name = self._name()
        keys = self._keys.of(name) if name else ()
        for place, edit in enumerate((self.first, self.second)):
            edit.setKeySequence(QKeySequence(keys[place] if place < len(keys) else ""))
            edit.setEnabled(name is not None)
        self._check()

    def _wanted(self) -> list[str]:
        return [edit.keySequence().toString() for edit in (self.first, self.second)]

    def _check(self) -> None:
        """Show the conflict of the keys being entered."""
        name = self._name()
        problem = ""
        for key in filter(None, self._wanted() if name else []):
            other = self._keys.conflict(name or "", key)
            if other is not None:
                problem = f"{shown(written(key))} is taken: {other}."
        self.problem.setText(problem)
        self.give.setEnabled(name is not None and not problem)
        self._back.setEnabled(name is not None and self._keys.is_own(name))

    def keep(self) -> None:
        """Give the selected command the keys that are entered."""
        name = self._name()
        if name is not None and not self.problem.text():
            self._keys.set(name, self._wanted())
            self._name_keys(name)
            self._show()
            self._changed()

    def reset_one(self) -> None:
        """Give the selected command its default keys."""
        name = self._name()
        declared = find(name) if name is not None else None
        if name is None or declared is None:
            return
        taken = [
            self._keys.conflict(name, key)
            for key in declared.keys
            if self._keys.conflict(name, key)
        ]
        if taken:
            self.problem.setText(f"Its default key is taken: {taken[0]}.")
            return
        self._keys.set(name, declared.keys)
        self._name_keys(name)
        self._show()
        self._changed()

    def reset_all(self) -> None:
        """Give all commands their default keys."""
        self._keys.reset()
        for name in self.rows:
            self._name_keys(name)
        self._show()
        self._changed()

    def _ask_sheet(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the keys to print", str(Path.home() / "Tamarind keys.pdf"), "PDF (*.pdf)"
        )
        if name and not write_sheet(self._keys, Path(name)):
            self.problem.setText(f"“{Path(name).name}” cannot be written.")


def write_sheet(keys: Keys, path: Path) -> bool:
    """Write all keys as a PDF sheet of A4; return whether that worked."""
    try:
        path.open("ab").close()
    except OSError:
        return False
    writer = QPdfWriter(str(path))
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(14, 12, 14, 12))
    writer.setTitle("Tamarind keys")
    document = QTextDocument()
    document.setDefaultFont(fonts.interface(11))
    document.setHtml(sheet(keys))
    document.print_(writer)
    return True


def sheet(keys: Keys) -> str:
    """Return all keys as HTML, a table for each group."""
    parts = ["<h2>Tamarind keys</h2>"]
    for group, rows in listed(keys.of).items():
        cells = "".join(
            f"<tr><td width='70%'>{escape(text)}</td><td><b>{escape(told)}</b></td></tr>"
            for text, told, _ in rows
        )
        parts.append(f"<h3>{escape(group)}</h3><table width='100%'>{cells}</table>")
    return "".join(parts)
