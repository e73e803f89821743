"""One format into another, by suffix."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import (
    add_encoding_of_in,
    add_files,
    add_paper,
    add_timecodes,
    add_verbatim,
    count,
    encoding,
    language,
)
from tamarind.language.stylebook import SHIPPED


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    add_files(command)
    command.add_argument("--language", type=language, metavar="LANGUAGE", help="if IN does not say")
    command.add_argument(
        "--second", metavar="FILE|LANGUAGE",
        help="a second language, below in captions and beside in documents: captions of the same"
        " recording; of a job one of its languages",
    )  # fmt: skip
    command.add_argument("--style", metavar="NAME|FILE", help=f"house style: {', '.join(SHIPPED)}")
    command.add_argument(
        "--names", action="append", metavar="OLD=NEW", help="“Speaker 1=Ann”, again for more"
    )
    command.add_argument(
        "--strict", action="store_true", help="write nothing that loses any styling"
    )
    command.add_argument(
        "--lay-out", action="store_true", help="lay out the captions again by the house style"
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
        "--sound",
        type=Path,
        metavar="FILE",
        help="find the words of a text (txt, docx, odt) in this sound",
    )
    command.add_argument(
        "--punctuate",
        action="store_true",
        help="punctuation for a text that has none, from --sound or from its pauses",
    )
    command.add_argument("--word-times", action="store_true", help="of each word, in WebVTT")
    command.add_argument(
        "--caption-style", metavar="NAME|FILE", help="caption style, in formats that have one"
    )
    command.add_argument(
        "--paint-on", action="store_true", help="SCC whose captions are painted as they are said"
    )
    add_verbatim(command)
    add_paper(command)
    add_timecodes(command)


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.text import convert

    return convert(options)
