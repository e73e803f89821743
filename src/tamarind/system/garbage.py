"""Make many objects at once without the interpreter's garbage collector."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def without_collecting() -> Iterator[None]:
    """Turn the collector off within this context, and exempt what is made in it later.

    A long text is hundreds of thousands of small values that never form one: looking for circles
    among them would take a third of the time, and hold up keystrokes later.
    """
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        if was_on:
            gc.enable()
