"""Work that takes longer than a moment, done in a thread while the window goes on."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from PySide6.QtCore import QObject, Signal


class Elsewhere(QObject):
    """One piece of work after the other; only what was asked for last is told of."""

    _done = Signal(int, object, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._thread = ThreadPoolExecutor(1, "elsewhere")
        self._number = 0
        self._done.connect(self._tell)
        parent.destroyed.connect(lambda: self._thread.shutdown(wait=False, cancel_futures=True))

    def run(self, work: Callable[[], Any], then: Callable[[Any], None]) -> None:
        """Do ``work`` in the thread, and ``then`` with what comes of it in the window's."""
        self._number += 1
        number = self._number

        def do() -> None:
            if number == self._number:
                self._done.emit(number, then, work())

        self._thread.submit(do)

    def _tell(self, number: int, then: Callable[[Any], None], result: object) -> None:
        if number == self._number:
            then(result)
