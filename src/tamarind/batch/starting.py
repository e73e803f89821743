"""Start the workers of a pool as separate processes, so that a crash in a codec or model ends only
one."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Protocol

from tamarind.batch import worker


class Life(Protocol):
    """What the pool needs of a worker's process."""

    @property
    def pid(self) -> int | None:
        """The process number."""

    @property
    def exitcode(self) -> int | None:
        """How the process ended, negative for a signal; None while it runs."""

    def is_alive(self) -> bool:
        """Whether the process runs."""

    def kill(self) -> None:
        """Kill the process."""

    def join(self, timeout: float | None = None) -> None:
        """Wait for the process to end."""


@dataclass(frozen=True, slots=True)
class WorkerProcess:
    """A worker: its process, and the pipe to it."""

    life: Life
    pipe: Connection


Start = Callable[[int, int, Sequence[Path]], WorkerProcess]
"""Starts a worker that uses so many cores, steps back by so much for others, and may read these
models. Raises OSError where there is no room for one."""


def spawned(cores: int, niceness: int, readable: Sequence[Path]) -> WorkerProcess:
    """Start a worker in a process of its own, which locks itself in."""
    context = multiprocessing.get_context("spawn")
    ours, theirs = context.Pipe()
    process = context.Process(
        target=worker.run,
        args=(theirs, cores, niceness, os.getpid(), list(readable)),
        daemon=True,
    )
    process.start()
    theirs.close()
    return WorkerProcess(process, ours)
