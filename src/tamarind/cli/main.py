"""The ``tamarind`` command: start the part of the program that the arguments name.

Nothing heavy is imported until it is needed, so that ``--help`` answers at once.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence

from tamarind.cli.parser import COMMANDS, make_parser

OF_THE_WINDOW = ("", "--demo", "--log-level")
"""What is given first where a window is wanted, besides a job."""


def program() -> int:
    """Run the command as a program that has its process for itself."""
    from tamarind.cli.output import make_ready

    make_ready()
    return main(is_alone=True)


def main(arguments: Sequence[str] | None = None, is_alone: bool = False) -> int:
    """Run the command; return its exit status.

    If it ``is_alone`` in its process, that has a log, and gives up the network for good.
    """
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    first = arguments[0].partition("=")[0] if arguments else ""
    opens_window = first in OF_THE_WINDOW or (first not in COMMANDS and not first.startswith("-"))
    if not opens_window and first not in COMMANDS:
        # The help of all, the version, or what is no option: it ends here.
        make_parser()[0].parse_args(arguments)
    if is_alone:
        from tamarind.system.log import start_logging

        start_logging()
    if opens_window:
        from tamarind.cli.window import window

        return window(arguments)
    from tamarind.cli.running import run

    return run(arguments, is_alone)
