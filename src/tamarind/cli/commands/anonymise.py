"""Copy a job without names, in text and sound, or put the names back."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import count


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("job", type=Path, metavar="JOB")
    command.add_argument(
        "-o", "--output", type=Path, metavar="DIR", help="a new folder (“JOB without names”)"
    )
    command.add_argument(
        "--list", action="store_true", help="only print what tells who somebody is, as a table"
    )
    command.add_argument(
        "--names", type=Path, metavar="FILE",
        help="take out what such a table holds, edited or not (all that is found)",
    )  # fmt: skip
    command.add_argument(
        "--key", type=Path, metavar="FILE", help="where the key list goes (DIR.key.json)"
    )
    command.add_argument(
        "--password-file",
        type=Path,
        metavar="FILE",
        help="whose first line encrypts the key list",
    )
    command.add_argument(
        "--tone", action="store_true", help="a tone in place of names, not silence"
    )
    command.add_argument(
        "--margin", type=count(2_000), default=80, metavar="MS", help="around words (80)"
    )
    command.add_argument(
        "--check", type=Path, metavar="DIR", help="only tell where names still stand in a folder"
    )
    command.add_argument(
        "--restore", action="store_true", help="put the names of --key back into JOB's texts"
    )


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.anonymising import anonymise

    return anonymise(options)
