"""Write the manual pages."""

from __future__ import annotations

import argparse
from pathlib import Path


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("folder", type=Path, metavar="DIR", help="where to")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.itself import manual

    return manual(options)
