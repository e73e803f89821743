"""Workers that are threads of this process, for tests of everything but their being processes: what
a process needs to start, and to load, is loaded once."""

from __future__ import annotations

import multiprocessing
import os
import threading
from collections.abc import Sequence
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle
from pathlib import Path

from tamarind.batch.starting import WorkerProcess
from tamarind.batch.wire import packed
from tamarind.batch.work import do


class _ThreadLife:
    """Stands for a process; whoever ends it cuts its pipe, at which it stops telling."""

    def __init__(self, pipe: Connection) -> None:
        self._pipe = pipe
        self._killed = False
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    @property
    def pid(self) -> int:
        """That of this process, in which it is."""
        return os.getpid()

    @property
    def exitcode(self) -> int | None:
        """As that of a process which was killed."""
        return -9 if self._killed else None

    def is_alive(self) -> bool:
        """Whether it takes tasks."""
        return self._thread.is_alive() and not self._killed

    def kill(self) -> None:
        """It tells nothing more, and stops at what it would tell next: a thread that is stopped
        anywhere may hold a lock for ever."""
        self._killed = True

    def join(self, timeout: float | None = None) -> None:
        """Wait for its end."""
        self._thread.join(timeout)

    def _serve(self) -> None:
        try:
            while not self._killed:
                task = self._pipe.recv()
                os.close(recv_handle(self._pipe))
                for event in do(task):
                    if self._killed:
                        return
                    self._pipe.send_bytes(packed(event))
        except (EOFError, OSError):
            return
        finally:
            self._pipe.close()


def in_this_process(cores: int, niceness: int, readable: Sequence[Path]) -> WorkerProcess:
    """Starts a worker as a thread."""
    ours, theirs = multiprocessing.Pipe()
    return WorkerProcess(_ThreadLife(theirs), ours)
