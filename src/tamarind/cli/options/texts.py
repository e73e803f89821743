"""The options of the commands that make texts of texts."""

from __future__ import annotations

import argparse
import re
from pathlib import Path

from tamarind.cli.options.shared import (
    READ_SUFFIXES,
    add_encoding_of_in,
    add_files,
    add_paper,
    add_timecodes,
    count,
    encoding,
    factor,
    frame_rate,
    shift,
)
from tamarind.formats.documents import WRITTEN
from tamarind.language.stylebook import SHIPPED


def add_convert(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind convert``."""
    add_files(command)
    command.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    command.add_argument("--style", metavar="NAME|FILE", help=f"house style: {', '.join(SHIPPED)}")
    command.add_argument(
        "--names", action="append", metavar="OLD=NEW", help="“Voice 1=Ann”, again for more"
    )
    command.add_argument(
        "--strict", action="store_true", help="write nothing that loses any styling"
    )
    command.add_argument(
        "--lay-out", action="store_true", help="cut the captions anew by the house style"
    )
    command.add_argument(
        "--roll-up", type=count(20), metavar="N", help="each line pushes the last up, N at a time"
    )
    command.add_argument(
        "--encoding", type=encoding, default="utf-8", metavar="NAME", help="of OUT (utf-8)"
    )
    add_encoding_of_in(command)
    command.add_argument("--bom", action="store_true", help="begin OUT with a byte-order mark")
    command.add_argument("--crlf", action="store_true", help="line ends of Windows in OUT")
    command.add_argument(
        "--sound", type=Path, metavar="FILE", help="find the words of a plain text in this sound"
    )
    command.add_argument(
        "--marks",
        action="store_true",
        help="marks and capitals for a text that has none, from --sound or from its pauses",
    )
    command.add_argument("--word-times", action="store_true", help="of each word, in WebVTT")
    command.add_argument(
        "--look", metavar="NAME|FILE", help="how captions look, in files that can say it"
    )
    command.add_argument(
        "--paint-on", action="store_true", help="SCC whose captions are painted as they are said"
    )
    add_paper(command)
    add_timecodes(command)


def add_check(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind check``."""
    command.add_argument(
        "paths",
        nargs="+",
        type=Path,
        metavar="IN",
        help=f"{READ_SUFFIXES}, or a job; files, folders, patterns, or - for standard input",
    )
    command.add_argument("--style", metavar="NAME|FILE", help="house style (a job's own, ordinary)")
    command.add_argument(
        "--mend",
        action="append",
        metavar="KIND",
        help="put right what a kind of finding can by itself, such as gap, spelling, or all",
    )
    command.add_argument("--dry-run", action="store_true", help="with --mend: only show it")
    command.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    command.add_argument("--glossary", type=Path, metavar="FILE", help="terms that are right")
    command.add_argument(
        "--sound",
        type=Path,
        nargs="?",
        const=Path(),
        metavar="FILE",
        help="hold the text against this sound, or those of the job",
    )
    command.add_argument("--json", action="store_true", help="findings as JSON")
    command.add_argument(
        "--for",
        action="append",
        choices=tuple(suffix for suffix, one in WRITTEN.items() if one.lacks is not None),
        dest="files",
        help="also what such a file cannot hold; again for more",
    )
    add_timecodes(command)
    command.add_argument(
        "--encoding",
        type=encoding,
        default="utf-8",
        metavar="NAME",
        help="in which it will be written (utf-8)",
    )
    add_encoding_of_in(command)


def add_translate(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind translate``."""
    add_files(command, at_least="*")
    command.add_argument(
        "--to", action="append", metavar="TAG", help="language, such as es; again for more"
    )
    command.add_argument("--list", action="store_true", help="tell what translates what")
    command.add_argument(
        "--add", type=Path, metavar="FOLDER|ZIP", help="take a translation model from now on"
    )
    command.add_argument(
        "--fetch", metavar="PAIR", help="fetch the model of a pair, such as en-ca; “?” lists them"
    )
    command.add_argument(
        "--glossary", type=Path, metavar="FILE", help="“term = translation” a line, or what stays"
    )
    command.add_argument(
        "--memory", type=Path, metavar="FILE", help="sentences translated before, as TMX"
    )
    command.add_argument(
        "--engine",
        metavar="NAME",
        help="one that the route goes over; “server” asks the server that you have named (best)",
    )
    command.add_argument(
        "--by", metavar="ROUTE", help="direct, or the languages on the way, such as pt (best)"
    )
    command.add_argument(
        "--style",
        metavar="NAME|FILE",
        help=f"house style of the translation: {', '.join(SHIPPED)}, or a file",
    )
    command.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    add_encoding_of_in(command)


def add_retime(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind retime``."""
    add_files(command)
    # "-1:30" is a time, and no option.
    command._negative_number_matcher = re.compile(r"-[\d:.]+")
    command.add_argument(
        "--shift", type=shift, default=0, metavar="T", help="later by T, or with - earlier (0)"
    )
    command.add_argument(
        "--stretch", type=factor, default=1.0, metavar="F", help="all times by a factor (1)"
    )
    for name, help_text in (
        ("--from-rate", "frames a second for which the times were made"),
        ("--to-rate", "frames a second at which the picture runs, as 25 or 24000/1001"),
    ):
        command.add_argument(name, type=frame_rate, metavar="R", help=help_text)
    command.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    add_encoding_of_in(command)
