"""Run a command with its options and settings files, a clean end, and a sentence for every
failure."""

from __future__ import annotations

import argparse
import contextlib
import signal
import threading
from collections.abc import Iterator, Sequence

from tamarind.cli.oldoptions import renamed
from tamarind.cli.output import leave_output, speak, tell, told
from tamarind.cli.parser import COMMANDS, make_parser
from tamarind.cli.settings import read_settings, standing_settings
from tamarind.cli.statuses import DONE, ENDED, INTERRUPTED, SOME_FAILED, WRONG_USE
from tamarind.system.errors import ToldError
from tamarind.system.log import log_file, log_on_terminal, logger, note_failure, set_level


def run(arguments: Sequence[str], is_alone: bool) -> int:
    """Run the command that is the first argument; return the exit status."""
    name = arguments[0]
    parser, commands = make_parser(name)
    own = commands[name]
    arguments, old = renamed(name, arguments)
    try:
        own.set_defaults(**standing_settings(name, own))
        options = parser.parse_args(arguments)
        if getattr(options, "settings", None) is not None:
            own.set_defaults(**read_settings(options.settings, own))
            options = parser.parse_args(arguments)
        if getattr(options, "client", ""):
            _set_by_client(own, options)
            options = parser.parse_args(arguments)
    except ToldError as error:
        return told(error, WRONG_USE)
    speak(quiet=options.quiet)
    for sentence in old:
        tell(sentence)
    if options.log_level:
        set_level(options.log_level)
    if options.verbose:
        log_on_terminal()
    with _ended_politely():
        try:
            if is_alone and not _may_use_the_network(options):
                _stay_here()
            return COMMANDS[name].run(options)
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


def _set_by_client(parser: argparse.ArgumentParser, options: argparse.Namespace) -> None:
    """Let a client set what was not said otherwise. Raises ClientError."""
    from tamarind.cli.clients import client_called, client_settings

    client = client_called(options.client)
    if client is not None:
        parser.set_defaults(**client_settings(client, options))


def _may_use_the_network(options: argparse.Namespace) -> bool:
    """Whether the arguments ask for a cluster, a model to fetch, or a translation server of the
    person's own; only these use the network."""
    fetches = options.command == "models" and options.act == "fetch"
    asks = options.command == "translate" and (options.engine == "server" or options.fetch)
    return fetches or asks or getattr(options, "dask", None) is not None


def _stay_here() -> None:
    """Cut this process off from the network."""
    from tamarind.system.confinement import deny_network

    try:
        deny_network()
    except OSError as error:
        logger.warning("this kernel cannot keep a command from the network (%s)", error)


class _Ended(BaseException):
    """The system asked the command to end."""


@contextlib.contextmanager
def _ended_politely() -> Iterator[None]:
    """Turn SIGTERM into an exception, so that workers and half-written files are removed."""

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
