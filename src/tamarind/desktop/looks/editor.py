"""The editor: looks on the left, their choices in the middle, the person's text on the picture."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from enum import Enum, auto
from functools import partial
from typing import Any

import av
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.desktop.looks.pages import (
    ground_page,
    letters_page,
    second_page,
    standing_page,
    words_page,
)
from tamarind.desktop.looks.sample import Sample
from tamarind.desktop.widgets.parts import button, label, set_tone
from tamarind.desktop.widgets.shelf_dialog import OWN, Shelf, ShelfDialog
from tamarind.desktop.widgets.shelf_dialog import SHIPPED as SHIPPED_NOTE
from tamarind.picture.caption import Caption
from tamarind.picture.contrast import WANTED
from tamarind.picture.lookbook import SHIPPED, discard, keep, key_of, look_from
from tamarind.picture.looks import SUFFIX, LookError, Place

SHELF = Shelf("look", SUFFIX, SHIPPED, key_of, look_from, LookError)
FOLLOWS_MS = 30
RESTS_MS = 200
"""How well letters stand out is told once they stay where they are."""


class Use(Enum):
    """What a chosen look is used for."""

    JOB = auto()
    RECORDING = auto()
    CUES = auto()


class LookEditor(ShelfDialog):
    """Changes are made to copies, and kept when the dialog is left by one of its acts."""

    def __init__(
        self,
        session: Session,
        key: str,
        frame: av.VideoFrame | None,
        caption: Caption,
        parent: QWidget | None,
        cues: int = 0,
    ) -> None:
        """``cues`` is how many captions are chosen, which may have a look of their own."""
        super().__init__("How captions look", (1160, 680), SHELF, session.looks.all(), key, parent)
        self._session = session
        self.used_for = Use.RECORDING
        self.list.setFixedWidth(176)
        self.sample = Sample(frame, caption)
        self.sample.dragged.connect(self.place)
        self.other = Sample(None, caption, 0.8) if frame is not None else None
        self.pages = {
            "letters": letters_page(partial(self.set, "letters")),
            "ground": ground_page(partial(self.set, "ground")),
            "standing": standing_page(partial(self.set, "standing")),
            "second": second_page(partial(self.set, "second")),
        }
        self.pages["words"], self.pages["fit"] = words_page(
            partial(self.set, "words"), partial(self.set, "fit")
        )
        shown: dict[str, tuple[str, ...]] = {
            "Letters": ("letters",),
            "Behind": ("ground",),
            "Place": ("standing",),
            "Words": ("words", "fit"),
            "Second": ("second",),
        }
        self._stack = QStackedWidget()
        self._tabs = QButtonGroup(self)
        tabs = QHBoxLayout()
        tabs.setSpacing(2)
        for number, (title, parts) in enumerate(shown.items()):
            self._stack.addWidget(_scrolled(*(self.pages[part] for part in parts)))
            tab = button(title, partial(self._stack.setCurrentIndex, number), "tab")
            tab.setCheckable(True)
            tab.setChecked(number == 0)
            self._tabs.addButton(tab)
            tabs.addWidget(tab)
        tabs.addStretch(1)
        self._later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._later.timeout.connect(self._show_samples)
        self.legible = label("", "note", wrap=True)
        self._contrast_later = QTimer(self, singleShot=True, interval=RESTS_MS)
        self._contrast_later.timeout.connect(self._tell_contrast)

        left, middle, right = QVBoxLayout(), QVBoxLayout(), QVBoxLayout()
        for column in (left, middle, right):
            column.setSpacing(8)
        left.addWidget(label("LOOKS", "heading"))
        left.addWidget(self.list, 1)
        for act in (*self.acts(), self.remove):
            left.addWidget(act)
        middle.addWidget(self.name)
        middle.addWidget(self.note)
        middle.addLayout(tabs)
        middle.addWidget(self._stack, 1)
        right.addWidget(label("AS IT WILL BE WRITTEN", "heading"))
        right.addWidget(self.sample)
        right.addWidget(label("Drag the captions to where they are to stand.", "note"))
        right.addWidget(self.legible)
        if self.other is not None:
            right.addWidget(self.other)
        right.addStretch(1)
        row = QHBoxLayout()
        row.setSpacing(20)
        row.addLayout(left)
        row.addLayout(middle, 1)
        row.addLayout(right)
        self.body.addLayout(row, 1)
        here = button("Use for this recording", self.accept)
        every = button("Use for the whole job", self.accept_for_all, "primary")
        here.setEnabled(session.shown is not None)
        every.setDefault(True)
        noun = "this caption" if cues == 1 else f"the {cues} chosen captions"
        some = [button(f"Use for {noun}", self.accept_for_cues)] if cues else []
        self.set_acts(*some, here, every)
        self.fill()

    def accept_for_all(self) -> None:
        """Take the look for the whole job."""
        self.used_for = Use.JOB
        self.accept()

    def accept_for_cues(self) -> None:
        """Take the look for the captions that were chosen."""
        self.used_for = Use.CUES
        self.accept()

    def keep_changes(self) -> str:
        """Keep the looks that were changed, made or taken away; the key of the chosen one."""
        for key, look in self.changed_items().items():
            self._guarded(partial(keep, key, look))
            self._session.looks.keep(key, look)
        for key in self.gone():
            self._guarded(partial(discard, key))
            self._session.looks.keep(key, None)
        return self.key

    def _guarded(self, do: Callable[[], object]) -> None:
        try:
            do()
        except OSError as error:
            self._session.trouble.emit(f"The look was not kept: {error.strerror}.")

    def set(self, part: str, name: str, value: Any) -> None:
        """A person has chosen something."""
        look = self.item_now()
        changed = replace(getattr(look, part), **{name: value})
        if changed != getattr(look, part):
            self.put(replace(look, **{part: changed}))

    def place(self, across: float, down: float) -> None:
        """The captions were dragged to a place."""
        look = self.item_now()
        standing = replace(
            look.standing, place=Place.FREE, across=round(across, 3), down=round(down, 3)
        )
        self.put(replace(look, standing=standing))
        self.pages["standing"].show_values(self.item_now().standing)

    def _show_samples(self) -> None:
        for sample in (self.sample, self.other):
            if sample is not None:
                sample.show_look(self.item_now())
        self._contrast_later.start()

    def _tell_contrast(self) -> None:
        """Of the picture on which letters stand out least."""
        samples = [one for one in (self.sample, self.other) if one is not None]
        ratios = [one.contrast(self.item_now()) for one in samples]
        least = min((ratio for ratio in ratios if ratio is not None), default=None)
        is_low = least is not None and least < WANTED
        set_tone(self.legible, "plum" if is_low else "")
        told = "" if least is None else f"Contrast {least:.1f} to 1."
        if is_low:
            told += f" {WANTED} to 1 is wanted: an outline or a box makes letters stand out."
        self.legible.setText(told)

    def follow(self) -> None:
        """The samples show it in a moment."""
        self._later.start()

    def show_item(self) -> None:
        """Show all of the chosen look."""
        look = self.item_now()
        self.name.set_whole(look.name)
        set_tone(self.note, "")
        self.note.set_whole(SHIPPED_NOTE if self.is_shipped() else OWN)
        self.remove.setEnabled(not self.is_shipped())
        for part, page in self.pages.items():
            page.show_values(getattr(look, part))
        self._later.start()


def _scrolled(*pages: QWidget) -> QScrollArea:
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
