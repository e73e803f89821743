"""How a pool's workers are started: as processes of their own, spawned afresh, so that a crash in a
codec or a model ends no more than one of them."""

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
    """What a pool asks of a worker's process."""

    @property
    def pid(self) -> int | None:
        """Its number."""

    @property
    def exitcode(self) -> int | None:
        """How it ended, negative for a signal; None while it lives."""

    def is_alive(self) -> bool:
        """Whether it lives."""

    def kill(self) -> None:
        """End it at once."""

    def join(self, timeout: float | None = None) -> None:
        """Wait for its end."""


@dataclass(frozen=True, slots=True)
class WorkerProcess:
    """A worker: its life, and the pipe over which it is given tasks."""

    life: Life
    pipe: Connection


Start = Callable[[int, int, Sequence[Path]], WorkerProcess]
"""Starts a worker that uses so many cores, steps back by so much for others, and may read these
models. Raises OSError where there is no room for one."""


def spawned(cores: int, niceness: int, readable: Sequence[Path]) -> WorkerProcess:
    """One in a process of its own, which shuts itself in."""
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
