"""Make videos and sound files in a process of their own, so that a crashing codec ends nothing
else."""

from __future__ import annotations

import contextlib
import json
import signal
import sys
from collections.abc import Callable
from multiprocessing import get_context
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Protocol

from tamarind.audio.media import MediaError
from tamarind.picture.containers import name_beside
from tamarind.system.errors import ToldError
from tamarind.system.files import NotAFileError
from tamarind.transcript.bounds import clean_text

ASKED_EVERY_S = 0.1
ENDS_WITHIN_S = 5.0
LONGEST = 1 << 16
"""Bytes of a message."""

BROKE_OFF = "Writing broke off: its picture or sound may be damaged."

_SHARE, _DONE, _FAILED = "share", "done", "failed"


class Order(Protocol):
    """What is to be made, complete, since another process makes it."""

    @property
    def targets(self) -> list[Path]:
        """The files that will be written."""

    def fill(self, told: Callable[[float], None]) -> None:
        """Write the files. ``told`` is called with the share (0 to 1) that is done; what it raises
        stops the work. Raises ToldError with a sentence, and OSError."""


class CancelledError(Exception):
    """The person has cancelled the work."""


def make_elsewhere(
    order: Order, told: Callable[[float], None], is_wanted: Callable[[], bool]
) -> None:
    """Make an order in a process of its own. ``told`` is called with the share (0 to 1) that is
    done; the process is ended when the work is no longer wanted.

    Raises MediaError with a sentence, and CancelledError. What was not made leaves nothing.
    """
    context = get_context("spawn")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_work, args=(order, there), daemon=True)
    process.start()
    there.close()
    try:
        while True:
            if not is_wanted():
                raise CancelledError
            if not here.poll(ASKED_EVERY_S):
                continue
            try:
                kind, value = _read(here.recv_bytes(LONGEST))
            except (EOFError, OSError, ValueError):
                raise MediaError(BROKE_OFF) from None
            if kind == _DONE:
                return
            if kind == _FAILED:
                raise MediaError(str(value))
            told(float(value))
    finally:
        here.close()
        process.terminate()
        process.join(ENDS_WITHIN_S)
        if process.is_alive():
            process.kill()
            process.join()
        for target in order.targets:
            with contextlib.suppress(OSError):
                name_beside(target).unlink(missing_ok=True)


def _send(there: Connection, kind: str, value: float | str = 0.0) -> None:
    """Send a message of plain data, since the process reads strangers' files and is not trusted
    with more."""
    there.send_bytes(json.dumps([kind, value]).encode())


def _read(data: bytes) -> tuple[str, float | str]:
    """Read a message. Raises ValueError if it is none."""
    told = json.loads(data)
    if not isinstance(told, list) or len(told) != 2:
        raise ValueError("no message")
    kind, value = told
    if kind == _SHARE and isinstance(value, int | float) and 0 <= value <= 1:
        return kind, value
    if kind == _FAILED and isinstance(value, str):
        return kind, clean_text(value)
    if kind == _DONE:
        return kind, 1.0
    raise ValueError("no message")


def _work(order: Order, there: Connection) -> None:
    """Run in the process; it ends when nobody listens any more."""

    def told(share: float) -> None:
        _send(there, _SHARE, min(max(share, 0.0), 1.0))

    # A process that is ended puts away what it has not finished.
    signal.signal(signal.SIGTERM, _end)
    try:
        order.fill(told)
    except (ToldError, NotAFileError) as error:
        _send(there, _FAILED, str(error))
    except OSError as error:
        _send(there, _FAILED, f"It could not be written: {error.strerror or error}.")
    else:
        _send(there, _DONE)
    finally:
        signal.signal(signal.SIGTERM, signal.SIG_DFL)


def _end(_number: int, _frame: object) -> None:
    sys.exit(1)
