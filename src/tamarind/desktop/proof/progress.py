"""The progress of proofing: what has been listened to, what is proofed, and the time left."""

from __future__ import annotations

from dataclasses import replace
from time import monotonic

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QWidget

from tamarind.application.session import Session
from tamarind.batch.timeleft import human
from tamarind.desktop.player import Player
from tamarind.desktop.widgets.pace import IDLE_AFTER_S, TICK_S, ProofingPace
from tamarind.desktop.words import proofing_seconds
from tamarind.job.listened import share, with_span
from tamarind.job.settings import PACE
from tamarind.transcript.survey import Survey

COUNTED_AFTER_MS = 700
LARGEST_JUMP_MS = 500


class ProofProgress(QObject):
    """Watches the player and the text of the shown recording."""

    changed = Signal()

    def __init__(self, session: Session, player: Player, screen: QWidget) -> None:
        super().__init__(screen)
        self._session, self._player, self._screen = session, player, screen
        self.pace = ProofingPace.read(session.settings.get(PACE))
        self._span: tuple[int, int, int] | None = None
        self._active_at = -IDLE_AFTER_S
        self._proofed: dict[int, int] = {}
        self._timer = QTimer(self, interval=TICK_S * 1000)
        self._timer.timeout.connect(self._tick)
        self._timer.start()
        # A long text is not counted at every keystroke.
        self._later = QTimer(self, singleShot=True, interval=COUNTED_AFTER_MS)
        self._later.timeout.connect(self._count)
        player.moved.connect(self._moved)
        player.playing_changed.connect(lambda playing: None if playing else self.keep())
        session.texts.changed.connect(self._document_changed)
        session.shown_changed.connect(self.keep)

    def sentence(self) -> str:
        """Return what is listened to, proofed and left, of the shown recording."""
        recording = self._session.shown_recording()
        if recording is None or not self._session.texts.transcript(recording.id).cues:
            return ""
        survey = self._session.survey(recording.id)
        done = survey.proofed_share()
        spans = recording.listened
        if self._span is not None and self._span[0] == recording.id:
            spans = with_span(spans, *self._span[1:])
        heard = share(spans, recording.part[0], recording.part_end)
        facts = [f"listened {heard:.0%}", f"proofed {done:.0%}"]
        if done < 1:
            own = self.pace.seconds_for(survey.words() * (1 - done))
            facts.append(
                f"{human(proofing_seconds(survey))} left"
                if own is None
                else f"{human(own)} left at your pace"
            )
        facts += _forecast(survey)
        return " · ".join(facts)

    def keep(self) -> None:
        """Save what has been listened to."""
        span, self._span = self._span, None
        if span is None or not self._session.recordings.has(span[0]):
            return
        recording = self._session.recordings.get(span[0])
        listened = with_span(recording.listened, *span[1:])
        if listened != recording.listened:
            self._session.recordings.change(replace(recording, listened=listened))
        self.changed.emit()

    def _moved(self, position: int) -> None:
        """Note a stretch as listened to if it was played without a jump."""
        shown = self._session.shown
        if not self._player.is_playing or shown is None:
            return
        self._active_at = monotonic()
        span = self._span
        if span and span[0] == shown and 0 <= position - span[2] <= LARGEST_JUMP_MS:
            self._span = (shown, span[1], position)
        else:
            self.keep()
            self._span = (shown, position, position)

    def _document_changed(self, recording_id: int) -> None:
        if self._session.queue.is_being_heard(recording_id) or not self._screen.isVisible():
            return
        self._active_at = monotonic()
        self._later.start()

    def _count(self) -> None:
        """Return the words proofed since they were counted last."""
        shown = self._session.shown
        if shown is None:
            return
        survey = self._session.survey(shown)
        now = round(survey.words() * survey.proofed_share())
        before = self._proofed.get(shown, now)
        self._proofed[shown] = now
        self.pace.add(0.0, now - before)
        self.changed.emit()

    def _tick(self) -> None:
        if not self._screen.isVisible():
            return
        if self._session.shown not in self._proofed:
            self._count()
        if monotonic() - self._active_at < IDLE_AFTER_S:
            self.pace.add(TICK_S, 0)
            kept = self.pace.kept()
            if kept != self._session.settings.get(PACE):
                self._session.settings.keep(PACE, kept)
            self.changed.emit()


def _forecast(survey: Survey) -> list[str]:
    """Say how many words may still be wrong, and how many of these are marked as doubts."""
    wrong, marked = map(round, survey.forecast())
    if wrong < 1:
        return []
    marks = "all" if marked >= wrong else "none" if not marked else str(marked)
    return [f"about {wrong} wrong, {marks} marked"]
