"""Recognise recordings and write their texts."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.options import (
    DETECTIONS,
    QUALITIES,
    add_paper,
    add_verbatim,
    count,
    language,
    languages,
    moment,
    seconds,
)
from tamarind.formats.documents import WRITTEN
from tamarind.language.stylebook import SHIPPED


def add_options(command: argparse.ArgumentParser) -> None:
    """Add its options."""
    command.add_argument(
        "files", nargs="+", type=Path, metavar="FILE", help="files, folders, patterns"
    )
    command.add_argument(
        "-o", "--output", type=Path, default=Path(), metavar="DIR", help="where to (here)"
    )
    command.add_argument(
        "--job",
        type=Path,
        metavar="JOB",
        help="add the recordings with their drafts to this job, new or not; files only by --format",
    )
    command.add_argument(
        "--settings", type=Path, metavar="FILE", help="these options by name, as TOML or JSON"
    )
    command.add_argument(
        "--format",
        action="append",
        choices=tuple(WRITTEN),
        dest="formats",
        help="again for more (srt)",
    )
    command.add_argument(
        "--language",
        type=languages,
        default="detect",
        metavar="LANGUAGE|detect",
        help="spoken, by name or tag; “es,en” for both (detect)",
    )
    command.add_argument(
        "--to-english", action="store_true", help="write in English what is said in another"
    )
    command.add_argument(
        "--translate",
        action="append",
        type=language,
        metavar="LANGUAGE",
        help="also into this language, again for more",
    )
    _add_hearing_options(command)
    _add_batch_options(command)


def _add_hearing_options(command: argparse.ArgumentParser) -> None:
    """Add how recordings are transcribed."""
    command.add_argument(
        "--quality",
        choices=tuple(QUALITIES),
        default="fast",
        help="two: two recognisers; where they differ is marked as uncertain (fast)",
    )
    command.add_argument(
        "--speakers", default="auto", metavar="off|auto|N", help="how many, or detect them (auto)"
    )
    command.add_argument(
        "--names", action="append", metavar="OLD=NEW", help="“Speaker 1=Ann”, again for more"
    )
    command.add_argument(
        "--glossary", type=Path, metavar="FILE", help="names and terms, one a line, to listen for"
    )
    command.add_argument(
        "--track", type=count(1_000), default=1, metavar="N", help="which sound track, from 1 (1)"
    )
    command.add_argument(
        "--channel", choices=("mix", "left", "right"), default="mix", help="of stereo (mix)"
    )
    command.add_argument(
        "--recogniser",
        default="builtin",
        metavar="NAME|FOLDER",
        help="builtin, many, dictionary, or a folder with a model (builtin)",
    )
    command.add_argument(
        "--voice-detection",
        choices=tuple(DETECTIONS),
        default="normal",
        help="take only clear, or also faint sound for speech (normal)",
    )


def _add_batch_options(command: argparse.ArgumentParser) -> None:
    """Add what is said of sections, styles and the batch."""
    command.add_argument("--reduce-noise", action="store_true", help="remove hum and hiss first")
    command.add_argument(
        "--from", dest="start", type=moment, default=0, metavar="T", help="section: 1:02:03.5"
    )
    command.add_argument(
        "--until", dest="end", type=moment, default=None, metavar="T", help="or 90m or 5400s"
    )
    command.add_argument(
        "--style",
        metavar="NAME|FILE",
        help=f"house style, for captions: {', '.join(SHIPPED)}, or a file (ordinary)",
    )
    command.add_argument(
        "--empty-cues",
        type=seconds,
        metavar="S",
        help="recognise nothing: cues of at most S seconds where somebody speaks",
    )
    command.add_argument(
        "--workers",
        dest="workers",
        type=count(64),
        metavar="N",
        help="recordings side by side (as many as help here)",
    )
    command.add_argument(
        "--dask", metavar="ADDRESS", help="transcribe on the machines of a running Dask scheduler"
    )
    command.add_argument("--again", action="store_true", help="also what has its texts already")
    command.add_argument(
        "--overwrite",
        action="store_true",
        help="also files that Tamarind did not write, or that were changed since",
    )
    command.add_argument(
        "--progress",
        choices=("auto", "plain", "json"),
        default="auto",
        help="a line that is written over, lines, or JSON lines on standard output (auto)",
    )

    add_verbatim(command)
    add_paper(command)


def run(options: argparse.Namespace) -> int:
    """Do it; return the exit status."""
    from tamarind.cli.transcribe import transcribe

    return transcribe(options)
