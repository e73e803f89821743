"""The ``tamarind`` command: its arguments, and which part of the program each one starts.

Nothing heavy is imported until it is needed, so that ``--help`` answers at once.
"""

from __future__ import annotations

import argparse
import contextlib
import difflib
import os
import signal
import sys
import threading
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from tamarind.cli.manual import pages, subparsers_of
from tamarind.cli.output import leave_output, make_ready, speak, tell, told
from tamarind.cli.parser import COMMANDS, add_log_level, make_parser
from tamarind.cli.statuses import DONE, ENDED, INTERRUPTED, SOME_FAILED, WRONG_USE
from tamarind.system.log import (
    log_file,
    log_on_terminal,
    logger,
    note_failure,
    set_level,
    start_logging,
)

JOB_SUFFIX = ".tamarind"
OF_THE_WINDOW = ("", "--demo", "--log-level")
"""What is given first where a window is wanted, besides a job."""
SCREENS = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")


def program() -> int:
    """The command as a program of its own, which has its process for itself."""
    make_ready()
    start_logging()
    return main(is_alone=True)


def main(arguments: Sequence[str] | None = None, is_alone: bool = False) -> int:
    """Run the command; returns its exit status.

    If it ``is_alone`` in its process, that gives up the network for good.
    """
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    first = arguments[0].partition("=")[0] if arguments else ""
    if first in OF_THE_WINDOW or (first not in COMMANDS and not first.startswith("-")):
        return _window(arguments)
    parser = make_parser()
    commands = {name: command for name, (_help, command) in subparsers_of(parser).items()}
    if arguments[0] in commands:
        from tamarind.cli.settings import SettingsError, read_settings, standing_settings

        own = commands[arguments[0]]
        try:
            own.set_defaults(**standing_settings(arguments[0], own))
            options = parser.parse_args(arguments)
            if getattr(options, "settings", None) is not None:
                own.set_defaults(**read_settings(options.settings, own))
        except SettingsError as error:
            return told(error, WRONG_USE)
    options = parser.parse_args(arguments)
    speak(quiet=options.quiet)
    if options.log_level:
        set_level(options.log_level)
    if options.verbose:
        log_on_terminal()
    with _ended_politely():
        try:
            if is_alone and not _may_use_the_network(options):
                _stay_here()
            return _command(options)
        except KeyboardInterrupt:
            return told("stopped", INTERRUPTED)
        except _Ended:
            return told("stopped", ENDED)
        except BrokenPipeError:
            # Nobody reads on, which is their right.
            leave_output()
            return DONE
        except Exception as error:
            note_failure(options.command, error)
            return told(
                f"something went wrong in Tamarind itself ({type(error).__name__});"
                f" the log says where: {log_file()}",
                SOME_FAILED,
            )


def _may_use_the_network(options: argparse.Namespace) -> bool:
    """Only to work on a cluster, to fetch a model, or to ask a translation server of the person's
    own, when that is asked for."""
    fetches = options.command == "models" and options.act == "fetch"
    asks = options.command == "translate" and (options.engine == "server" or options.fetch)
    return fetches or asks or getattr(options, "dask", None) is not None


def _stay_here() -> None:
    """What needs no network cannot have one either."""
    from tamarind.system.confinement import deny_network

    try:
        deny_network()
    except OSError as error:
        logger.warning("this kernel cannot keep a command from the network (%s)", error)


class _Ended(BaseException):
    """The system asked the command to end."""


@contextlib.contextmanager
def _ended_politely() -> Iterator[None]:
    """Let a polite end come as an exception, so that workers and half-written files go."""

    def end(_number: int, _frame: object) -> None:
        raise _Ended

    if threading.current_thread() is not threading.main_thread():
        yield
        return
    before = {number: signal.signal(number, end) for number in (signal.SIGTERM, signal.SIGHUP)}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


def _command(options: argparse.Namespace) -> int:
    if options.command == "transcribe":
        from tamarind.cli.transcribe import transcribe

        return transcribe(options)
    if options.command == "check":
        from tamarind.cli.check import check

        return check(options)
    if options.command in ("completion", "manual"):
        return _about_itself(options)
    if options.command == "desktop":
        return _desktop(options)
    if options.command == "translate":
        from tamarind.cli.translate import translate

        return translate(options)
    if options.command == "video":
        from tamarind.cli.video import video

        return video(options)
    if options.command == "page":
        from tamarind.cli.page import page

        return page(options)
    if options.command == "excerpts":
        from tamarind.cli.excerpts import excerpts

        return excerpts(options)
    if options.command == "speakers":
        from tamarind.cli.speakers import speakers

        return speakers(options)
    if options.command == "chapters":
        from tamarind.cli.chapters import chapters

        return chapters(options)
    if options.command == "models":
        from tamarind.cli.models import models

        return models(options)
    from tamarind.cli import text

    command: Callable[[argparse.Namespace], int] = getattr(text, options.command)
    return command(options)


def _about_itself(options: argparse.Namespace) -> int:
    """What a shell and a manual need to know of the command."""
    parser = make_parser()
    if options.command == "completion":
        import shtab

        print(shtab.complete(parser, options.shell))
        return DONE
    try:
        options.folder.mkdir(parents=True, exist_ok=True)
        for name, text in pages(parser).items():
            (options.folder / name).write_text(text, encoding="utf-8")
    except OSError as error:
        return told(f"{options.folder}: {error.strerror}.", SOME_FAILED)
    return DONE


def _desktop(options: argparse.Namespace) -> int:
    """Put the launcher in place, or take it away."""
    from tamarind.launcher.install import install, remove, share_folder

    share = share_folder(options.for_all)
    manuals = pages(make_parser())
    try:
        if options.remove:
            gone = remove(share, manuals)
            tell(f"taken away: {len(gone)} files below {share}." if gone else "nothing was there.")
        else:
            program = Path(sys.argv[0])
            is_program = program.name == "tamarind" and program.is_file()
            command = (
                [str(program.absolute())] if is_program else [sys.executable, "-m", "tamarind"]
            )
            written = install(share, command, manuals)
            tell(f"in place: {len(written)} files below {share}. Look for “Tamarind” in the menu.")
    except OSError as error:
        return told(f"{error.filename or share}: {error.strerror}.", SOME_FAILED)
    return DONE


def _window(arguments: list[str]) -> int:
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
    """Whether a path is there, or may be that of a job that is to be made."""
    return os.path.lexists(path) or path.suffix == JOB_SUFFIX or len(path.parts) > 1


def _mistyped(word: str) -> str:
    """What to say of a word that is neither a command nor a file, or a command in the wrong
    place."""
    if word in COMMANDS:
        return f"“{word}” comes first, and its options after it: tamarind {word} …"
    close = difflib.get_close_matches(word, COMMANDS, 1, 0.6)
    meant = f" Did you mean “tamarind {close[0]}”?" if close else ""
    return f"“{word}” is no command, and there is no such file.{meant}"
