"""What in a text or job breaks a house style."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import (
    READ_SUFFIXES,
    add_client,
    add_encoding_of_in,
    add_timecodes,
    encoding,
    language,
)
from tamarind.formats.documents import WRITTEN


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument(
        "paths",
        nargs="+",
        type=Path,
        metavar="IN",
        help=f"{READ_SUFFIXES}, or a job; files, folders, patterns, or - for standard input",
    )
    command.add_argument("--style", metavar="NAME|FILE", help="house style (a job's own, ordinary)")
    add_client(command)
    command.add_argument(
        "--fix",
        action="append",
        metavar="KIND",
        help="fix all findings of a kind whose fix is certain, such as gap, or all",
    )
    command.add_argument("--dry-run", action="store_true", help="with --fix: only show it")
    command.add_argument("--language", type=language, metavar="LANGUAGE", help="if IN does not say")
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


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.check import check

    return check(options)
