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
        self._awake = Awake()
        self.action = QAction("Tell me when a batch is done", window)
        self.action.setCheckable(True)
        self.action.setChecked(session.settings.get(TELLS_WHEN_DONE))
        self.action.toggled.connect(partial(session.settings.keep, TELLS_WHEN_DONE))
        session.line.changed.connect(self._line_changed)
        session.line.finished.connect(self._finished)

    @property
    def is_awake(self) -> bool:
        """Whether the computer is kept from falling asleep."""
        return self._awake.held

    def close(self) -> None:
        """Allow sleep again."""
        self._awake.let_go()

    def _line_changed(self) -> None:
        """Inhibit sleep while something is being transcribed."""
        if self._session.line.totals().side_by_side:
            self._awake.hold()
        else:
            self._awake.let_go()

    def _finished(self, totals: Totals) -> None:
        if self.action.isChecked():
            session = self._session
            drafts = [r.id for r in session.recordings.all() if session.texts.transcript(r.id).cues]
            left = sum(proofing_seconds(session.survey(key)) for key in drafts)
            self._attention.batch_done(session.name, totals, left)
