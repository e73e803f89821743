"""Run long work in a thread and report its end in the loop's thread."""

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
    """Runs one piece of work after the other; success or failure of each is always told in the
    loop's thread."""

    def __init__(self, loop: Loop, name: str, latest_only: bool = True) -> None:
        """With ``latest_only``, work asked for before the latest is not told of, nor begun if it
        still waits."""
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
        """Run ``work`` in the thread and call ``then`` with its result in the loop's thread; or
        ``failed`` with a sentence, which is told to everybody if it is None."""
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
        """Return a function that says whether the work given next is still wanted."""
        number = self._number + 1
        return lambda: self._is_wanted(number)

    def stop(self) -> None:
        """Cancel all work; nothing more is told of it."""
        self._number += 1

    def close(self, wait: bool = True) -> None:
        """Stop for good; with ``wait`` only after the work that is running."""
        self._closed = True
        self._thread.shutdown(wait=wait, cancel_futures=True)

    def _is_wanted(self, number: int) -> bool:
        return not self._closed and (number == self._number or not self._latest_only)

    def _post(self, number: int, tell: Callable[[], object]) -> None:
        # The loop may be gone with whatever asked.
        if self._is_wanted(number):
            self._loop.post(lambda: tell() if self._is_wanted(number) else None)
