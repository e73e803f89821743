"""Making many values at once, without the interpreter looking for circles among them."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def without_collecting() -> Iterator[None]:
    """Within, nothing is looked through for circles; nor later, what was made here.

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
