"""The crew: worker processes and their queues, one for each kind of task: looking at files, hearing
them, hearing passages again, making sound to listen to. Each begins with its first task.

Workers are started afresh (spawned), so that a crash in a codec or a model ends the work on one
recording with a reason and nothing else.
"""

from __future__ import annotations

import multiprocessing
import signal
import threading
from collections import deque
from collections.abc import Callable
from multiprocessing.connection import Connection
from multiprocessing.context import SpawnProcess

from tamarind.batch import worker
from tamarind.batch.messages import Done, Event, Failed, Hear, HearAgain, Look, Prepare, Task


class Crew:
    """Does tasks in order, two kinds side by side; events come from threads of its own."""

    def __init__(self, on_event: Callable[[Event], None]) -> None:
        self._lines = {kind.__name__: _Line(on_event) for kind in (Look, Hear, HearAgain, Prepare)}

    def add(self, task: Task) -> None:
        """Put a task at the end of its line."""
        self._lines[type(task).__name__].add(task)

    def cancel_second_hearing(self, key: int) -> None:
        """Stop hearing a passage of a recording again; no event follows."""
        self._lines["HearAgain"].cancel(key)

    def cancel(self, key: int) -> None:
        """Stop hearing a recording, or take it out of the line; no event follows."""
        self._lines["Hear"].cancel(key)

    def waiting(self) -> list[int]:
        """The recordings that wait to be heard, in order, without the one being heard."""
        return self._lines["Hear"].waiting()

    def active(self) -> int | None:
        """The recording being heard."""
        return self._lines["Hear"].active()

    def close(self) -> None:
        """End all work at once; what was heard so far has been told in events."""
        for line in self._lines.values():
            line.close()


class _Line:
    """A queue of tasks with one worker process, and a thread that waits for its answers."""

    def __init__(self, on_event: Callable[[Event], None]) -> None:
        self._on_event = on_event
        self._tasks: deque[Task] = deque()
        self._current: Task | None = None
        self._change = threading.Condition()
        self._closed = False
        self._process: SpawnProcess | None = None
        self._pipe: Connection | None = None
        self._thread: threading.Thread | None = None

    def add(self, task: Task) -> None:
        with self._change:
            self._tasks.append(task)
            if self._thread is None:
                self._thread = threading.Thread(target=self._serve, daemon=True)
                self._thread.start()
            self._change.notify()

    def cancel(self, key: int) -> None:
        with self._change:
            self._tasks = deque(task for task in self._tasks if task.key != key)
            if self._current is not None and self._current.key == key:
                self._current = None
                self._stop_worker()

    def waiting(self) -> list[int]:
        with self._change:
            return [task.key for task in self._tasks]

    def active(self) -> int | None:
        with self._change:
            return self._current.key if self._current else None

    def close(self) -> None:
        with self._change:
            self._closed = True
            self._tasks.clear()
            self._current = None
            self._stop_worker()
            self._change.notify()
        if self._thread is not None and self._thread is not threading.current_thread():
            self._thread.join(5)

    def _serve(self) -> None:
        while True:
            with self._change:
                while not self._tasks and not self._closed:
                    self._change.wait()
                if self._closed:
                    return
                task = self._current = self._tasks.popleft()
                pipe = self._worker_pipe()
            self._follow(task, pipe)

    def _follow(self, task: Task, pipe: Connection) -> None:
        """Hand a task over and pass its events on until it ends, one way or another."""
        try:
            pipe.send(task)
            while True:
                event = pipe.recv()
                ended = isinstance(event, Done | Failed)
                with self._change:
                    if self._current is not task:
                        return
                    if ended:
                        self._current = None
                self._on_event(event)
                if ended:
                    return
        except (EOFError, OSError):
            with self._change:
                cancelled = self._current is not task
                process, self._process, self._pipe = self._process, None, None
                self._current = None
            if not cancelled:
                reason = f"The work on it stopped unexpectedly{_cause(process)}."
                self._on_event(Failed(task.key, type(task).__name__, reason))

    def _worker_pipe(self) -> Connection:
        if self._process is None or self._pipe is None or not self._process.is_alive():
            context = multiprocessing.get_context("spawn")
            self._pipe, theirs = context.Pipe()
            self._process = context.Process(target=worker.run, args=(theirs,), daemon=True)
            self._process.start()
            theirs.close()
        return self._pipe

    def _stop_worker(self) -> None:
        if self._process is not None:
            self._process.kill()
            self._process.join(5)
        self._process = self._pipe = None


def _cause(process: SpawnProcess | None) -> str:
    if process is None:
        return ""
    process.join(2)
    code = process.exitcode
    if code is None or code >= 0:
        return ""
    return f" ({signal.Signals(-code).name}); it may be damaged"
