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


def cores() -> int:
    """How many there are."""
    return os.cpu_count() or 1


def side_by_side(work: Callable[[T], R], tasks: Iterable[T], threads: int | None = None) -> list[R]:
    """The results in order of work that spends its time in numeric libraries."""
    _keep_to_one_core()
    with ThreadPoolExecutor(threads or cores()) as pool:
        return list(pool.map(work, tasks))


@cache
def _keep_to_one_core() -> None:
    """From now on a numeric library does not spread out: the other cores have work of their own."""
    ThreadpoolController().limit(limits=1)
