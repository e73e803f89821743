"""Unpack a packed job into a folder, checking every file."""

from __future__ import annotations

import argparse
from pathlib import Path


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("packed", type=Path, metavar="FILE", help="made by tamarind pack")
    command.add_argument(
        "-o", "--output", type=Path, metavar="DIR",
        help="where a new folder for the job is made (beside FILE)",
    )  # fmt: skip


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.packing import unpacked

    return unpacked(options)
