"""Write what each client of a job wants into a folder."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import add_client


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("job", type=Path, metavar="JOB")
    command.add_argument(
        "-o", "--output", type=Path, metavar="DIR",
        help="each client gets a folder in it (that of the job)",
    )  # fmt: skip
    add_client(command)
    command.add_argument("--overwrite", action="store_true", help="replace existing files")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.delivering import deliver_job

    return deliver_job(options)
