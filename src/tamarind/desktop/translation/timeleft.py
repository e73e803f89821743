"""Estimate how long the rest of a translation takes, at the person's pace."""

from __future__ import annotations

from time import monotonic

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.batch.timeleft import human
from tamarind.desktop.translation.sheet import TranslationSheet
from tamarind.desktop.widgets.pace import IDLE_AFTER_S, TICK_S, ProofingPace
from tamarind.job.settings import TRANSLATION_PACE
from tamarind.translation.tracksurvey import TrackSurvey

SECONDS_A_WORD = 2.4
"""Of reading a translated word against its source, for who has not worked here yet."""


class TimeLeft(QObject):
    """Watches the sheet while its page is shown."""

    def __init__(self, session: Session, sheet: TranslationSheet, screen: QWidget) -> None:
        super().__init__(screen)
        self._session, self._sheet, self._screen = session, sheet, screen
        self.pace = ProofingPace.read(session.settings.get(TRANSLATION_PACE))
        self._active_at = -IDLE_AFTER_S
        self._counted = 0
        """Words that were done when it was asked last."""
        self._done: tuple[int | None, str, int] | None = None
        self._timer = QTimer(self, interval=TICK_S * 1000)
        self._timer.timeout.connect(self._tick)
        self._timer.start()
        sheet.caret.moved.connect(self._work)

    def sentence(self, survey: TrackSurvey) -> str:
        """Return what is left of the shown track; "" where all is done."""
        whole, done = survey.words, survey.done
        self._counted = done
        if done >= whole:
            return ""
        own = self.pace.seconds_for(whole - done)
        if own is None:
            return f"{human((whole - done) * SECONDS_A_WORD)} left"
        return f"{human(own)} left at your pace"

    def _work(self) -> None:
        if self._screen.isVisible():
            self._active_at = monotonic()

    def _tick(self) -> None:
        if not self._screen.isVisible() or monotonic() - self._active_at > IDLE_AFTER_S:
            return
        text, now = self._sheet.text, self._counted
        here = (text.recording_id, text.track.language, now)
        before, self._done = self._done, here
        if before is None or before[:2] != here[:2]:
            return
        self.pace.add(TICK_S, now - before[2])
        kept = self.pace.kept()
        if kept != self._session.settings.get(TRANSLATION_PACE):
            self._session.settings.keep(TRANSLATION_PACE, kept)
