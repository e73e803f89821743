"""Make videos, pages and sound files in the background, one after the other."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING

from tamarind.application.events import Event
from tamarind.application.loop import Loop
from tamarind.application.tasks import Tasks
from tamarind.audio.media import MediaError
from tamarind.formats.captionfile import FormatError
from tamarind.system.files import write_whole
from tamarind.system.log import note_failure

if TYPE_CHECKING:
    from tamarind.batch.elsewhere import Order

SideFile = tuple[Path, Callable[[], bytes]]
"""A caption file beside a video, and what makes its bytes."""


class FileStage(StrEnum):
    """The state of a file: waiting, being made, made, failed or cancelled."""

    WAITING = "waiting"
    MAKING = "making"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


@dataclass(slots=True, eq=False)
class QueuedFile:
    """A file in the queue: ``share`` (0 to 1) of it is made, about ``left`` seconds remain."""

    order: Order
    beside: Sequence[SideFile] = ()
    stage: FileStage = FileStage.WAITING
    share: float = 0.0
    left: float | None = None
    problem: str = ""
    begun: float = field(default=0.0)


class ExportQueue:
    """Makes files in order. One that fails does not stop the others; one that is cancelled leaves
    nothing."""

    def __init__(self, loop: Loop, make: Callable[..., None] | None = None) -> None:
        """``make`` makes one file, as ``make_elsewhere`` of the batch does."""
        self._loop, self._make = loop, make
        self._tasks = Tasks(loop, "making a file", latest_only=False)
        self.made: list[QueuedFile] = []
        self.changed: Event[[]] = Event()
        self._closed = False
        # What is cancelled while it begins stays so.
        self._turning = threading.Lock()

    @property
    def is_busy(self) -> bool:
        """Whether a file is being made or waits."""
        return any(one.stage in (FileStage.WAITING, FileStage.MAKING) for one in self.made)

    def add(self, orders: Sequence[tuple[Order, Sequence[SideFile]]]) -> None:
        """Append files to the queue; those that have ended are removed from it."""
        if not self.is_busy:
            self.made.clear()
        for order, beside in orders:
            one = QueuedFile(order, beside)
            self.made.append(one)
            self._tasks.run(lambda one=one: self._work(one), self._ended)  # type: ignore[misc]
        self.changed.emit()

    def cancel(self) -> None:
        """Cancel the file that is being made and all that wait."""
        with self._turning:
            for one in self.made:
                if one.stage in (FileStage.WAITING, FileStage.MAKING):
                    one.stage = FileStage.CANCELLED
        self.changed.emit()

    def close(self) -> None:
        """Stop, since the program ends."""
        self._closed = True
        self.cancel()
        self._tasks.close()

    def _work(self, one: QueuedFile) -> QueuedFile:
        """Make the files one after the other, in the thread."""
        with self._turning:
            if one.stage is FileStage.CANCELLED or self._closed:
                return one
            one.stage, one.begun = FileStage.MAKING, time.monotonic()
        from tamarind.batch.elsewhere import CancelledError, make_elsewhere  # slow to import

        make = self._make or make_elsewhere
        self._loop.post(self._tell)
        try:
            for path, made in one.beside:
                if one.stage is not FileStage.MAKING:
                    raise CancelledError
                write_whole(path, made())
            make(
                one.order,
                lambda share: self._told(one, share),
                lambda: one.stage is FileStage.MAKING and not self._closed,
            )
        except CancelledError:
            self._ends(one, FileStage.CANCELLED)
        except (MediaError, FormatError) as error:
            self._ends(one, FileStage.FAILED, str(error))
        except OSError as error:
            self._ends(one, FileStage.FAILED, f"{error.strerror or error}.")
        except Exception as error:
            # Whatever it is, nobody waits for a file that will never be there.
            note_failure("making a file", error)
            wrong = f"Something went wrong in Tamarind itself ({type(error).__name__})."
            self._ends(one, FileStage.FAILED, wrong)
        else:
            self._ends(one, FileStage.DONE)
            one.share = 1.0
        return one

    def _ends(self, one: QueuedFile, stage: FileStage, problem: str = "") -> None:
        with self._turning:
            if one.stage is FileStage.CANCELLED and stage is FileStage.FAILED:
                return
            one.stage, one.problem = stage, problem

    def _told(self, one: QueuedFile, share: float) -> None:
        passed = time.monotonic() - one.begun
        one.share = share
        one.left = passed / share * (1 - share) if share > 0.01 else None
        self._loop.post(self._tell)

    def _ended(self, _one: QueuedFile) -> None:
        self._tell()

    def _tell(self) -> None:
        """Emit a change, unless the queue is closed."""
        if not self._closed:
            self.changed.emit()
