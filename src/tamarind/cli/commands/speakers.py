"""Tell the speakers of a text or a job apart again."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import READ_SUFFIXES, count, language
from tamarind.speech.hearingoptions import MOST_VOICES


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("path", type=Path, metavar="IN", help=f"{READ_SUFFIXES}, or a job")
    command.add_argument("--sound", type=Path, metavar="FILE", help="in which the text is said")
    command.add_argument(
        "--count", type=count(MOST_VOICES), metavar="N", help="how many there are (detect)"
    )
    command.add_argument("--recording", metavar="NAME", help="of a job only this one (all)")
    command.add_argument(
        "-o", "--output", type=Path, metavar="OUT", help="where to (IN, with a copy beside it)"
    )
    command.add_argument("--language", type=language, metavar="LANGUAGE", help="if IN does not say")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.speakers import speakers

    return speakers(options)
