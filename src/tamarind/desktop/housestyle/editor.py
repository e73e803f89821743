"""The editor: styles on the left, their rules in the middle, the person's text on the right."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QInputDialog,
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
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.desktop.widgets.shelf_dialog import OWN, Shelf, ShelfDialog
from tamarind.desktop.widgets.shelf_dialog import SHIPPED as SHIPPED_NOTE
from tamarind.language.housestyle import SUFFIX, Level, StyleError
from tamarind.language.stylebook import SHIPPED, discard, keep, key_of, style_from
from tamarind.transcript.model import Transcript

SHELF = Shelf("house style", SUFFIX, SHIPPED, key_of, style_from, StyleError)
FOLLOWS_MS = 120


class StyleEditor(ShelfDialog):
    """Changes are made to copies, and kept when the dialog is left by one of its acts."""

    def __init__(
        self, session: Session, key: str, text: Transcript, place: int, parent: QWidget | None
    ) -> None:
        super().__init__("House style", (1160, 700), SHELF, session.styles.all(), key, parent)
        self._session = session
        self.for_all = False
        self._renamed: dict[str, str] = {}
        self.list.setFixedWidth(206)
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
        self._later.timeout.connect(lambda: self.example.show_style(self.item_now()))
        self._rename = button("rename…", self._ask_name, "link")

        left, middle, right = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        for column in (left, middle, right):
            column.setSpacing(8)
        left.addWidget(label("STYLES", "heading"))
        left.addWidget(self.list, 1)
        copy, *files = self.acts()
        for act in (copy, self._rename, *files, self.remove):
            left.addWidget(act)
        middle.addWidget(self.name)
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
        self.fill()

    def keep_changes(self) -> str:
        """Keep the styles that were changed, made or taken away; the key of the chosen one."""
        for key, style in self.changed_items().items():
            self._guarded(partial(keep, style))
            self._session.styles.keep(key, style)
        for before, after in self._renamed.items():
            used = [r.id for r in self._session.recordings.all() if r.style == before]
            if used and after in self.items:
                self._session.styles.choose(used, after)
        for key in self.gone():
            self._guarded(partial(discard, key))
            self._session.styles.keep(key, None)
        return self.key

    def accept_for_all(self) -> None:
        """Take the style for every recording."""
        self.for_all = True
        self.accept()

    def _guarded(self, do: Callable[[], object]) -> None:
        try:
            do()
        except OSError as error:
            self._session.trouble.emit(f"The house style was not kept: {error.strerror}.")

    def follow(self) -> None:
        """The example shows it in a moment."""
        self._later.start()

    def show_item(self) -> None:
        """Show all of the chosen style."""
        style = self.item_now()
        self.name.set_whole(style.name)
        shipped = self.is_shipped()
        used = sum(r.style == self.key for r in self._session.recordings.all())
        note = SHIPPED_NOTE if shipped else OWN
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
        style = self.item_now()
        changed = replace(getattr(style, part), **{rule: value})
        if changed == getattr(style, part):
            return
        limits = changed if part == "captions" else style.captions
        if limits.shortest > limits.longest:
            self.tell_wrong("The shortest time would be longer than the longest.")
            return
        set_tone(self.note, "")
        self.put(replace(style, **{part: changed}))

    def set_level(self, rule: str, level: Level) -> None:
        """Say how much a rule matters."""
        levels = {**self.item_now().levels, rule: level}
        if RULES[rule].level is level:
            del levels[rule]
        self.put(replace(self.item_now(), levels=levels))

    def _ask_name(self) -> None:
        style = self.item_now()
        name, accepted = QInputDialog.getText(self, "Rename", "Its name", text=style.name)
        name = " ".join(name.split())
        if accepted and name and name != style.name:
            self.rename(name)

    def rename(self, name: str) -> None:
        """Give the chosen style another name; recordings that have it follow when it is kept."""
        style = self.items.pop(self.key)
        before = self.key
        self.add(replace(style, name=self.free(name)))
        self._renamed[before] = self.key
