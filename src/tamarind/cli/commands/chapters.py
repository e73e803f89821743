"""Chapters from the headings of a text or a job."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import READ_SUFFIXES, language


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument("path", type=Path, metavar="IN", help=f"{READ_SUFFIXES}, or a job")
    command.add_argument(
        "-o", "--output", type=Path, metavar="OUT", help="a file; of a job a folder (printed)"
    )
    command.add_argument(
        "--format", choices=("txt", "vtt"), default="txt", help="a list, or WebVTT (txt)"
    )
    command.add_argument(
        "--into", type=Path, metavar="MEDIA", help="write this recording with them as marks to OUT"
    )
    command.add_argument("--language", type=language, metavar="LANGUAGE", help="if IN does not say")


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.chapters import chapters

    return chapters(options)
