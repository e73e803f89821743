"""The dialog for how much disk space decoded sound may take."""

from __future__ import annotations

import os

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QWidget

from tamarind.application import personal
from tamarind.audio import soundcache
from tamarind.desktop.qtloop import tasks_of
from tamarind.desktop.widgets.decimal_box import DecimalBox
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.system.folders import cache_home

_WHAT = (
    "The decoded sound of recordings is kept, so that they open at once"
    ": about 230 MB for an hour. It can be made again at any time. Where there is no more room,"
    " what was not used for longest goes, but never what is open."
)


def use_setting() -> None:
    """Apply the person's setting to the workers; the environment variable takes precedence."""
    os.environ.setdefault(soundcache.ROOM_VARIABLE, str(personal.read(personal.SOUND_GB)))


class RoomDialog(Dialog):
    """Asks for a number of gigabytes, kept for all jobs."""

    def __init__(self, parent: QWidget | None = None) -> None:
        title = "Decoded sound on this computer"
        super().__init__(title, (520, 300), parent, title)
        self._tasks = tasks_of(self, "making room")
        self.most = DecimalBox()
        self.most.setAccessibleName("At most, in gigabytes")
        self.most.setRange(0.5, 10_000)
        self.most.setDecimals(1)
        self.most.setSuffix(" GB")
        self.most.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.most.setValue(soundcache.room() / 1e9)
        self.kept = label("", "job", wrap=True)
        row = QHBoxLayout()
        row.addWidget(label("At most"))
        row.addWidget(self.most)
        row.addStretch(1)
        self.body.addWidget(label(_WHAT, "note", wrap=True))
        self.body.addWidget(self.kept)
        self.body.addLayout(row)
        self.body.addWidget(label(f"It is in {cache_home() / 'sounds'}.", "note", wrap=True))
        self.body.addStretch(1)
        keep = button("Keep", self.accept, "primary")
        keep.setDefault(True)
        self.set_acts(keep, between=(button("Delete all now", self._empty),))
        self._tasks.run(soundcache.kept, self._tell, self.kept.setText)

    def accept(self) -> None:
        """Save the number, and delete sound above it."""
        personal.keep(personal.SOUND_GB, self.most.value())
        os.environ[soundcache.ROOM_VARIABLE] = str(self.most.value())
        soundcache.make_room(soundcache.room())
        super().accept()

    def _empty(self) -> None:
        self._tasks.run(lambda: soundcache.make_room(0), self._tell, self.kept.setText)

    def _tell(self, kept: int) -> None:
        self.kept.setText(f"{kept / 1e9:.2f} GB used now.")
