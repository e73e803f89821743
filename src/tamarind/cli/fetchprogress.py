"""Show the progress of a download in one line of a terminal."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from tamarind.cli.output import Output
from tamarind.system.fetching import amount


@contextmanager
def showing_progress(name: str) -> Iterator[Callable[[int, int], None]]:
    """Within this context, show how many bytes of how many have come."""
    out = Output(sys.stderr)
    shown = -1

    def show(done: int, whole: int) -> None:
        nonlocal shown
        share = 100 * done // max(whole, 1)
        if out.isatty() and share != shown:
            shown = share
            out.write(f"\r\x1b[K{name}: {share} % of {amount(whole)}")

    try:
        yield show
    finally:
        if shown >= 0:
            out.write("\n")
