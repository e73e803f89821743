"""A launcher, icons and file types for the desktop."""

from __future__ import annotations

import argparse


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    which = command.add_mutually_exclusive_group(required=True)
    which.add_argument("--install", action="store_true", help="put them in place")
    which.add_argument("--remove", action="store_true", help="take them away")
    command.add_argument("--for-all", action="store_true", help="for all users of this computer")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.itself import desktop

    return desktop(options)
