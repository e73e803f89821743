"""A worker process: takes tasks from a pipe, one by one, and sends their events back."""

from __future__ import annotations

import os
import signal
from multiprocessing.connection import Connection


def run(pipe: Connection, cores: int, niceness: int) -> None:
    """The process's whole life; it ends when the program at the other end of the pipe is gone.

    It uses so many cores, and steps back by ``niceness`` for what the person does meanwhile.
    """
    from tamarind.batch.work import do
    from tamarind.speech.cores import share

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(niceness)
    share(cores)
    try:
        while True:
            for event in do(pipe.recv()):
                pipe.send(event)
    except (EOFError, BrokenPipeError, ConnectionResetError):
        return
