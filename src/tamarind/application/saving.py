"""Keep the job on disk: notice what could not be written, try again, or write a copy elsewhere.

The word "saved" in the window's head is what this says, at every moment.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from pathlib import Path

from tamarind.application.events import Event
from tamarind.application.loop import Loop
from tamarind.job import rescue
from tamarind.job.contents import Contents
from tamarind.job.jobfile import JobError
from tamarind.job.lock import BEAT_S
from tamarind.job.store import JobStore
from tamarind.system.log import note_failure

WATCH_MS = 1_500
"""The file may be taken away while nobody writes to it."""

AGAIN_MS = 2_500
COPY_AFTER_MS = 300
"""What was changed while nothing can be saved is in a copy after so long."""


class Saving:
    """Writes to the job file; what the disk refused is written as soon as that is possible."""

    def __init__(
        self,
        loop: Loop,
        store: JobStore,
        write_all: Callable[[], None],
        contents: Callable[[], Contents],
    ) -> None:
        """``write_all`` writes everything that the store may lack, raising JobError; ``contents``
        returns all of the job."""
        self.changed: Event[[]] = Event()
        """All is saved, or no longer."""
        self.saved: Event[[]] = Event()
        """Something was written."""
        self.trouble: Event[[str]] = Event()
        self._store, self._write_all, self._contents = store, write_all, contents
        self._behind = ""
        self._copy: Path | None = None
        self._watch = loop.timer(WATCH_MS, self._look, repeats=True)
        self._watch.start()
        self._again = loop.timer(AGAIN_MS, self.retry, repeats=True)
        self._copy_soon = loop.timer(COPY_AFTER_MS, self.keep_copy)
        self._beat = loop.timer(BEAT_S * 1000, self._tell_others, repeats=True)
        self._beat.start()

    @property
    def is_behind(self) -> bool:
        """Whether a change is not on disk."""
        return bool(self._behind)

    @property
    def reason(self) -> str:
        """Return a sentence on why a change is not on disk."""
        return self._behind

    @property
    def copy(self) -> Path | None:
        """Return the path of the copy written elsewhere, or None."""
        return self._copy

    def write(self, action: Callable[[], object]) -> bool:
        """Write to the store; a failure is told and made good later."""
        try:
            action()
        except Exception as error:
            if not isinstance(error, JobError):
                note_failure("saving", error)
            known = isinstance(error, JobError)
            self._fall_behind(str(error) if known else "The last change could not be saved.")
            return False
        if self._behind:
            return self.retry()
        self.saved.emit()
        return True

    def retry(self) -> bool:
        """Write everything that is not on disk; return whether that worked."""
        try:
            self._write_all()
        except Exception as error:
            if not isinstance(error, JobError):
                note_failure("saving all", error)
            self.keep_copy()
            return False
        if self._behind:
            self._behind = ""
            self._again.stop()
            if self._copy is not None:
                rescue.discard(self._copy)
                self._copy = None
            self.changed.emit()
        self.saved.emit()
        return True

    def keep_copy(self) -> Path | None:
        """Write all of the job to another place; return its path, or None if there is room
        nowhere."""
        try:
            self._copy = rescue.keep(self._contents(), self._store.path)
        except Exception as error:
            if not isinstance(error, JobError):
                note_failure("keeping a copy", error)
        return self._copy

    def stop(self) -> None:
        """Stop retrying, before the store is closed."""
        for timer in (self._watch, self._again, self._copy_soon, self._beat):
            timer.stop()

    def _fall_behind(self, sentence: str) -> None:
        fresh = not self._behind
        self._behind = sentence
        if fresh:
            self.keep_copy()
            self._again.start()
            self.changed.emit()
            self.trouble.emit(sentence)
        else:
            self._copy_soon.start()

    def _look(self) -> None:
        if not self._behind and not self._store.is_there():
            self._fall_behind(
                f"“{self._store.path.name}” is no longer in its folder: put it back, or save the"
                " job in another place (Job menu)."
            )

    def _tell_others(self) -> None:
        """Confirm to other computers that the job is open; failing at that loses no change."""
        with contextlib.suppress(JobError):
            self._store.beat()
