"""Play excerpts: one with its cuts, or all in order."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QWidget

from tamarind.application.excerpting import Key
from tamarind.application.session import Session
from tamarind.desktop.player import Player
from tamarind.transcript.excerpts import Span

AT_THE_END_MS = 60
LOADING_MS = 120
PATIENCE = 50
"""How often a recording's sound is asked for before it is played as it is."""


class ExcerptHearing(QObject):
    """Skips cuts without a gap where the decoded sound is in the cache."""

    reached = Signal(object)
    """An excerpt is heard now."""

    def __init__(self, session: Session, player: Player, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._player = session, player
        self._waiting: list[Key] = []
        self._spans: list[Span] = []
        self._end = 0
        self._tries = 0
        player.playing_changed.connect(self._playing_changed)

    def hear(self, keys: Sequence[Key], start: int | None = None) -> None:
        """Play excerpts one after the other, the first from a time (ms) on."""
        self.stop()
        self._waiting = list(keys)
        self._next(start)

    def hear_spans(self, recording_id: int, spans: Sequence[Span]) -> None:
        """Play stretches of a recording in a row."""
        self.stop()
        self._session.show(recording_id)
        self._spans, self._tries = list(spans), 0
        self._begin()

    def stop(self) -> None:
        """Stop playing."""
        self._waiting.clear()
        self._spans = []
        if self._player.is_playing:
            self._player.stop()

    @property
    def is_going_on(self) -> bool:
        """Whether an excerpt is being played."""
        return bool(self._spans or self._waiting)

    def _next(self, start: int | None = None) -> None:
        while self._waiting:
            key = self._waiting.pop(0)
            found = self._session.excerpts.find(key)
            if found is None:
                continue
            spans = found.excerpt.spans
            if start is not None:
                spans = tuple((max(a, start), b) for a, b in spans if b > start)
            self._session.show(key[0])
            self.reached.emit(key)
            self._spans, self._tries = list(spans), 0
            self._begin()
            return

    def _begin(self) -> None:
        """Begin once the recording's sound is in the player."""
        if not self._spans:
            return
        shown = self._session.shown
        ready = shown is not None and self._session.sounds.has(shown)
        if ready and self._player.play_stretches(self._spans):
            self._end = self._spans[-1][1]
            self._spans = []
        elif ready or self._tries >= PATIENCE:
            # Too long to be put together: stretch by stretch.
            start, end = self._spans.pop(0)
            self._end = end
            self._player.play(start, end)
        else:
            self._tries += 1
            QTimer.singleShot(LOADING_MS, self, self._begin)

    def _playing_changed(self, playing: bool) -> None:
        if playing or not self.is_going_on:
            return
        if self._player.position < self._end - AT_THE_END_MS:
            # The person stopped it.
            self._waiting.clear()
            self._spans = []
        else:
            QTimer.singleShot(0, self, self._begin if self._spans else self._next)
