"""The editor: styles on the left, their rules in the middle, the person's text on the right."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import (
    QButtonGroup,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.checks.rules import RULES
from tamarind.desktop.housestyle.example import Example
from tamarind.desktop.housestyle.pages import (
    ChecksPage,
    captions_page,
    transcript_page,
    wording_page,
)
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import ElidedLabel, button, label, set_tone
from tamarind.language.housestyle import SUFFIX, HouseStyle, Level, StyleError
from tamarind.language.stylebook import SHIPPED, discard, keep, key_of, style_from
from tamarind.system.files import write_whole
from tamarind.transcript.model import Transcript

FILTER = f"House styles (*{SUFFIX} *.json)"
FOLLOWS_MS = 120


class StyleEditor(Dialog):
    """Changes are made to copies, and kept when the dialog is left by one of its acts."""

    def __init__(
        self, session: Session, key: str, text: Transcript, place: int, parent: QWidget | None
    ) -> None:
        super().__init__("House style", (1160, 700), parent)
        self._session = session
        self._styles = dict(session.styles.all())
        self._before = dict(self._styles)
        self._key = key if key in self._styles else next(iter(self._styles))
        self.for_all = False
        self._renamed: dict[str, str] = {}
        self._list = QListWidget()
        self._list.setAccessibleName("House styles")
        self._list.setFixedWidth(206)
        self._list.currentItemChanged.connect(lambda now, _before: self._choose(now))
        self._name = ElidedLabel("", "title")
        self.note = ElidedLabel("", "note")
        self._captions = captions_page(partial(self._set, "captions"))
        self._transcript = transcript_page(partial(self._set, "transcript"))
        self._wording = wording_page(partial(self._set, "wording"))
        self._levels = ChecksPage(self.set_level)
        pages = {
            "Captions": self._captions,
            "Transcript": self._transcript,
            "Wording": self._wording,
            "Checks": self._levels,
        }
        self._pages = QStackedWidget()
        self._tabs = QButtonGroup(self)
        tabs = QHBoxLayout()
        tabs.setSpacing(4)
        for number, (title, page) in enumerate(pages.items()):
            scroll = QScrollArea()
            scroll.setWidget(page)
            scroll.setWidgetResizable(True)
            scroll.setFrameShape(QFrame.Shape.NoFrame)
            self._pages.addWidget(scroll)
            tab = button(title, partial(self._pages.setCurrentIndex, number), "tab")
            tab.setCheckable(True)
            tab.setChecked(number == 0)
            self._tabs.addButton(tab)
            tabs.addWidget(tab)
        tabs.addStretch(1)
        self.example = Example(text, place)
        self.example.setFixedWidth(380)
        self._later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._later.timeout.connect(lambda: self.example.show_style(self.style_now()))
        self._rename = button("rename…", self._ask_name, "link")
        self.remove = button("take it away", self.take_away, "link")

        left, middle, right = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        for column in (left, middle, right):
            column.setSpacing(8)
        left.addWidget(label("STYLES", "heading"))
        left.addWidget(self._list, 1)
        for act in (
            button("a new one like this…", self.ask_copy, "link"),
            self._rename,
            button("take from a file…", self._ask_take, "link"),
            button("save as a file…", self._ask_save, "link"),
            self.remove,
        ):
            left.addWidget(act)
        middle.addWidget(self._name)
        middle.addWidget(self.note)
        middle.addLayout(tabs)
        middle.addWidget(self._pages, 1)
        right.addWidget(self.example, 1)
        row = QHBoxLayout()
        row.setSpacing(22)
        row.addLayout(left)
        row.addLayout(middle, 1)
        row.addLayout(right)
        self.body.addLayout(row, 1)
        here = button("Use for this recording", self.accept, "primary")
        every = button("Use for all recordings", self.accept_for_all)
        here.setEnabled(session.shown is not None)
        here.setDefault(True)
        self.set_acts(every, here)
        self._fill()

    def style_now(self) -> HouseStyle:
        """The style that is chosen, as it is edited now."""
        return self._styles[self._key]

    def choose(self, key: str) -> None:
        """Show another style."""
        self._key = key
        self._fill()

    def keep_changes(self) -> str:
        """Keep the styles that were changed, made or taken away; the key of the chosen one."""
        for key, style in self._styles.items():
            if key not in SHIPPED and self._before.get(key) != style:
                self._guarded(partial(keep, style))
                self._session.styles.keep(key, style)
        for before, after in self._renamed.items():
            used = [r.id for r in self._session.recordings.all() if r.style == before]
            if used and after in self._styles:
                self._session.styles.choose(used, after)
        for key in self._before.keys() - self._styles.keys():
            self._guarded(partial(discard, key))
            self._session.styles.keep(key, None)
        return self._key

    def accept_for_all(self) -> None:
        """Take the style for every recording."""
        self.for_all = True
        self.accept()

    def _guarded(self, do: Callable[[], object]) -> None:
        try:
            do()
        except OSError as error:
            self._session.trouble.emit(f"The house style was not kept: {error.strerror}.")

    def _fill(self) -> None:
        self._list.blockSignals(True)
        self._list.clear()
        for key, style in self._styles.items():
            item = QListWidgetItem(style.name, self._list)
            item.setData(0x100, key)
            if key == self._key:
                self._list.setCurrentItem(item)
        self._list.blockSignals(False)
        self._show()

    def _choose(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self._key = item.data(0x100)
            self._show()

    def _show(self) -> None:
        style = self.style_now()
        self._name.set_whole(style.name)
        shipped = self._key in SHIPPED
        used = sum(r.style == self._key for r in self._session.recordings.all())
        note = "comes with Tamarind: a change makes a copy of your own" if shipped else "your own"
        if used:
            note += " · used by 1 recording" if used == 1 else f" · used by {used} recordings"
        self.note.set_whole(note)
        self._rename.setEnabled(not shipped)
        self.remove.setEnabled(not shipped and not used)
        self._captions.show_values(style.captions)
        self._transcript.show_values(style.transcript)
        self._wording.show_values(style.wording)
        self._levels.show_levels(style)
        self._later.start()

    def _set(self, part: str, rule: str, value: Any) -> None:
        """A person has changed a rule."""
        style = self.style_now()
        changed = replace(getattr(style, part), **{rule: value})
        if changed == getattr(style, part):
            return
        limits = changed if part == "captions" else style.captions
        if limits.shortest > limits.longest:
            set_tone(self.note, "plum")
            self.note.set_whole("The shortest time would be longer than the longest.")
            return
        set_tone(self.note, "")
        self._put(replace(style, **{part: changed}))

    def set_level(self, rule: str, level: Level) -> None:
        """Say how much a rule matters."""
        levels = {**self.style_now().levels, rule: level}
        if RULES[rule].level is level:
            del levels[rule]
        self._put(replace(self.style_now(), levels=levels))

    def _put(self, style: HouseStyle) -> None:
        if self._key in SHIPPED:
            self._add(replace(style, name=self._free(f"{style.name}, own")))
        else:
            self._styles[self._key] = style
            self._later.start()

    def _add(self, style: HouseStyle) -> None:
        self._key = key_of(style.name)
        self._styles[self._key] = style
        self._fill()

    def _free(self, name: str) -> str:
        """A name that no style has."""
        names = {style.name.casefold() for style in self._styles.values()}
        wanted, number = name, 2
        while wanted.casefold() in names or key_of(wanted) in self._styles:
            wanted, number = f"{name} {number}", number + 1
        return wanted

    def ask_copy(self) -> None:
        """Make a style of one's own from this one."""
        name, accepted = QInputDialog.getText(
            self, "New house style", "Its name", text=self._free(f"{self.style_now().name} 2")
        )
        if accepted and name.strip():
            self._add(replace(self.style_now(), name=self._free(" ".join(name.split()))))

    def _ask_name(self) -> None:
        style = self.style_now()
        name, accepted = QInputDialog.getText(self, "Rename", "Its name", text=style.name)
        name = " ".join(name.split())
        if accepted and name and name != style.name:
            self.rename(name)

    def rename(self, name: str) -> None:
        """Give the chosen style another name; recordings that have it follow when it is kept."""
        style = self._styles.pop(self._key)
        before = self._key
        self._add(replace(style, name=self._free(name)))
        self._renamed[before] = self._key

    def _ask_take(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Take a house style", "", FILTER)
        if path:
            self.take(Path(path))

    def take(self, path: Path) -> None:
        """Add the style in a file; what is wrong with it is said."""
        try:
            style = style_from(path)
        except StyleError as error:
            set_tone(self.note, "plum")
            self.note.set_whole(str(error))
            return
        self._add(replace(style, name=self._free(style.name)))

    def _ask_save(self) -> None:
        style = self.style_now()
        path, _ = QFileDialog.getSaveFileName(
            self, "Save the house style", f"{key_of(style.name)}{SUFFIX}", FILTER
        )
        if path:
            self.save(Path(path))

    def save(self, path: Path) -> None:
        """Write the chosen style to a file."""
        try:
            write_whole(path, self.style_now().packed().encode())
        except OSError as error:
            set_tone(self.note, "plum")
            self.note.set_whole(f"“{path.name}” cannot be written: {error.strerror}.")
            return
        self.note.set_whole(f"Saved as “{path.name}”.")

    def take_away(self) -> None:
        """Do without this style."""
        del self._styles[self._key]
        self._key = next(iter(self._styles))
        self._fill()
