"""The options of ``tamarind video``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path


def add_video_options(video: argparse.ArgumentParser, time: Callable[[str], int]) -> None:
    """``time`` reads a moment of the recording."""
    video.add_argument(
        "media", nargs="?", type=Path, metavar="MEDIA", help="a video, a sound file, or a job"
    )
    video.add_argument(
        "--captions",
        nargs="+",
        type=Path,
        default=(),
        metavar="FILE",
        help="caption files; drawn, a second one stands below the first",
    )
    video.add_argument(
        "-o",
        "--output",
        type=Path,
        metavar="OUT",
        help="the video (.mp4, .mkv, .webm); of a job a folder",
    )
    video.add_argument("--overwrite", action="store_true", help="also what is there already")
    video.add_argument(
        "--look", metavar="NAME|FILE", help="how captions look (the job's, or slate)"
    )
    video.add_argument("--list-looks", action="store_true", help="tell which looks there are")
    video.add_argument(
        "--switchable",
        action="store_true",
        help="add captions as tracks that can be switched, picture and sound untouched",
    )
    video.add_argument("--alone", action="store_true", help="draw the first language only")
    video.add_argument(
        "--shape", choices=("asis", "square", "upright", "wide"), default="asis", help="(asis)"
    )
    video.add_argument(
        "--filling",
        choices=("cut", "colour", "blurred", "picture"),
        default="blurred",
        help="what becomes of a picture of another shape (blurred); picture is that of --picture",
    )
    video.add_argument(
        "--quality", choices=("small", "good", "best", "lossless"), default="good", help="(good)"
    )
    video.add_argument(
        "--container", choices=(".mp4", ".mkv", ".webm"), default=".mp4", help="of a job (.mp4)"
    )
    video.add_argument(
        "--backdrop",
        choices=("wave", "colour"),
        default="wave",
        help="behind the captions of a recording without a picture (wave)",
    )
    video.add_argument("--picture", type=Path, metavar="FILE", help="a picture behind them")
    video.add_argument("--title", metavar="TEXT", help="above them (the file's name)")
    video.add_argument("--from", dest="start", type=time, metavar="T", help="begin at T")
    video.add_argument("--to", dest="end", type=time, metavar="T", help="end at T")
    video.add_argument("--style", default="ordinary", metavar="NAME|FILE", help="house style")
    video.add_argument("--language", default="en", metavar="TAG", help="if FILE does not say (en)")
