"""A pedal that is not there: for tests, and to try what pedals do without one."""

from __future__ import annotations

import queue
from collections.abc import Iterator

from tamarind.pedal.acts import Press

CODES = (256, 257, 258)


class PretendedPedal:
    """Three keys that are pressed by calling ``press`` and ``release``."""

    def __init__(self, name: str = "Pretended pedal", codes: tuple[int, ...] = CODES) -> None:
        self.name, self.codes = name, codes
        self._queue: queue.SimpleQueue[Press | None] = queue.SimpleQueue()

    def press(self, code: int) -> None:
        """A key goes down."""
        self._queue.put(Press(code, True))

    def release(self, code: int) -> None:
        """And up again."""
        self._queue.put(Press(code, False))

    def presses(self) -> Iterator[Press]:
        """Each press and release as it comes."""
        while (press := self._queue.get()) is not None:
            yield press

    def close(self) -> None:
        """Pull it out."""
        self._queue.put(None)
