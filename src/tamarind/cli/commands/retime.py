"""Shift or stretch all times of captions."""

from __future__ import annotations

import argparse
import re

from tamarind.cli.options import add_encoding_of_in, add_files, factor, frame_rate, language, shift


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    add_files(command)
    # "-1:30" is a time, and no option.
    command._negative_number_matcher = re.compile(r"-[\d:.]+")
    command.add_argument(
        "--shift", type=shift, default=0, metavar="T", help="later by T, or with - earlier (0)"
    )
    command.add_argument(
        "--stretch", type=factor, default=1.0, metavar="F", help="all times by a factor (1)"
    )
    for name, help_text in (
        ("--from-rate", "frames a second for which the times were made"),
        ("--to-rate", "frames a second at which the picture runs, as 25 or 24000/1001"),
    ):
        command.add_argument(name, type=frame_rate, metavar="R", help=help_text)
    command.add_argument("--language", type=language, metavar="LANGUAGE", help="if IN does not say")
    add_encoding_of_in(command)


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.text import retime

    return retime(options)
