"""Effects of a batch outside the window: the computer stays awake, and the person is told at the
end."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.application.transcriptionqueue import Totals
from tamarind.desktop.attention import Attention, Notices
from tamarind.desktop.awake import Awake
from tamarind.desktop.words import proofing_seconds
from tamarind.job.settings import TELLS_WHEN_DONE


class BatchEnd(QObject):
    """``action`` is the menu entry by which a person wants to be told or not."""

    def __init__(self, session: Session, notices: Notices, window: QWidget) -> None:
        super().__init__(window)
        self._session = session
        self.notices = notices
        self._attention = Attention(notices, window)
        self.awake = Awake()
        self.action = QAction("Tell me when a batch is done", window)
        self.action.setCheckable(True)
        self.action.setChecked(session.settings.get(TELLS_WHEN_DONE))
        self.action.toggled.connect(partial(session.settings.keep, TELLS_WHEN_DONE))
        session.queue.changed.connect(self._queue_changed)
        session.queue.finished.connect(self._finished)

    def close(self) -> None:
        """Allow sleep again."""
        self.awake.let_go()

    def _queue_changed(self) -> None:
        """Inhibit sleep while something is being transcribed."""
        if self._session.queue.totals().side_by_side:
            self.awake.hold()
        else:
            self.awake.let_go()

    def _finished(self, totals: Totals) -> None:
        if self.action.isChecked():
            session = self._session
            drafts = [r.id for r in session.recordings.all() if session.texts.transcript(r.id).cues]
            left = sum(proofing_seconds(session.survey(key)) for key in drafts)
            self._attention.batch_done(session.name, totals, left)
