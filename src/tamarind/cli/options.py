"""Options that several commands share, and parsing their values."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

from tamarind.formats.broadcast.smpte import CALLED
from tamarind.formats.documents import READ, WRITTEN
from tamarind.language.housestyle import Verbatim
from tamarind.speech.hearingoptions import Care, Sensitivity

READ_SUFFIXES, WRITTEN_SUFFIXES = (
    f"{', '.join(f'.{suffix}' for suffix in known[:-1])} or .{known[-1]}"
    for known in (tuple(READ), tuple(WRITTEN))
)


DETECT = "detect"
QUALITIES = {"fast": Care.QUICK, "thorough": Care.THOROUGH, "two": Care.DOUBLE}
DETECTIONS = {
    "normal": Sensitivity.ORDINARY,
    "sensitive": Sensitivity.FAINT,
    "strict": Sensitivity.CLEAR,
}


def add_files(command: argparse.ArgumentParser, at_least: str = "+") -> None:
    """Add the options of all commands that make files of files."""
    command.add_argument(
        "paths",
        nargs=at_least,
        type=Path,
        metavar="IN",
        help=f"{READ_SUFFIXES}; files, folders, patterns, or - for standard input;"
        " last OUT, without -o",
    )
    command.add_argument(
        "-o",
        "--output",
        type=Path,
        metavar="OUT",
        help=f"{WRITTEN_SUFFIXES}; with --format a folder, - is standard output",
    )
    command.add_argument(
        "--format",
        action="append",
        default=[],
        choices=tuple(WRITTEN),
        dest="formats",
        help="what to make of each text; again for more",
    )
    command.add_argument("--overwrite", action="store_true", help="replace existing files")


def shift(text: str) -> int:
    back = text.startswith("-")
    return (-1 if back else 1) * moment(text.lstrip("+-"))


def factor(text: str) -> float:
    try:
        factor = float(text)
    except ValueError:
        factor = 0.0
    if not 0.01 <= factor <= 100:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number from 0.01 to 100.")
    return factor


def frame_rate(text: str) -> Fraction:
    common = {"23.976": Fraction(24000, 1001), "23.98": Fraction(24000, 1001),
              "29.97": Fraction(30000, 1001), "59.94": Fraction(60000, 1001)}  # fmt: skip
    try:
        rate = common.get(text) or Fraction(text)
    except (ValueError, ZeroDivisionError):
        rate = Fraction(0)
    if not 1 <= rate <= 1000:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number of frames a second.")
    return rate


def language(text: str) -> str:
    """Parse a language given by tag, or by name in English or in the language itself."""
    from tamarind.transcript.languages import tag_of

    tag = tag_of(text)
    if tag is None:
        raise argparse.ArgumentTypeError(
            f"Unknown language “{text[:40]}”: write its English name, or a tag such as es."
        )
    return tag


def languages(text: str) -> str:
    """Parse languages separated by commas, or the wish to detect."""
    if text in (DETECT, "find"):
        return DETECT
    return ",".join(language(one.strip()) for one in text.split(","))


def add_paper(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--line-numbers", action="store_true", help="and wide margins, in .docx and .odt"
    )
    command.add_argument(
        "--template", action="append", type=Path, default=[], metavar="FILE",
        help="a .docx or .odt file with {body}, {title}, {date}, {client} to write within",
    )  # fmt: skip
    command.add_argument("--title", default="", help="of documents (the file's name)")
    command.add_argument(
        "--field", action="append", type=field, default=[], dest="fields", metavar="NAME=VALUE",
        help="a header field of documents, such as “Case=12/26”; again for more",
    )  # fmt: skip
    add_client(command)


def field(text: str) -> tuple[str, str]:
    """Parse a header field."""
    name, equals, value = text.partition("=")
    if not name.strip() or not equals:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is no field: write it as Case=12/26.")
    return " ".join(name.split()), " ".join(value.split())


def add_verbatim(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--verbatim", choices=[one.value for one in Verbatim],
        help="how much of what is said transcripts have (as the style)",
    )  # fmt: skip


def add_client(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--client", default="", metavar="NAME|FILE",
        help="a client, who sets what is not said otherwise; or only the name for documents",
    )  # fmt: skip


def add_timecodes(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--timecode",
        metavar="HH:MM:SS:FF",
        help="what the first frame is called, in files with timecodes (as IN says, 00:00:00:00)",
    )
    command.add_argument(
        "--frame-rate",
        choices=tuple(CALLED),
        help="by which such files count (as in IN; SCC 29.97 drop, STL 25)",
    )


def add_encoding_of_in(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--from-encoding",
        type=encoding,
        metavar="NAME",
        help="of IN, such as cp1251 or shift-jis (told from its bytes)",
    )


def encoding(text: str) -> str:
    from tamarind.formats.decoding import known_encoding

    found = known_encoding(text)
    if found is None:
        raise argparse.ArgumentTypeError(f"there is no encoding “{text[:40]}” here.")
    return found


def count(most: int) -> Callable[[str], int]:
    """Return a parser of whole numbers from 1 on."""

    def read(text: str) -> int:
        if not text.isdecimal() or len(text) > 9 or not 1 <= int(text) <= most:
            raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number from 1 to {most}.")
        return int(text)

    return read


def seconds(text: str) -> float:
    try:
        seconds = float(text)
    except ValueError:
        seconds = 0.0
    if not 1 <= seconds <= 3_600:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number of seconds from 1 to 3600.")
    return seconds


def moment(text: str) -> int:
    from tamarind.formats.timecode import parse_time

    try:
        return parse_time(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(str(error)) from None
