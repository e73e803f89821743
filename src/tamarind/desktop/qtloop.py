"""The window's event loop as the core uses it."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from tamarind.application.loop import Call, Timer
from tamarind.application.session import Session
from tamarind.application.tasks import Tasks
from tamarind.job.store import JobStore


class _QtTimer:
    def __init__(self, parent: QObject, milliseconds: int, call: Call, repeats: bool) -> None:
        self._timer = QTimer(parent, singleShot=not repeats, interval=milliseconds)
        self._timer.timeout.connect(lambda: call())

    def start(self) -> None:
        self._timer.start()

    def stop(self) -> None:
        self._timer.stop()

    @property
    def is_active(self) -> bool:
        return self._timer.isActive()


class QtLoop(QObject):
    """Runs what is posted in the thread in which it was made."""

    _posted = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._posted.connect(self._do, Qt.ConnectionType.QueuedConnection)

    def post(self, call: Call) -> None:
        """Run a function in the window's thread; does nothing once the window is gone."""
        try:
            self._posted.emit(call)
        except RuntimeError:
            return

    def timer(self, milliseconds: int, call: Call, repeats: bool = False) -> Timer:
        """Make a timer that does not run yet."""
        return _QtTimer(self, milliseconds, call, repeats)

    def _do(self, call: Callable[[], object]) -> None:
        call()


def open_session(store: JobStore) -> Session:
    """Open a job for a window."""
    return Session(store, QtLoop())


@cache
def _lasting_loop() -> QtLoop:
    return QtLoop()


def tasks_of(owner: QObject, name: str, latest_only: bool = True) -> Tasks:
    """Make tasks that end with a window or dialog. Their loop does not end with it: a thread that
    reports just then would call something that is being deleted."""
    tasks = Tasks(_lasting_loop(), name, latest_only)
    owner.destroyed.connect(lambda: tasks.close(wait=False))
    return tasks
