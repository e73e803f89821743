"""A worker process: takes tasks from a pipe, one by one, and sends their events back."""

from __future__ import annotations

import os
import signal
from multiprocessing.connection import Connection


def run(pipe: Connection) -> None:
    """The process's whole life; it ends when the program at the other end of the pipe is gone."""
    from tamarind.batch.work import do

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(5)
    try:
        while True:
            for event in do(pipe.recv()):
                pipe.send(event)
    except (EOFError, BrokenPipeError, ConnectionResetError):
        return
