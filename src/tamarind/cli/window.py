"""Open the window from the command line."""

from __future__ import annotations

import argparse
import difflib
import os
from pathlib import Path

from tamarind.cli.output import told
from tamarind.cli.parser import COMMANDS, add_log_level
from tamarind.cli.statuses import SOME_FAILED, WRONG_USE
from tamarind.system.log import set_level

JOB_SUFFIX = ".tamarind"
SCREENS = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")


def window(arguments: list[str]) -> int:
    """Open the window with a job, a recording, the demo or nothing; return the exit status."""
    parser = argparse.ArgumentParser(prog="tamarind", usage="tamarind [JOB|RECORDING|--demo]")
    parser.add_argument("job", nargs="?", type=Path, metavar="JOB")
    parser.add_argument("--demo", action="store_true")
    add_log_level(parser)
    options, more = parser.parse_known_args(arguments)
    if options.job is not None and not _may_be_a_job(options.job):
        return told(_mistyped(str(options.job)), WRONG_USE)
    if more:
        parser.error(f"unrecognized arguments: {' '.join(more)}")
    if options.log_level:
        set_level(options.log_level)
    if options.demo:
        from tamarind.job.demo import demo_job

        try:
            options.job = demo_job()
        except OSError as error:
            return told(f"the demo could not be put in place: {error.strerror}.", SOME_FAILED)
    if not any(os.environ.get(name) for name in SCREENS):
        return told("there is no screen here for the window; see tamarind --help.", SOME_FAILED)
    from tamarind.desktop.app import run

    status: int = run(options.job)
    return status


def _may_be_a_job(path: Path) -> bool:
    """Whether a path exists, or may become a new job."""
    return os.path.lexists(path) or path.suffix == JOB_SUFFIX or len(path.parts) > 1


def _mistyped(word: str) -> str:
    """Return what to say of a word that is neither a command nor a file, or of a command in the
    wrong place."""
    if word in COMMANDS:
        return f"“{word}” comes first, and its options after it: tamarind {word} …"
    close = difflib.get_close_matches(word, COMMANDS, 1, 0.6)
    meant = f" Did you mean “tamarind {close[0]}”?" if close else ""
    return f"“{word}” is no command, and there is no such file.{meant}"
