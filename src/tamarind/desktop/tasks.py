"""Work that takes longer than a moment, done in a thread while the window goes on."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from PySide6.QtCore import QObject, Signal

from tamarind.desktop.failures import failures, sentence_of

Then = Callable[[Any], None]
Failed = Callable[[str], None]


class Tasks(QObject):
    """One piece of work after the other. How each ends, well or not, is told in the window's
    thread; nothing that goes wrong is lost."""

    _done = Signal(int, object, object)

    def __init__(self, parent: QObject, name: str, latest_only: bool = True) -> None:
        """With ``latest_only``, what was asked for before the last is not told of any more, nor
        begun if it waits still."""
        super().__init__(parent)
        self._thread = ThreadPoolExecutor(1, name)
        self._name, self._latest_only = name, latest_only
        self._number = 0
        self._closed = False
        self._done.connect(self._tell)
        parent.destroyed.connect(lambda: self._thread.shutdown(wait=False, cancel_futures=True))

    def run(self, work: Callable[[], Any], then: Then, failed: Failed | None = None) -> None:
        """Do ``work`` in the thread, and ``then`` with what comes of it in the window's; or
        ``failed`` with a sentence that says why not, which else the window shows."""
        self._number += 1
        number = self._number
        tell = failed or failures.told.emit

        def do() -> None:
            if not self._is_wanted(number):
                return
            try:
                result = work()
            except Exception as error:
                self._send(number, tell, sentence_of(error, self._name))
            else:
                self._send(number, then, result)

        if not self._closed:
            self._thread.submit(do)

    def is_current(self) -> Callable[[], bool]:
        """To be asked within work: whether it is still wanted."""
        number = self._number + 1
        return lambda: self._is_wanted(number)

    def stop(self) -> None:
        """Nothing that was asked for is told of any more."""
        self._number += 1

    def close(self) -> None:
        """Finish what is being done and stop for good."""
        self._closed = True
        self._thread.shutdown(wait=True, cancel_futures=True)

    def _is_wanted(self, number: int) -> bool:
        return not self._closed and (number == self._number or not self._latest_only)

    def _send(self, number: int, to: Callable[[Any], None], value: object) -> None:
        try:
            self._done.emit(number, to, value)
        except RuntimeError:
            # The window is gone.
            return

    def _tell(self, number: int, to: Callable[[Any], None], value: object) -> None:
        if self._is_wanted(number):
            to(value)
