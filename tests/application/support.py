"""A job as the application has it, in its plain loop: no window and no Qt."""

from __future__ import annotations

from collections.abc import Callable

from tamarind.application.loop import PlainLoop
from tamarind.application.session import Session
from tamarind.job.store import JobStore
from tests.jobtest import JobTest


class SessionTest(JobTest):
    """Opens a job without a window."""

    def open(self) -> None:
        self.loop = PlainLoop()
        self.session = Session(JobStore(self.job), self.loop)
        for recording in self.session.recordings.all()[:1]:
            self.session.show(recording.id)

    def shut(self) -> None:
        self.session.close()

    def wait(self, until: Callable[[], object], seconds: float = 150) -> None:
        """Turn the loop until something is so."""
        self.assertTrue(self.loop.wait(until, seconds), "waited too long")
