"""Time, and the one thread in which everything is told: what a window's event loop gives.

``PlainLoop`` is one without a window, turned by whoever waits.
"""

from __future__ import annotations

import queue
from collections.abc import Callable
from time import monotonic, sleep
from typing import Protocol

Call = Callable[[], object]


class Timer(Protocol):
    """Calls something after a while."""

    def start(self) -> None:
        """Start the timer, anew if it runs."""

    def stop(self) -> None:
        """Not any more."""

    @property
    def is_active(self) -> bool:
        """Whether it runs."""


class Loop(Protocol):
    """Where things happen one after the other."""

    def post(self, call: Call) -> None:
        """Do something in the loop's thread; from any thread."""

    def timer(self, milliseconds: int, call: Call, repeats: bool = False) -> Timer:
        """A timer that does not run yet."""


class PlainTimer:
    """A timer of a plain loop."""

    def __init__(self, seconds: float, call: Call, repeats: bool) -> None:
        self._seconds, self._call, self._repeats = seconds, call, repeats
        self.due: float | None = None

    def start(self) -> None:
        """From now on."""
        self.due = monotonic() + self._seconds

    def stop(self) -> None:
        """Not any more."""
        self.due = None

    @property
    def is_active(self) -> bool:
        """Whether it runs."""
        return self.due is not None

    def turn(self) -> None:
        """Call if it is time."""
        if self.due is not None and monotonic() >= self.due:
            self.due = monotonic() + self._seconds if self._repeats else None
            self._call()


class PlainLoop:
    """A loop for work without a window, and for tests."""

    def __init__(self) -> None:
        self._posted: queue.SimpleQueue[Call] = queue.SimpleQueue()
        self._timers: list[PlainTimer] = []

    def post(self, call: Call) -> None:
        """Do something at the next turn."""
        self._posted.put(call)

    def timer(self, milliseconds: int, call: Call, repeats: bool = False) -> PlainTimer:
        """A timer that does not run yet."""
        made = PlainTimer(milliseconds / 1000, call, repeats)
        self._timers.append(made)
        return made

    def turn(self) -> None:
        """Do what has been posted, and what is due."""
        while not self._posted.empty():
            self._posted.get_nowait()()
        for timer in list(self._timers):
            timer.turn()

    def wait(self, until: Callable[[], object], seconds: float) -> bool:
        """Turn until something is so; whether it came in time."""
        end = monotonic() + seconds
        while not until():
            if monotonic() > end:
                return False
            self.turn()
            sleep(0.005)
        return True
