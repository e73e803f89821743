"""Share the processor's cores among our own threads."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from typing import TypeVar

from threadpoolctl import ThreadpoolController

T = TypeVar("T")
R = TypeVar("R")

_share: int | None = None


def cores() -> int:
    """Return how many cores this process may use."""
    return min(_share or len(os.sched_getaffinity(0)), len(os.sched_getaffinity(0)))


def share(count: int) -> None:
    """Use at most so many cores from now on, since other processes use the others."""
    global _share
    _share = max(count, 1)


def side_by_side(work: Callable[[T], R], tasks: Iterable[T], threads: int | None = None) -> list[R]:
    """Run work that spends its time in numeric libraries in parallel; yield the results in
    order."""
    on_one_core_each()
    with ThreadPoolExecutor(threads or cores()) as pool:
        return list(pool.map(work, tasks))


@cache
def on_one_core_each() -> None:
    """Limit numeric libraries to one core each, since the other cores have work."""
    ThreadpoolController().limit(limits=1)
