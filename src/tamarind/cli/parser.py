"""The commands that there are, and what is told of each; their options are made when one is meant.

Nothing heavier than the standard library's parser is loaded for the help of them all.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable
from importlib import import_module
from typing import NamedTuple

from tamarind import __version__
from tamarind.system.loglevels import LEVELS


class Command(NamedTuple):
    """What it is for; its ``options`` ("module:function" of ``cli.options``) and its ``work`` (of
    ``cli``) are loaded when they are needed."""

    about: str
    options: str
    work: str

    def add_options(self, parser: argparse.ArgumentParser) -> None:
        """Its own options, and those that all have."""
        _found(f"tamarind.cli.options.{self.options}")(parser)
        parser.add_argument("-q", "--quiet", action="store_true", help="say only what failed")
        parser.add_argument("-v", "--verbose", action="store_true", help="say also what is noted")
        add_log_level(parser)

    def run(self, options: argparse.Namespace) -> int:
        """Do it; returns the exit status."""
        status: int = _found(f"tamarind.cli.{self.work}")(options)
        return status


COMMANDS = {
    "transcribe": Command(
        "recognise recordings and write their texts",
        "hearing:add_transcribe",
        "transcribe:transcribe",
    ),
    "convert": Command(
        "one format into another, by suffix",
        "texts:add_convert",
        "text:convert",
    ),
    "check": Command(
        "what in a text or job breaks a house style",
        "texts:add_check",
        "check:check",
    ),
    "translate": Command(
        "put texts into other languages",
        "texts:add_translate",
        "translate:translate",
    ),
    "retime": Command(
        "shift or stretch all times of captions",
        "texts:add_retime",
        "text:retime",
    ),
    "video": Command(
        "draw captions on a video, or add them as tracks",
        "video:add_video",
        "video:video",
    ),
    "chapters": Command(
        "chapters from the headings of a text or a job",
        "recordings:add_chapters",
        "chapters:chapters",
    ),
    "excerpts": Command(
        "list the excerpts of a job, or write them as files",
        "recordings:add_excerpts",
        "excerpts:excerpts",
    ),
    "speakers": Command(
        "tell the speakers of a text or a job apart again",
        "recordings:add_speakers",
        "speakers:speakers",
    ),
    "page": Command(
        "a recording with its captions as a web page",
        "recordings:add_page",
        "page:page",
    ),
    "models": Command(
        "larger models: which there are, fetch, remove",
        "program:add_models",
        "models:models",
    ),
    "desktop": Command(
        "a launcher, icons and file types for the desktop",
        "program:add_desktop",
        "itself:desktop",
    ),
    "completion": Command(
        "what a shell needs to complete commands",
        "program:add_completion",
        "itself:completion",
    ),
    "manual": Command("write the manual pages", "program:add_manual", "itself:manual"),
}

_EPILOG = """
exit status: 0 all done, 3 some could not be done (each with a reason), 2 wrong use,
  1 (check) a rule that must hold is broken, 130 and 143 stopped by Ctrl+C or the system

examples:
  tamarind transcribe interview.m4a lecture.mp4 -o texts --format srt --format txt
  tamarind transcribe talks/ "archive/**/*.mp3" -o texts --settings client.toml --jobs 2
  tamarind convert captions.srt captions.vtt
  tamarind convert captions/ --format vtt -o webvtt
  tamarind check captions.srt --style teletext
  tamarind check captions/ --mend gap --dry-run
  tamarind translate captions.srt --to es -o captions.es.srt
  tamarind retime captions.srt later.srt --shift 1.5
  tamarind my-work.tamarind
"""


def make_parser(*names: str) -> tuple[argparse.ArgumentParser, dict[str, argparse.ArgumentParser]]:
    """All commands, those of these names with their options; and the parser of each command."""
    parser = argparse.ArgumentParser(
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
    """How much is noted in the log."""
    command.add_argument("--log-level", choices=LEVELS, help="how much to note in the log")


def _found(place: str) -> Callable[..., int]:
    """What is at "module:function"."""
    module, _, name = place.partition(":")
    found: Callable[..., int] = getattr(import_module(module), name)
    return found
