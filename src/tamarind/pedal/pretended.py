"""A simulated pedal, for tests and for trying pedals without one."""

from __future__ import annotations

import queue
from collections.abc import Iterator

from tamarind.pedal.acts import Press

CODES = (256, 257, 258)


class PretendedPedal:
    """Three keys, pressed by calling ``press`` and ``release``."""

    def __init__(self, name: str = "Simulated pedal", codes: tuple[int, ...] = CODES) -> None:
        self.name, self.codes = name, codes
        self._queue: queue.SimpleQueue[Press | None] = queue.SimpleQueue()

    def press(self, code: int) -> None:
        """Press a key."""
        self._queue.put(Press(code, True))

    def release(self, code: int) -> None:
        """Release a key."""
        self._queue.put(Press(code, False))

    def presses(self) -> Iterator[Press]:
        """Yield each press and release as it comes."""
        while (press := self._queue.get()) is not None:
            yield press

    def close(self) -> None:
        """Unplug the pedal."""
        self._queue.put(None)
