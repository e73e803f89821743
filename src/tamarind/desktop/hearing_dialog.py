"""The dialog shown while a recording is transcribed beside its text, with progress and Stop."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from time import monotonic

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QProgressBar, QProgressDialog, QWidget

from tamarind.application.session import Session
from tamarind.batch.timeleft import human
from tamarind.transcript.model import Word

WIDTH = 420
Then = Callable[[tuple[Word, ...]], None]


class HearingDialog(QObject):
    """Handles one transcription at a time; other work goes on meanwhile."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._parent = session, parent
        self._waits: tuple[int, Then] | None = None
        self.progress: QProgressDialog | None = None
        self._title, self._begun = "", 0.0
        session.on_demand.listened.connect(self._listened)
        session.on_demand.heard.connect(self._heard)

    def hear(
        self,
        recording_id: int,
        title: str,
        then: Then,
        script: Sequence[str] = (),
        into_english: bool = False,
    ) -> None:
        """Transcribe a recording and call ``then`` with its words, with English words of the same
        meaning, or with those of a script; a failure is told."""
        self.stop()
        self._waits = recording_id, then
        progress = QProgressDialog(title, "Cancel", 0, 1000, self._parent.window())
        progress.setWindowTitle("Listening")
        progress.setWindowModality(Qt.WindowModality.NonModal)
        progress.setMinimumDuration(0)
        progress.setAutoClose(False)
        bar = QProgressBar()
        bar.setTextVisible(False)
        bar.setRange(0, 1000)
        progress.setBar(bar)
        progress.setMinimumWidth(WIDTH)
        progress.setValue(0)
        self._title, self._begun = title, monotonic()
        progress.canceled.connect(self.stop)
        progress.show()
        self.progress = progress
        self._session.on_demand.hear(recording_id, script, into_english)

    def is_busy(self) -> bool:
        """Whether a transcription is running."""
        return self._waits is not None

    def stop(self) -> None:
        """Cancel the transcription."""
        if self._waits is not None:
            self._session.on_demand.stop(self._waits[0])
        self._waits = None
        self._close()

    def _listened(self, recording_id: int, until: int, end: int) -> None:
        if self.progress is not None and self._waits and self._waits[0] == recording_id:
            # The last bit is for what comes after hearing.
            self.progress.setValue(min(round(980 * until / max(end, 1)), 980))
            left = (monotonic() - self._begun) * (end - until) / max(until, 1)
            self.progress.setLabelText(f"{self._title}\n{human(left)} left")

    def _heard(self, recording_id: int, result: tuple[Word, ...] | str) -> None:
        if self._waits is None or self._waits[0] != recording_id:
            return
        _, then = self._waits
        self._waits = None
        self._close()
        if isinstance(result, str):
            self._session.trouble.emit(result)
        else:
            then(result)

    def _close(self) -> None:
        if self.progress is not None:
            progress, self.progress = self.progress, None
            progress.blockSignals(True)
            progress.close()
            progress.deleteLater()
