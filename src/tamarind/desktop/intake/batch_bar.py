"""The progress of the whole batch: how much is done, the time left, and Stop."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tamarind.application.session import Session
from tamarind.application.transcriptionqueue import Totals
from tamarind.batch.timeleft import human
from tamarind.desktop.widgets.parts import button, label


class BatchBar(QWidget):
    """Is hidden while there is no batch."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._queue = session.queue
        self._done = label("", "heading")
        self._left = label("", "note", wrap=True)
        self.pause = button("Pause", self._change_pause, "link", name="Pause the batch")
        self.cancel = button("Cancel all", self._queue.cancel_all, "link", name="Cancel the batch")
        acts = QHBoxLayout()
        acts.setSpacing(16)
        acts.addWidget(self._done, 1)
        acts.addWidget(self.pause)
        acts.addWidget(self.cancel)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addLayout(acts)
        column.addWidget(self._left)
        self.refresh()

    def refresh(self) -> bool:
        """Show the progress; return whether anything is queued."""
        totals = self._queue.totals()
        open_ = totals.wanted - totals.done - totals.failed
        self.setVisible(totals.wanted > 0)
        self.pause.setVisible(open_ > 0)
        self.cancel.setVisible(open_ > 0)
        self.pause.setText("Continue" if totals.paused else "Pause")
        self._done.setText(f"{totals.done} OF {totals.wanted} TRANSCRIBED")
        self._left.setText(_in_words(totals, open_))
        return open_ > 0

    def _change_pause(self) -> None:
        if self._queue.paused:
            self._queue.go_on()
        else:
            self._queue.pause()


def _in_words(totals: Totals, open_: int) -> str:
    parts = []
    if totals.failed:
        parts.append(f"{totals.failed} could not be transcribed")
    if open_ and totals.paused:
        parts.append("paused")
    elif open_:
        parts.append(f"{human(totals.left)} left")
        if totals.side_by_side > 1:
            parts.append(f"{totals.side_by_side} at a time")
    elif not totals.failed:
        parts.append("all done")
    return " · ".join(parts)
