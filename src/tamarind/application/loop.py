"""The event loop as the core sees it: timers, and one thread in which everything is told.

``PlainLoop`` is one without a window, turned by whoever waits.
"""

from __future__ import annotations

import queue
from collections.abc import Callable
from time import monotonic, sleep
from typing import Protocol

Call = Callable[[], object]


class Timer(Protocol):
    """Calls a function after a time."""

    def start(self) -> None:
        """Start the timer, or start it again if it runs."""

    def stop(self) -> None:
        """Stop the timer."""

    @property
    def is_active(self) -> bool:
        """Whether it runs."""


class Loop(Protocol):
    """Runs functions one after the other in one thread."""

    def post(self, call: Call) -> None:
        """Run a function in the loop's thread; may be called from any thread."""

    def timer(self, milliseconds: int, call: Call, repeats: bool = False) -> Timer:
        """Make a timer that does not run yet."""


class PlainTimer:
    """A timer of a plain loop."""

    def __init__(self, seconds: float, call: Call, repeats: bool) -> None:
        self._seconds, self._call, self._repeats = seconds, call, repeats
        self.due: float | None = None

    def start(self) -> None:
        """Start the timer, or start it again if it runs."""
        self.due = monotonic() + self._seconds

    def stop(self) -> None:
        """Stop the timer."""
        self.due = None

    @property
    def is_active(self) -> bool:
        """Whether it runs."""
        return self.due is not None

    def turn(self) -> None:
        """Call the function if the time has come."""
        if self.due is not None and monotonic() >= self.due:
            self.due = monotonic() + self._seconds if self._repeats else None
            self._call()


class PlainLoop:
    """An event loop without a window, for commands and tests."""

    def __init__(self) -> None:
        self._posted: queue.SimpleQueue[Call] = queue.SimpleQueue()
        self._timers: list[PlainTimer] = []

    def post(self, call: Call) -> None:
        """Run a function at the next turn."""
        self._posted.put(call)

    def timer(self, milliseconds: int, call: Call, repeats: bool = False) -> PlainTimer:
        """Make a timer that does not run yet."""
        made = PlainTimer(milliseconds / 1000, call, repeats)
        self._timers.append(made)
        return made

    def turn(self) -> None:
        """Run what was posted and the timers that are due."""
        while not self._posted.empty():
            self._posted.get_nowait()()
        for timer in list(self._timers):
            timer.turn()

    def wait(self, until: Callable[[], object], seconds: float) -> bool:
        """Turn until a condition holds; return whether it did in time."""
        end = monotonic() + seconds
        while not until():
            if monotonic() > end:
                return False
            self.turn()
            sleep(0.005)
        return True
