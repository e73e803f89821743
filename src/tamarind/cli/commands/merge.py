"""Take texts that were proofed elsewhere back into a job."""

from __future__ import annotations

import argparse
from pathlib import Path


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("job", type=Path, metavar="JOB")
    command.add_argument(
        "other", type=Path, metavar="PACKED", help="what was packed from it, and proofed since"
    )
    command.add_argument(
        "--conflicts", choices=("here", "there"),
        help="what counts where both have changed the same (nothing is written then)",
    )  # fmt: skip


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.merging import merge

    return merge(options)
