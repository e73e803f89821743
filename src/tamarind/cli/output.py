"""Print safely: control characters are shown, and a closed output stops nothing."""

from __future__ import annotations

import contextlib
import os
import re
import sys
from collections.abc import Sequence
from typing import TYPE_CHECKING, TextIO

if TYPE_CHECKING:
    from pathlib import Path

_UNSAFE = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069\ud800-\udfff]"
)


def harmless(text: str) -> str:
    """Return a text in which characters that steer a terminal are shown by their numbers."""
    return _UNSAFE.sub(_shown, text)


def _shown(match: re.Match[str]) -> str:
    code = ord(match.group())
    if 0xDC80 <= code <= 0xDCFF:
        # A byte of a name that is no UTF-8.
        return f"\\x{code - 0xDC00:02x}"
    return f"\\x{code:02x}" if code < 256 else f"\\u{code:04x}"


def make_ready() -> None:
    """Make sure that standard input, output and error exist: else a file opened later would take
    the place of a closed one."""
    for number in range(3):
        try:
            os.fstat(number)
        except OSError:
            os.open(os.devnull, os.O_RDWR)
    for name in ("stdout", "stderr"):
        stream = getattr(sys, name)
        if stream is None:
            setattr(sys, name, open(os.devnull, "w"))  # noqa: SIM115, PTH123
        elif hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")


class Output:
    """A stream that takes everything written to it; ``failed`` says why some of it was lost.

    One whose reader has gone away is quiet from then on, which is no failure.
    """

    def __init__(self, stream: TextIO) -> None:
        self._stream = stream
        self._gone = False
        self.failed = ""

    def isatty(self) -> bool:
        """Whether the stream is a terminal."""
        return not self._gone and self._stream.isatty()

    def write(self, text: str) -> None:
        """Write and flush."""
        if self._gone:
            return
        try:
            self._stream.write(text)
            self._stream.flush()
        except BrokenPipeError:
            self._give_up()
        except (OSError, ValueError) as error:
            self.failed = getattr(error, "strerror", None) or str(error)
            self._give_up()

    def _give_up(self) -> None:
        """Write nothing more, even when Python ends."""
        self._gone = True
        with contextlib.suppress(OSError, ValueError):
            nothing = os.open(os.devnull, os.O_WRONLY)
            os.dup2(nothing, self._stream.fileno())
            os.close(nothing)


def leave_output() -> None:
    """Stop writing to standard output, also at the program's end."""
    with contextlib.suppress(OSError, ValueError):
        nothing = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nothing, sys.stdout.fileno())
        os.close(nothing)


_quiet = False


def speak(quiet: bool) -> None:
    """Choose whether to tell everything or only failures."""
    global _quiet
    _quiet = quiet


def is_quiet() -> bool:
    """Whether only failures are told."""
    return _quiet


def tell(message: object) -> None:
    """Print a line for the person on standard error."""
    if not _quiet:
        _say(message)


def told(message: object, status: int) -> int:
    """Print a line on a failure, and return the exit status."""
    _say(message)
    return status


def summary(written: Sequence[Path], failed: int) -> str:
    """Say how many files were written, where, and how many could not be."""
    count = len(written)
    told = f"{count} {'file' if count == 1 else 'files'} written"
    if written:
        told += f" to {os.path.commonpath([path.absolute().parent for path in written])}"
    return f"{told}, {failed} failed." if failed else f"{told}."


def _say(message: object) -> None:
    Output(sys.stderr).write(f"tamarind: {harmless(str(message))}\n")
