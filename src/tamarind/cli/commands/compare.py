"""Show what differs between two texts or jobs, word by word."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import READ_SUFFIXES, add_encoding_of_in, language


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument(
        "before", type=Path, metavar="BEFORE", help=f"{READ_SUFFIXES}, or a job, packed or not"
    )
    command.add_argument("after", type=Path, metavar="AFTER", help="the same; or the word draft")
    command.add_argument(
        "-o", "--output", type=Path, metavar="FILE",
        help="with changes marked: .docx (tracked), .html or .txt (a list on standard output)",
    )  # fmt: skip
    command.add_argument(
        "--language", type=language, metavar="LANGUAGE", help="if a file does not say"
    )
    command.add_argument("--overwrite", action="store_true", help="replace an existing file")
    add_encoding_of_in(command)


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.comparing import compare

    return compare(options)
