"""Pack a job with its recordings into one file."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import moment


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("job", type=Path, metavar="JOB")
    command.add_argument(
        "-o", "--output", type=Path, metavar="FILE", help="(JOB.zip beside the job)"
    )
    command.add_argument(
        "--without-recordings", action="store_true", help="only the texts; recordings stay here"
    )
    command.add_argument(
        "--without-drafts", action="store_true", help="leave out drafts and the undo history"
    )
    command.add_argument(
        "--without-names", action="store_true",
        help="leave out speakers' names, voices and the undo history; the texts stay as they are",
    )  # fmt: skip
    command.add_argument(
        "--recording", action="append", default=[], metavar="NAME",
        help="give out only this recording, again for more; “tamarind merge” takes it back",
    )  # fmt: skip
    command.add_argument("--from", dest="start", type=moment, metavar="T", help="of its text: only")
    command.add_argument("--until", dest="end", type=moment, metavar="T", help="this section")
    command.add_argument("--overwrite", action="store_true", help="replace an existing file")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.packing import pack

    return pack(options)
