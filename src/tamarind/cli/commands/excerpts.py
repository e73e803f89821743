"""List the excerpts of a job, or write them as files."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import frame_rate
from tamarind.job.excerptkinds import KINDS, USUAL_START


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("job", type=Path, metavar="JOB")
    command.add_argument(
        "-o", "--output", type=Path, metavar="DIR", help="where to (they are listed)"
    )
    command.add_argument(
        "--format", action="append", choices=KINDS, help="of what is written; several times (wav)"
    )
    command.add_argument(
        "--tag", action="append", default=[], help="only with this tag, or another"
    )
    command.add_argument("--words", default="", help="only those in which these words come up")
    command.add_argument("--joined", action="store_true", help="one file in place of one for each")
    command.add_argument("--burn", action="store_true", help="draw captions on videos")
    command.add_argument(
        "--caption-style", default="", metavar="LOOK", help="of those (as in the job)"
    )
    command.add_argument(
        "--frame-rate", type=frame_rate, metavar="R",
        help="of edit lists, as 25 or 24000/1001 (that of the picture)",
    )  # fmt: skip
    command.add_argument(
        "--timecode", default=USUAL_START, metavar="T",
        help=f"where edit lists begin ({USUAL_START})",
    )  # fmt: skip
    command.add_argument("--overwrite", action="store_true", help="replace existing files")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.excerpts import excerpts

    return excerpts(options)
