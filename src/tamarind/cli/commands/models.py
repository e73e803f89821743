"""Larger models: list, download, remove."""

from __future__ import annotations

import argparse


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument(
        "act", nargs="?", choices=("list", "fetch", "remove", "measure"), default="list"
    )
    command.add_argument("name", nargs="?", metavar="NAME", help="as the list has it")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.models import models

    return models(options)
