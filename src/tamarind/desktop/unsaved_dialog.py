"""The dialog before a window closes whose job is not wholly on disk."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from tamarind.application.session import Session
from tamarind.desktop.widgets.dialog import Dialog
from tamarind.desktop.widgets.parts import button, label
from tamarind.job.jobfile import SUFFIX, JobError


class UnsavedDialog(Dialog):
    """Is accepted if the window may close: all is saved somewhere, or the person agrees to lose
    it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(
            "Not everything is saved", (580, 210), parent, f"“{session.name}” is not fully saved"
        )
        self._session = session
        self._why = label(session.saving.reason, "", wrap=True)
        self._where = label("", "note", wrap=True)
        self._said = label("", "plum", wrap=True)
        for part in (self._why, self._where, self._said):
            self.body.addWidget(part)
        self.body.addStretch(1)
        self._close = button("", self.accept)
        elsewhere = button("Save in another place…", self.ask_place, "primary")
        again = button("Try again", self._try_again)
        self.set_acts(self._close, elsewhere, leave="Cancel", between=(again,))
        self._tell_copy()

    def _tell_copy(self) -> None:
        copy = self._session.saving.keep_copy()
        if copy is not None:
            self._where.setText(
                f"A copy with everything is in {copy.parent}. It is offered when Tamarind is"
                " started again."
            )
            self._close.setText("Close")
        else:
            self._where.setText("There was no room for a copy anywhere else.")
            self._close.setText("Close without saving")

    def _try_again(self) -> None:
        if self._session.saving.retry():
            self.accept()
        else:
            self._said.setText("It still cannot be saved there.")

    def ask_place(self) -> None:
        """Save everything in a place that the person chooses."""
        name, _ = QFileDialog.getSaveFileName(
            self, "Save in another place", str(Path.home() / f"{self._session.name}{SUFFIX}"),
            f"Jobs (*{SUFFIX})",
        )  # fmt: skip
        if not name:
            return
        try:
            self._session.save_copy(Path(name if name.endswith(SUFFIX) else name + SUFFIX))
        except JobError as error:
            self._said.setText(str(error))
        else:
            self.accept()
