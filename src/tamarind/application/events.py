"""News that others may listen to."""

from __future__ import annotations

import inspect
import sys
import weakref
from collections.abc import Callable
from typing import Generic, ParamSpec

Parameters = ParamSpec("Parameters")


class Event(Generic[Parameters]):
    """Tells everybody who is connected, in the order in which they came.

    A method is held weakly, so that an object that is gone is not told any more; functions are
    held. What fails in one listener keeps the news from no other, and goes to ``sys.excepthook``.
    """

    def __init__(self) -> None:
        self._slots: list[Callable[[], Callable[Parameters, object] | None]] = []

    def connect(self, slot: Callable[Parameters, object]) -> Callable[Parameters, object]:
        """Be told from now on; the slot itself is given back, to disconnect it by."""
        held: Callable[[], Callable[Parameters, object] | None]
        held = weakref.WeakMethod(slot) if inspect.ismethod(slot) else lambda: slot
        self._slots.append(held)
        return slot

    def disconnect(self, slot: Callable[Parameters, object]) -> None:
        """Be told no more."""
        self._slots = [held for held in self._slots if held() not in (None, slot)]

    def emit(self, *args: Parameters.args, **kwargs: Parameters.kwargs) -> None:
        """Tell them."""
        for held in tuple(self._slots):
            slot = held()
            if slot is None:
                self._slots = [one for one in self._slots if one is not held]
                continue
            try:
                slot(*args, **kwargs)
            except Exception as error:
                sys.excepthook(type(error), error, error.__traceback__)
