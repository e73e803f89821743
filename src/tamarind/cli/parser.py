"""The commands and their help; the options of a command are made only when it is used.

Nothing heavier than the standard library's parser is loaded for the help of them all.
"""

from __future__ import annotations

import argparse
import os
import re
from collections.abc import Iterator
from importlib import import_module
from types import ModuleType
from typing import NamedTuple, NoReturn

from tamarind import __version__
from tamarind.system.loglevels import LEVELS

_WORDS = (
    (r"^argument ", ""),
    (r"^the following arguments are required: (.*)$", r"\1 is missing."),
    (r"^unrecognized arguments: (.*)$", r"There is no option or place for \1."),
    (r"invalid choice: (.*) \(choose from (.*)\)$", r"\1 is none of \2."),
    (r"expected one argument$", "needs a value."),
    (r"expected at least one argument$", "needs at least one value."),
)
"""What the library says, and how it is said here."""


class ProgramCommand(NamedTuple):
    """A command's name and summary; its module in ``cli.commands`` is loaded when needed."""

    name: str
    about: str

    def add_options(self, parser: argparse.ArgumentParser) -> None:
        """Add its own options, and those that all commands have."""
        self._module().add_options(parser)
        parser.add_argument("-q", "--quiet", action="store_true", help="say only what failed")
        parser.add_argument("-v", "--verbose", action="store_true", help="say also what is noted")
        add_log_level(parser)

    def run(self, options: argparse.Namespace) -> int:
        """Run the command; return the exit status."""
        status: int = self._module().run(options)
        return status

    def _module(self) -> ModuleType:
        return import_module(f"tamarind.cli.commands.{self.name}")


def _declared() -> Iterator[ProgramCommand]:
    """Yield every command with the first line of its module, without importing it, so that the help
    comes at once; ``pathlib`` is left out for the same reason."""
    folder = os.path.join(os.path.dirname(__file__), "commands")  # noqa: PTH118, PTH120
    for file in sorted(os.listdir(folder)):  # noqa: PTH208
        name, _, suffix = file.partition(".")
        if suffix == "py" and name != "__init__":
            with open(os.path.join(folder, file), encoding="utf-8") as lines:  # noqa: PTH118, PTH123
                about = lines.readline().strip().strip('".')
            yield ProgramCommand(name, about[:1].lower() + about[1:])


COMMANDS = {one.name: one for one in _declared()}

_EPILOG = """
exit status: 0 all done, 3 some could not be done (each with a reason), 2 wrong use,
  1 (check) there are errors, 130 and 143 stopped by Ctrl+C or the system

examples:
  tamarind transcribe interview.m4a lecture.mp4 -o texts --format srt --format txt
  tamarind transcribe talks/ "archive/**/*.mp3" -o texts --settings client.toml --workers 2
  tamarind convert captions.srt captions.vtt
  tamarind convert captions/ --format vtt -o webvtt
  tamarind check captions.srt --style teletext
  tamarind check captions/ --fix gap --dry-run
  tamarind translate captions.srt --to es -o captions.es.srt
  tamarind retime captions.srt later.srt --shift 1.5
  tamarind my-work.tamarind
"""


class Parser(argparse.ArgumentParser):
    """A parser that says in a line what is wrong, and where help is."""

    def error(self, message: str) -> NoReturn:
        """Print the sentence and end with the status for wrong use."""
        for found, said in _WORDS:
            message = re.sub(found, said, message)
        self.exit(2, f"{self.prog}: {message}\nHelp: {self.prog} --help\n")


def make_parser(*names: str) -> tuple[Parser, dict[str, Parser]]:
    """Make the parser of all commands, with the options of the named ones; return it and each
    command's own."""
    parser = Parser(
        prog="tamarind",
        usage="tamarind [JOB|RECORDING|--demo]\n"
        "       tamarind {transcribe,convert,check,translate,video,models,...} ... (see below)",
        description="Recorded speech becomes proofed, timed text, on this computer alone. "
        "With the path of a job or of a recording, or nothing, it opens the window.",
        epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("--demo", action="store_true", help="open a demo job in the window")
    parser.add_argument("--version", action="version", version=f"tamarind {__version__}")
    added = parser.add_subparsers(
        dest="command", required=True, title="without a window", prog="tamarind"
    )
    commands = {name: added.add_parser(name, help=one.about) for name, one in COMMANDS.items()}
    for name in names:
        COMMANDS[name].add_options(commands[name])
    return parser, commands


def add_log_level(command: argparse.ArgumentParser) -> None:
    """Add the option for how much is logged."""
    command.add_argument("--log-level", choices=LEVELS, help="how much to note in the log")
