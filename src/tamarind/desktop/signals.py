"""Handle signals of the system, such as Ctrl+C on the terminal, in the window."""

from __future__ import annotations

import contextlib
import signal
import socket
from collections.abc import Callable

from PySide6.QtCore import QObject, QSocketNotifier

ENDING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class Signals(QObject):
    """Calls ``then`` with the signal's number in the window's thread.

    Python's own handlers run only when Python code does, which Qt's loop may not do for long; a
    byte on a socket wakes it.
    """

    def __init__(self, then: Callable[[int], None], parent: QObject) -> None:
        super().__init__(parent)
        self._then = then
        self._ours, theirs = socket.socketpair()
        self._theirs = theirs
        for end in (self._ours, theirs):
            end.setblocking(False)
        self._notifier = QSocketNotifier(self._ours.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._take)
        signal.set_wakeup_fd(theirs.fileno(), warn_on_full_buffer=False)
        for number in ENDING:
            signal.signal(number, lambda _number, _frame: None)

    def _take(self) -> None:
        with contextlib.suppress(BlockingIOError):
            for number in self._ours.recv(64):
                if number in ENDING:
                    self._then(number)
                    return
