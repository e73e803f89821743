"""The log of what went wrong, without anything of a recording's text.

It lies in the state folder, a new file when one is full. Every process of the program writes to it.
"""

from __future__ import annotations

import logging
import logging.handlers
import os
import sys
import threading
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from tamarind import __version__
from tamarind.system.folders import state_home
from tamarind.system.loglevels import LEVELS

LARGEST_BYTES = 1 << 20
KEPT = 3
LEVEL_VARIABLE = "TAMARIND_LOG_LEVEL"
TOLD_LINES = 40
"""So many of its last lines are told."""

logger = logging.getLogger("tamarind")
logger.addHandler(logging.NullHandler())


class _QuietHandler(logging.handlers.RotatingFileHandler):
    """Writes the log, and ignores errors in doing so."""

    def handleError(self, record: logging.LogRecord) -> None:
        """Ignore the error."""


def log_file() -> Path:
    """Return the path of the log."""
    return state_home() / "log" / "tamarind.log"


def set_level(level: str) -> None:
    """Set the level of the log, one of ``LEVELS``, also for workers started from now on."""
    os.environ[LEVEL_VARIABLE] = level
    logger.setLevel(level.upper())


def details() -> str:
    """Return what helps to find an error: versions, and the end of the log."""
    import platform

    try:
        lines = log_file().read_text("utf-8", "replace").splitlines()[-TOLD_LINES:]
    except OSError:
        lines = ["(there is no log)"]
    about = f"Tamarind {__version__}, Python {platform.python_version()}"
    return "\n".join([about, platform.platform(), f"The end of {log_file()}:", *lines, ""])


def start_logging(rotates: bool = True) -> None:
    """Write the log from now on, if its folder can be written.

    Only one process, which may make files there, begins a new file when one is full.
    """
    stop_logging()
    level = os.environ.get(LEVEL_VARIABLE, "")
    logger.setLevel(level.upper() if level in LEVELS else logging.INFO)
    logger.propagate = False
    try:
        log_file().parent.mkdir(parents=True, exist_ok=True)
        handler = _QuietHandler(
            log_file(), "a", LARGEST_BYTES if rotates else 0, KEPT, "utf-8",
            errors="backslashreplace",
        )  # fmt: skip
    except OSError:
        return
    handler.setFormatter(
        logging.Formatter("%(asctime)s %(process)d %(levelname)s %(module)s: %(message)s")
    )
    logger.addHandler(handler)


def log_on_terminal() -> None:
    """Also write the log to standard error."""
    handler = logging.StreamHandler()
    handler.setFormatter(logging.Formatter("%(levelname)s %(module)s: %(message)s"))
    logger.setLevel(logging.DEBUG)
    logger.addHandler(handler)


def stop_logging() -> None:
    """Close the log."""
    for handler in list(logger.handlers):
        logger.removeHandler(handler)
        handler.close()
    logger.addHandler(logging.NullHandler())


def where(error: BaseException) -> str:
    """Return the type of an error and its traceback.

    Without what the error says, which may quote a text; but for errors of the system, which say
    what it refused.
    """
    frames = traceback.extract_tb(error.__traceback__)
    way = " < ".join(f"{Path(f.filename).name}:{f.lineno} {f.name}" for f in reversed(frames))
    kind = type(error).__name__
    if isinstance(error, OSError) and error.strerror:
        kind = f"{kind} ({error.strerror})"
    cause = error.__cause__
    return f"{kind} at {way}" + (f"; caused by {where(cause)}" if cause else "")


def note_failure(what: str, error: BaseException) -> None:
    """Log an unexpected error."""
    logger.error("%s: %s", what, where(error))


def catch_all(tell: Callable[[str, BaseException], None]) -> None:
    """Log what nobody else catches, in any thread, and pass it to ``tell``: what was being done,
    and the error."""

    def uncaught(
        kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        if isinstance(error, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        note_failure("uncaught", error)
        tell("uncaught", error)

    def uncaught_in_thread(arguments: threading.ExceptHookArgs) -> None:
        if arguments.exc_value is not None:
            note_failure("uncaught in a thread", arguments.exc_value)
            tell("uncaught in a thread", arguments.exc_value)

    def uncaught_at_the_end(arguments: sys.UnraisableHookArgs) -> None:
        if arguments.exc_value is not None:
            note_failure("uncaught while tidying up", arguments.exc_value)

    sys.excepthook = uncaught
    threading.excepthook = uncaught_in_thread
    sys.unraisablehook = uncaught_at_the_end
