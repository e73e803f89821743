"""Work that takes longer than a moment, done in a thread while everything else goes on."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeVar

from tamarind.application.failures import failed as any_failed
from tamarind.application.failures import sentence_of
from tamarind.application.loop import Loop

Result = TypeVar("Result")
Failed = Callable[[str], object]


class Tasks:
    """One piece of work after the other. How each ends, well or not, is told in the loop's thread;
    nothing that goes wrong is lost."""

    def __init__(self, loop: Loop, name: str, latest_only: bool = True) -> None:
        """With ``latest_only``, what was asked for before the last is not told of any more, nor
        begun if it waits still."""
        self._thread = ThreadPoolExecutor(1, name)
        self._loop, self._name, self._latest_only = loop, name, latest_only
        self._number = 0
        self._closed = False

    def run(
        self,
        work: Callable[[], Result],
        then: Callable[[Result], object],
        failed: Failed | None = None,
    ) -> None:
        """Do ``work`` in the thread, and ``then`` with what comes of it in the loop's; or
        ``failed`` with a sentence that says why not, which else everybody is told."""
        self._number += 1
        number = self._number

        def do() -> None:
            if not self._is_wanted(number):
                return
            try:
                result = work()
            except Exception as error:
                sentence = sentence_of(error, self._name)
                self._post(number, lambda: (failed or any_failed.emit)(sentence))
            else:
                self._post(number, lambda: then(result))

        if not self._closed:
            self._thread.submit(do)

    def is_current(self) -> Callable[[], bool]:
        """Return a test of whether the work that is given next is still wanted."""
        number = self._number + 1
        return lambda: self._is_wanted(number)

    def stop(self) -> None:
        """Give up all work; nothing more is told of it."""
        self._number += 1

    def close(self, wait: bool = True) -> None:
        """Stop for good, with ``wait`` after what is being done."""
        self._closed = True
        self._thread.shutdown(wait=wait, cancel_futures=True)

    def _is_wanted(self, number: int) -> bool:
        return not self._closed and (number == self._number or not self._latest_only)

    def _post(self, number: int, tell: Callable[[], object]) -> None:
        # The loop may be gone with whatever asked.
        if self._is_wanted(number):
            self._loop.post(lambda: tell() if self._is_wanted(number) else None)
