"""The editor of house styles: styles on the left, rules in the middle, the person's text on the
right."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QInputDialog, QWidget

from tamarind.application.session import Session
from tamarind.captions.limits import Limits
from tamarind.checks.catalogue import CHECKS
from tamarind.desktop.housestyle.example import Example
from tamarind.desktop.housestyle.pages import ChecksPage, field_makers
from tamarind.desktop.widgets.fields import Fields, Presets
from tamarind.desktop.widgets.parts import button
from tamarind.desktop.widgets.shelf_dialog import ShelfDialog
from tamarind.formats.reading.paragraphs import TextOptions
from tamarind.language.housestyle import CONVENTIONS, Level, Wording
from tamarind.language.stylebook import STYLES
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Transcript

FOLLOWS_MS = 120
WIDE = {"zh", "ja", "ko", "yue"}
"""Languages whose letters are of full width."""


class StyleEditor(ShelfDialog):
    """All house styles, with that of a recording selected first."""

    def __init__(
        self, session: Session, key: str, text: Transcript, place: int, parent: QWidget | None
    ) -> None:
        super().__init__(
            "House style", (1160, 700), STYLES, kept=session.styles, key=key, parent=parent
        )
        self._session = session
        self.for_all = False
        self._renamed: dict[str, str] = {}
        self.example = Example(text, place)
        self.example.setFixedWidth(380)
        self._later = QTimer(self, singleShot=True, interval=FOLLOWS_MS)
        self._later.timeout.connect(lambda: self.example.show_style(self.item_now()))
        self._rename = button("Rename…", self._ask_name, "link")
        self._levels = ChecksPage(self.set_level)
        copy, *files = self.acts()
        right = self.lay_out(
            "STYLES",
            (copy, self._rename, *files, self.remove),
            {
                "Captions": [self.fields("captions", Limits, without=_unused(session))],
                "Transcript": [self.fields("transcript", TextOptions)],
                "Wording": [self._wording_fields()],
                "Checks": [self._levels],
            },
            206,
        )
        right.addWidget(self.example, 1)
        here = button("Use for this recording", self.accept, "primary")
        every = button("Use for all recordings", self.accept_for_all)
        here.setEnabled(session.shown is not None)
        here.setDefault(True)
        self.set_acts(every, here)
        self.shown.connect(self._show_style)
        self.changed.connect(self._later.start)
        self.not_kept.connect(session.trouble.emit)
        self.fill()

    def _wording_fields(self) -> Fields:
        presets = Presets("Numbers and units", CONVENTIONS, "differs: see More")
        return self.fields("wording", Wording, own=field_makers(), presets=presets)

    def keep_changes(self) -> str:
        """Save the changed, new and removed styles; recordings follow a renamed one."""
        key = super().keep_changes()
        for before, after in self._renamed.items():
            used = [r.id for r in self._session.recordings.all() if r.style == before]
            if used and after in self.items:
                self._session.styles.choose(used, after)
        return key

    def accept_for_all(self) -> None:
        """Use the style for every recording."""
        self.for_all = True
        self.accept()

    def _show_style(self) -> None:
        self.show_parts()
        style = self.item_now()
        used = sum(r.style == self.key for r in self._session.recordings.all())
        if used:
            many = "1 recording" if used == 1 else f"{used} recordings"
            self.note.set_whole(f"{self.note.whole()} · used by {many}")
            self.remove.setEnabled(False)
        self._rename.setEnabled(not self.is_shipped())
        self._levels.show_levels(style)
        self._later.start()

    def objection(self, item: Any) -> str:
        """Return why the style cannot be kept: the least duration is above the most."""
        if item.captions.shortest > item.captions.longest:
            return "The shortest duration would be longer than the longest."
        return ""

    def set_level(self, rule: str, level: Level) -> None:
        """Set how much a check counts."""
        levels = {**self.item_now().levels, rule: level}
        if CHECKS[rule].level is level:
            del levels[rule]
        self.put(replace(self.item_now(), levels=levels))

    def _ask_name(self) -> None:
        style = self.item_now()
        name, accepted = QInputDialog.getText(self, "Rename house style", "Name", text=style.name)
        name = " ".join(name.split())
        if accepted and name and name != style.name:
            self.rename(name)

    def rename(self, name: str) -> None:
        """Rename the selected style; recordings that use it follow when it is saved."""
        style = self.items.pop(self.key)
        before = self.key
        self.add(replace(style, name=self.free(name)))
        self._renamed[before] = self.key


def _unused(session: Session) -> tuple[str, ...]:
    """Return the sections of options that no language of the job has a use for."""
    found = {
        language
        for recording in session.recordings.all()
        for language in (
            recording.language,
            *recording.how.others,
            *(track.language for track in session.texts.document(recording.id).tracks),
        )
    }
    return () if WIDE & set(map(base_of, found)) else ("Full width",)
