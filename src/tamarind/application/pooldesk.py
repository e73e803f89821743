"""Receive the events of the workers in the loop's thread and pass them on."""

from __future__ import annotations

import queue
from collections.abc import Callable

from tamarind.application.loop import Loop
from tamarind.application.recordings import Recordings
from tamarind.batch.messages import Event as News
from tamarind.batch.pace import Pace, pace_file
from tamarind.batch.pool import WorkerPool
from tamarind.job.recording import Recording

Taker = Callable[[Recording, News], bool]
"""Deals with news of a recording; whether they were for it."""


class PoolDesk:
    """The worker pool of the open job; events of removed recordings are dropped."""

    def __init__(self, loop: Loop, recordings: Recordings) -> None:
        self._loop, self._recordings = loop, recordings
        self._news: queue.SimpleQueue[News] = queue.SimpleQueue()
        self._takers: list[Taker] = []
        self._closed = False
        self.pool = WorkerPool(self._tell, Pace(file=pace_file()))

    def add(self, taker: Taker) -> None:
        """Connect a receiver of events, after those that were added before."""
        self._takers.append(taker)

    def take_news(self) -> None:
        """Handle the events that have come so far."""
        while True:
            try:
                news = self._news.get_nowait()
            except queue.Empty:
                return
            if not self._closed and self._recordings.has(news.key):
                recording = self._recordings.get(news.key)
                any(taker(recording, news) for taker in self._takers)

    def close(self) -> None:
        """Stop all work; what was transcribed so far has been written."""
        self.pool.close()
        self.take_news()
        self._closed = True

    def _tell(self, news: News) -> None:
        self._news.put(news)
        self._loop.post(self.take_news)
