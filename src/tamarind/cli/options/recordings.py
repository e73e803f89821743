"""The options of the commands that need a recording beside its text."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options.shared import READ_SUFFIXES, count, frame_rate
from tamarind.job.excerptkinds import KINDS, USUAL_START
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED
from tamarind.speech.hearingoptions import MOST_VOICES


def add_chapters(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind chapters``."""
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
    command.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")


def add_speakers(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind speakers``."""
    command.add_argument("path", type=Path, metavar="IN", help=f"{READ_SUFFIXES}, or a job")
    command.add_argument("--sound", type=Path, metavar="FILE", help="in which the text is said")
    command.add_argument(
        "--count", type=count(MOST_VOICES), metavar="N", help="how many there are (detect)"
    )
    command.add_argument("--recording", metavar="NAME", help="of a job only this one (all)")
    command.add_argument(
        "-o", "--output", type=Path, metavar="OUT", help="where to (IN, with a copy beside it)"
    )
    command.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")


def add_excerpts(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind excerpts``."""
    command.add_argument("job", type=Path, metavar="JOB")
    command.add_argument(
        "-o", "--output", type=Path, metavar="DIR", help="where to (they are listed)"
    )
    command.add_argument(
        "--format", action="append", choices=KINDS, help="of what is written; several times (wav)"
    )
    command.add_argument(
        "--tag", action="append", default=[], help="only with this tag, or another"
    )
    command.add_argument("--words", default="", help="only those in which these words come up")
    command.add_argument("--joined", action="store_true", help="one file in place of one for each")
    command.add_argument("--burn", action="store_true", help="draw captions on videos")
    command.add_argument("--look", default="", metavar="LOOK", help="of those (as in the job)")
    command.add_argument(
        "--frame-rate", type=frame_rate, metavar="R",
        help="of edit lists, as 25 or 24000/1001 (that of the picture)",
    )  # fmt: skip
    command.add_argument(
        "--timecode", default=USUAL_START, metavar="T",
        help=f"where edit lists begin ({USUAL_START})",
    )  # fmt: skip
    command.add_argument("--overwrite", action="store_true", help="also what is there already")


def add_page(command: argparse.ArgumentParser) -> None:
    """Those of ``tamarind page``."""
    command.add_argument("media", type=Path, metavar="MEDIA", help="a recording, or a job")
    command.add_argument(
        "--captions", action="append", type=Path, default=[], metavar="FILE",
        help=f"{READ_SUFFIXES}; several times for several languages, that of the recording first",
    )  # fmt: skip
    command.add_argument("-o", "--output", type=Path, metavar="DIR", required=True, help="where to")
    command.add_argument("--title", default="", help="of the page (the name of the recording)")
    command.add_argument(
        "--style", default=ORDINARY_STYLE, metavar="NAME|FILE",
        help=f"house style: {', '.join(SHIPPED)}, or a file",
    )  # fmt: skip
    command.add_argument("--single", action="store_true", help="sound within the page: one file")
    command.add_argument("--overwrite", action="store_true", help="also what is there already")
