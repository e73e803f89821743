"""The dialog that asks which files to make of excerpts, and where."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QRadioButton,
    QWidget,
)

from tamarind.application.session import Session
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import ElidedLabel, button, label
from tamarind.job.excerptfiles import ExcerptOptions, has_picture, planned
from tamarind.job.excerptkinds import CAPTIONS, EDIT_LISTS, KINDS, QUOTATIONS, SOUNDS, VIDEOS
from tamarind.job.excerpts import Chosen
from tamarind.job.settings import EXCERPT_KINDS, EXCERPTS_BURNT, EXCERPTS_JOINED, EXPORT_FOLDER

GROUPS = (
    ("SOUND", SOUNDS), ("VIDEO", VIDEOS), ("CAPTIONS", CAPTIONS),
    ("FOR A VIDEO EDITOR", EDIT_LISTS), ("QUOTATION SHEET", QUOTATIONS),
)  # fmt: skip
MOST_NAMES = 4


class WriteDialog(Dialog):
    """Shows the number of files on its button; choices are remembered."""

    def __init__(
        self,
        session: Session,
        chosen: Sequence[Chosen],
        title: str,
        folder: Path,
        parent: QWidget | None,
    ) -> None:
        super().__init__("Write excerpts", (640, 470), parent, "Write excerpts")
        self._session, self._chosen, self._title = session, chosen, title
        self.folder = folder
        kept = session.settings.get(EXCERPT_KINDS)
        self.kinds = {kind: QCheckBox(name) for kind, name in KINDS.items()}
        pictured = any(map(has_picture, chosen))
        grid = QGridLayout()
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(8)
        for row, (heading, kinds) in enumerate(GROUPS):
            grid.addWidget(label(heading, "heading"), row, 0)
            for column, kind in enumerate(kinds, 1):
                box = self.kinds[kind]
                box.setChecked(kind in kept)
                box.toggled.connect(lambda _on: self._follow())
                box.setEnabled(kind not in VIDEOS or pictured)
                grid.addWidget(box, row, column)
        grid.setColumnStretch(6, 1)
        self.each, self.joined = (
            QRadioButton("One file for each"),
            QRadioButton("All in one file"),
        )
        self.burnt = QCheckBox("Burn captions into videos")
        self.joined.setChecked(session.settings.get(EXCERPTS_JOINED))
        self.each.setChecked(not self.joined.isChecked())
        self.burnt.setChecked(session.settings.get(EXCERPTS_BURNT))
        self.joined.toggled.connect(lambda _on: self._follow())
        self._lay_out(folder, grid)
        self.go = button("", self._take, "primary")
        self.set_acts(self.go)
        self._follow()

    def _lay_out(self, folder: Path, grid: QGridLayout) -> None:
        """Place the kinds, the ways and the folder."""
        ways = QHBoxLayout()
        ways.setSpacing(18)
        for widget in (label("Sound, video, captions:"), self.each, self.joined, self.burnt):
            ways.addWidget(widget)
        ways.addStretch(1)
        self.where = ElidedLabel(str(folder), "note")
        place = QHBoxLayout()
        place.addWidget(self.where, 1)
        place.addWidget(button("Change folder…", self._choose_folder))
        self.facts = label("", "note", wrap=True)
        self.body.addLayout(grid)
        self.body.addLayout(ways)
        self.body.addLayout(place)
        self.body.addWidget(self.facts)
        self.body.addStretch(1)

    def options(self) -> ExcerptOptions:
        """Return the choices."""
        kinds = tuple(kind for kind, box in self.kinds.items()
                      if box.isChecked() and box.isEnabled())  # fmt: skip
        return ExcerptOptions(
            kinds, self.joined.isChecked(), self.burnt.isChecked(), title=self._title
        )

    def _take(self) -> None:
        options = self.options()
        keep = self._session.settings.keep
        keep(EXCERPT_KINDS, options.kinds)
        keep(EXCERPTS_JOINED, options.joined)
        keep(EXCERPTS_BURNT, options.burnt)
        self.accept()

    def _follow(self) -> None:
        files = planned(self._chosen, self.options())
        self.go.setText("Write 1 file" if len(files) == 1 else f"Write {len(files)} files")
        self.go.setEnabled(bool(files))
        names = [file.name for file in files[:MOST_NAMES]]
        more = len(files) - len(names)
        told = "\n".join([*names, f"and {more} more"] if more else names)
        self.facts.setText(told or "Tick at least one kind of file.")
        videos = any(self.kinds[kind].isChecked() for kind in VIDEOS)
        self.burnt.setEnabled(videos)

    def _choose_folder(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, "Write to", str(self.folder))
        if chosen:
            self.folder = Path(chosen)
            self.where.set_whole(chosen)
            self._session.settings.keep(EXPORT_FOLDER, self.folder)
