"""A worker process: takes tasks from a pipe, one by one, and sends their events back."""

from __future__ import annotations

import os
import signal
import socket
from collections.abc import Sequence
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle, send_handle
from pathlib import Path

from tamarind.batch.messages import Task


def hand_over(pipe: Connection, task: Task, opened: int, process: int) -> None:
    """Send a task to a worker with its recording opened, since it cannot open files."""
    pipe.send(task)
    send_handle(pipe, opened, process)


def run(
    pipe: Connection, cores: int, niceness: int, parent: int, readable: Sequence[Path] = ()
) -> None:
    """Run the worker; it ends when the program at the other end of the pipe is gone.

    It uses so many cores, steps back by ``niceness`` for what the person does meanwhile, and shuts
    itself in before it reads anything that a stranger has made; ``readable`` are the models that it
    may read.
    """
    from tamarind.batch.sandbox import shut_in
    from tamarind.speech.cores import share
    from tamarind.system.confinement import end_with_parent
    from tamarind.system.log import logger, start_logging

    # A library that a worker has no use for tries, when it is loaded, whether it could have one.
    socket.has_ipv6 = False
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    end_with_parent(parent)
    os.nice(niceness)
    share(cores)
    # Opened before the worker shuts itself in: its folder is not among what may be written.
    start_logging(rotates=False)
    for what in shut_in(readable):
        logger.warning("this kernel cannot keep a worker from %s", what)
    serve(pipe)


def serve(pipe: Connection) -> None:
    """Do the tasks that come over a pipe until it is closed."""
    from tamarind.audio.media import lent
    from tamarind.audio.soundcache import let_go
    from tamarind.batch.wire import packed
    from tamarind.batch.work import do

    try:
        while True:
            task = pipe.recv()
            opened = recv_handle(pipe)
            try:
                with lent(task.path, opened):
                    for event in do(task):
                        pipe.send_bytes(packed(event))
            finally:
                os.close(opened)
                let_go()
    except (EOFError, OSError):
        return
