"""Signals of the core: objects that others connect functions to."""

from __future__ import annotations

import inspect
import sys
import weakref
from collections.abc import Callable
from typing import Generic, ParamSpec

Parameters = ParamSpec("Parameters")


class Event(Generic[Parameters]):
    """Calls every connected function, in the order in which they were connected.

    A method is held weakly, so that an object that is gone is not told any more; functions are
    held. What fails in one listener keeps the news from no other, and goes to ``sys.excepthook``.
    """

    def __init__(self) -> None:
        self._slots: list[Callable[[], Callable[Parameters, object] | None]] = []

    def connect(self, slot: Callable[Parameters, object]) -> Callable[Parameters, object]:
        """Connect a function; return it, so that it can be disconnected."""
        held: Callable[[], Callable[Parameters, object] | None]
        held = weakref.WeakMethod(slot) if inspect.ismethod(slot) else lambda: slot
        self._slots.append(held)
        return slot

    def disconnect(self, slot: Callable[Parameters, object]) -> None:
        """Disconnect a function."""
        self._slots = [held for held in self._slots if held() not in (None, slot)]

    def emit(self, *args: Parameters.args, **kwargs: Parameters.kwargs) -> None:
        """Call every connected function with these arguments."""
        for held in tuple(self._slots):
            slot = held()
            if slot is None:
                self._slots = [one for one in self._slots if one is not held]
                continue
            try:
                slot(*args, **kwargs)
            except Exception as error:
                sys.excepthook(type(error), error, error.__traceback__)
