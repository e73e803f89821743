"""The processor's cores, shared by threads of our own."""

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
    """How many this process may use."""
    return min(_share or len(os.sched_getaffinity(0)), len(os.sched_getaffinity(0)))


def share(count: int) -> None:
    """Use no more than so many from now on: other processes use the others."""
    global _share
    _share = max(count, 1)


def side_by_side(work: Callable[[T], R], tasks: Iterable[T], threads: int | None = None) -> list[R]:
    """The results in order of work that spends its time in numeric libraries."""
    on_one_core_each()
    with ThreadPoolExecutor(threads or cores()) as pool:
        return list(pool.map(work, tasks))


@cache
def on_one_core_each() -> None:
    """Keep numeric libraries on one core each: the other cores have work of their own."""
    ThreadpoolController().limit(limits=1)
