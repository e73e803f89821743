"""A recording with its captions as a web page."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import READ_SUFFIXES
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("media", type=Path, metavar="MEDIA", help="a recording, or a job")
    command.add_argument(
        "--captions", action="append", type=Path, default=[], metavar="FILE",
        help=f"{READ_SUFFIXES}; several times for several languages, that of the recording first",
    )  # fmt: skip
    command.add_argument("-o", "--output", type=Path, metavar="DIR", required=True, help="where to")
    command.add_argument("--title", default="", help="of the page (the name of the recording)")
    command.add_argument(
        "--style", default=ORDINARY_STYLE, metavar="NAME|FILE",
        help=f"house style: {', '.join(SHIPPED)}, or a file",
    )  # fmt: skip
    command.add_argument("--single", action="store_true", help="sound within the page: one file")
    command.add_argument("--overwrite", action="store_true", help="replace existing files")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.page import page

    return page(options)
