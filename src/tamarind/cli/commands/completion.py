"""What a shell needs to complete commands."""

from __future__ import annotations

import argparse


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("shell", choices=("bash", "zsh", "tcsh"))


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.itself import completion

    return completion(options)
