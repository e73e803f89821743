"""Draw captions on a video, or add them as tracks."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import language, moment


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument(
        "media", nargs="?", type=Path, metavar="MEDIA", help="a video, a sound file, or a job"
    )
    command.add_argument(
        "--captions",
        nargs="+",
        type=Path,
        default=(),
        metavar="FILE",
        help="caption files; drawn, a second one stands below the first",
    )
    command.add_argument(
        "-o",
        "--output",
        type=Path,
        metavar="OUT",
        help="the video (.mp4, .mkv, .webm); of a job a folder",
    )
    command.add_argument("--overwrite", action="store_true", help="replace existing files")
    command.add_argument(
        "--caption-style", metavar="NAME|FILE", help="caption style (the job's, or slate)"
    )
    _add_more_options(command)


def _add_more_options(command: argparse.ArgumentParser) -> None:
    """Add what is drawn, and what becomes of the picture."""
    command.add_argument(
        "--list-caption-styles", action="store_true", help="list the caption styles"
    )
    command.add_argument(
        "--switchable",
        action="store_true",
        help="add captions as tracks that can be switched, picture and sound untouched",
    )
    command.add_argument("--alone", action="store_true", help="draw the first language only")
    command.add_argument(
        "--shape", choices=("asis", "square", "upright", "wide"), default="asis", help="(asis)"
    )
    command.add_argument(
        "--filling",
        choices=("cut", "colour", "blurred", "picture"),
        default="blurred",
        help="what becomes of a picture of another shape (blurred); picture is that of --picture",
    )
    command.add_argument(
        "--quality", choices=("small", "good", "best", "lossless"), default="good", help="(good)"
    )
    command.add_argument(
        "--container", choices=(".mp4", ".mkv", ".webm"), default=".mp4", help="of a job (.mp4)"
    )
    command.add_argument(
        "--backdrop",
        choices=("wave", "colour"),
        default="wave",
        help="behind the captions of a recording without a picture (wave)",
    )
    command.add_argument("--picture", type=Path, metavar="FILE", help="a picture behind them")
    command.add_argument("--title", metavar="TEXT", help="above them (the file's name)")
    command.add_argument("--from", dest="start", type=moment, metavar="T", help="begin at T")
    command.add_argument("--until", dest="end", type=moment, metavar="T", help="end at T")
    command.add_argument("--style", default="ordinary", metavar="NAME|FILE", help="house style")
    command.add_argument(
        "--language",
        type=language,
        default="en",
        metavar="LANGUAGE",
        help="if FILE does not say (en)",
    )


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.video import video

    return video(options)
