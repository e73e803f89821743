"""The progress of a download: a bar, a sentence with the time left, and Stop."""

from __future__ import annotations

import threading
from collections.abc import Callable
from time import monotonic

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QWidget

from tamarind.batch.timeleft import human
from tamarind.desktop.widgets.parts import button
from tamarind.system.fetching import amount

_REFRESH_MS = 200


class FetchProgress(QWidget):
    """Is shown during a download. ``note`` and ``is_stopped`` may be called in any thread."""

    def __init__(self, say: Callable[[str], object]) -> None:
        """``say`` shows a sentence."""
        super().__init__()
        self._say = say
        self._name = ""
        self.done = (0, 1)
        self._begun = (0.0, 0)
        self._stopped = threading.Event()
        self._bar = QProgressBar()
        self._bar.setTextVisible(False)
        self._bar.setRange(0, 1000)
        self.cancel = button("cancel", self.stop, "link")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self._bar, 1)
        row.addWidget(self.cancel)
        self._follow = QTimer(self, interval=_REFRESH_MS)
        self._follow.timeout.connect(self._show)
        self.hide()

    def begin(self, name: str, size: int) -> None:
        """Show a download of so many bytes."""
        self._name = name
        self._stopped.clear()
        self.done, self._begun = (0, size), (0.0, 0)
        self._follow.start()
        self.show()
        self._show()

    def end(self) -> None:
        """Hide, since the download has ended."""
        self._follow.stop()
        self.hide()

    def stop(self) -> None:
        """Ask the download to stop."""
        self._stopped.set()

    def is_stopped(self) -> bool:
        """Whether the download was asked to stop."""
        return self._stopped.is_set()

    def note(self, done: int, whole: int) -> None:
        """Take the bytes that have come, and the total."""
        if not self._begun[0]:
            self._begun = (monotonic(), done)
        self.done = (done, whole)

    def _show(self) -> None:
        done, whole = self.done
        self._bar.setValue(1000 * done // max(whole, 1))
        told = f"Downloading {self._name}: {amount(done)} of {amount(whole)}"
        begun, at_first = self._begun
        if begun and done > at_first:
            left = (monotonic() - begun) * (whole - done) / (done - at_first)
            told += f", {human(left)} left"
        self._say(told)
