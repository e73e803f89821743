"""The dialog that asks what of a job to pack into one file, and shows how far it is."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QCheckBox, QFileDialog, QWidget

from tamarind.application.session import Session
from tamarind.desktop.export.queue_strip import ExportQueueStrip
from tamarind.desktop.openpath import open_path
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.job import whereabouts
from tamarind.job.jobfile import PACKED_SUFFIX
from tamarind.job.packing import PackOrder


class PackDialog(Dialog):
    """The packing goes on in the background when the dialog is closed."""

    def __init__(self, session: Session, parent: QWidget | None) -> None:
        super().__init__("Pack job", (560, 330), parent, "Pack job")
        self._session = session
        self._target: Path | None = None
        self.body.addWidget(
            label(
                "One file with the job and its recordings, to be opened on any computer. Nothing"
                " of the job here is changed.",
                "note",
                wrap=True,
            )
        )
        self.recordings = QCheckBox(self._told_recordings())
        self.drafts = QCheckBox("Drafts and undo history")
        self.names = QCheckBox("Names of speakers, and their voiceprints")
        self.names.setToolTip("The words of the texts stay as they are.")
        shown = session.shown_recording()
        self.only = QCheckBox(f"Only “{shown.name if shown is not None else ''}”")
        self.only.setToolTip("To be proofed elsewhere; Merge a returned job… takes it back.")
        self.only.setVisible(shown is not None)
        self._choices = (self.recordings, self.drafts, self.names, self.only)
        for box in self._choices:
            box.setChecked(box is not self.only)
            self.body.addWidget(box)
        self.problem = label("", "note", wrap=True)
        self.body.addWidget(self.problem)
        self.strip = ExportQueueStrip(session.export_queue)
        self.body.addWidget(self.strip)
        self.body.addStretch(1)
        self.folder = button("Show in folder", self._show_folder)
        self.folder.hide()
        self.go = button("Pack…", self._ask, "primary")
        self.go.setDefault(True)
        self.recordings.toggled.connect(lambda _on: self._follow())
        session.export_queue.changed.connect(self._follow)
        self.finished.connect(lambda _result: session.export_queue.changed.disconnect(self._follow))
        self.set_acts(self.folder, self.go, leave="Close")
        self._follow()

    def _told_recordings(self) -> str:
        paths = {recording.path for recording in self._session.recordings.all()}
        there = [path for path in paths if path.is_file()]
        size = sum(path.stat().st_size for path in there) / 1e6
        count = "1 recording" if len(paths) == 1 else f"{len(paths)} recordings"
        return f"Recordings ({count}, {size:,.0f} MB)"

    def _follow(self) -> None:
        busy = self._session.export_queue.is_busy
        gone = whereabouts.missing(self._session.recordings.all())
        lacks = bool(gone) and self.recordings.isChecked()
        self.problem.setVisible(lacks)
        self.problem.setText(
            f"Not found: {', '.join(one.path.name for one in gone)}. Find what has moved, or pack"
            " the job without recordings."
        )
        self.go.setEnabled(not busy and not lacks)
        if self._target is None and not busy:
            # What was written earlier is no concern of this dialog.
            self.strip.hide()
        for box in self._choices:
            box.setEnabled(not busy)
        done = not busy and self._target is not None and self._target.is_file()
        self.folder.setVisible(done)

    def _ask(self) -> None:
        job = self._session.store.path
        name, _ = QFileDialog.getSaveFileName(
            self, "Pack job", str(job.with_name(f"{job.stem}{PACKED_SUFFIX}")),
            f"Packed jobs (*{PACKED_SUFFIX})",
        )  # fmt: skip
        if name:
            self.pack(Path(name if name.endswith(PACKED_SUFFIX) else name + PACKED_SUFFIX))

    def pack(self, target: Path) -> None:
        """Pack the job as chosen."""
        self._target = target
        order = PackOrder(
            self._session.store.path, target, self.recordings.isChecked(),
            self.drafts.isChecked(), self.names.isChecked(), only=self._numbers(),
        )  # fmt: skip
        self._session.export_queue.add([(order, ())])

    def _numbers(self) -> tuple[int, ...]:
        """Return the recordings to pack; none for all."""
        shown = self._session.shown
        return (shown,) if self.only.isChecked() and shown is not None else ()

    def _show_folder(self) -> None:
        if self._target is not None:
            open_path(self._target.parent)
