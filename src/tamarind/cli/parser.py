"""The options of every command, and what the help says of them."""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

from tamarind import __version__
from tamarind.cli.videooptions import add_video_options
from tamarind.formats.broadcast.smpte import CALLED
from tamarind.formats.documents import READ, WRITTEN
from tamarind.job.excerptkinds import KINDS, USUAL_START
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED
from tamarind.speech.hearingoptions import MOST_VOICES
from tamarind.system.log import LEVELS

COMMANDS = (
    "transcribe", "convert", "check", "translate", "retime", "video", "chapters", "excerpts",
    "speakers", "page", "models", "desktop", "completion", "manual",
)  # fmt: skip

_EPILOG = """
exit status: 0 all done, 3 some could not be done (each with a reason), 2 wrong use,
  1 (check) a rule that must hold is broken, 130 and 143 stopped by Ctrl+C or the system

examples:
  tamarind transcribe interview.m4a lecture.mp4 -o texts --format srt --format txt
  tamarind transcribe talks/ "archive/**/*.mp3" -o texts --settings client.toml --jobs 2
  tamarind convert captions.srt captions.vtt
  tamarind convert captions/ --format vtt -o webvtt
  tamarind check captions.srt --style teletext
  tamarind check captions/ --mend gap --dry-run
  tamarind translate captions.srt --to es -o captions.es.srt
  tamarind retime captions.srt later.srt --shift 1.5
  tamarind my-work.tamarind
"""

_READ, _WRITTEN = (
    f"{', '.join(f'.{suffix}' for suffix in known[:-1])} or .{known[-1]}"
    for known in (tuple(READ), tuple(WRITTEN))
)


def make_parser() -> argparse.ArgumentParser:
    """All that can be said to the command."""
    parser = argparse.ArgumentParser(
        prog="tamarind",
        usage="tamarind [JOB|RECORDING|--demo]\n"
        "       tamarind {transcribe,convert,check,translate,video,models,...} ... (see below)",
        description="Recorded speech becomes proofed, timed text, on this computer alone. "
        "With the path of a job or of a recording, or nothing, it opens the window.",
        epilog=_EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    parser.add_argument("--demo", action="store_true", help="open a demo job in the window")
    parser.add_argument("--version", action="version", version=f"tamarind {__version__}")
    commands = parser.add_subparsers(
        dest="command", required=True, title="without a window", prog="tamarind"
    )

    hear = commands.add_parser("transcribe", help="recognise recordings and write their texts")
    hear.add_argument(
        "files", nargs="+", type=Path, metavar="FILE", help="files, folders, patterns"
    )
    hear.add_argument(
        "-o", "--output", type=Path, default=Path(), metavar="DIR", help="where to (here)"
    )
    hear.add_argument(
        "--settings", type=Path, metavar="FILE", help="these options by name, as TOML or JSON"
    )
    hear.add_argument(
        "--format",
        action="append",
        choices=tuple(WRITTEN),
        dest="formats",
        help="again for more (srt)",
    )
    hear.add_argument(
        "--language",
        default="find",
        metavar="TAG|find",
        help="spoken; “es,en” for both (found out)",
    )
    hear.add_argument(
        "--to-english", action="store_true", help="write in English what is said in another"
    )
    hear.add_argument(
        "--translate",
        action="append",
        metavar="TAG",
        help="also into this language, again for more",
    )
    hear.add_argument(
        "--care",
        choices=("quick", "thorough", "double"),
        default="quick",
        help="double: by two recognisers, and where they differ is a doubt (quick)",
    )
    hear.add_argument(
        "--speakers", default="auto", metavar="off|auto|N", help="tell voices apart (auto)"
    )
    hear.add_argument(
        "--names", action="append", metavar="OLD=NEW", help="“Voice 1=Ann”, again for more"
    )
    hear.add_argument(
        "--glossary", type=Path, metavar="FILE", help="names and terms, one a line, to listen for"
    )
    hear.add_argument(
        "--track", type=_count(1_000), default=1, metavar="N", help="which sound track, from 1 (1)"
    )
    hear.add_argument(
        "--channel", choices=("mix", "left", "right"), default="mix", help="of stereo (mix)"
    )
    hear.add_argument(
        "--recogniser",
        default="builtin",
        metavar="NAME|FOLDER",
        help="builtin, many, dictionary, or a folder with a model (builtin)",
    )
    hear.add_argument(
        "--sensitivity",
        choices=("clear", "ordinary", "faint"),
        default="ordinary",
        help="take only clear, or also faint sound for speech (ordinary)",
    )
    hear.add_argument("--clean", action="store_true", help="take out hum and hiss first")
    hear.add_argument("--from", dest="start", type=_time, default=0, metavar="T", help="1:02:03.5")
    hear.add_argument("--to", dest="end", type=_time, default=None, metavar="T", help="or seconds")
    hear.add_argument(
        "--style",
        default=ORDINARY_STYLE,
        metavar="NAME|FILE",
        help=f"house style, for captions: {', '.join(SHIPPED)}, or a file",
    )
    hear.add_argument(
        "--empty-cues",
        type=_seconds,
        metavar="S",
        help="recognise nothing: cues of at most S seconds where somebody speaks",
    )
    hear.add_argument(
        "--jobs",
        type=_count(64),
        metavar="N",
        help="recordings side by side (as many as help here)",
    )
    hear.add_argument(
        "--dask", metavar="ADDRESS", help="hear on the machines of a running Dask scheduler"
    )
    hear.add_argument("--again", action="store_true", help="also what has its texts already")
    hear.add_argument(
        "--overwrite",
        action="store_true",
        help="also files that Tamarind did not write, or that were changed since",
    )
    hear.add_argument(
        "--progress",
        choices=("auto", "plain", "json"),
        default="auto",
        help="a line that is written over, lines, or JSON lines on standard output (auto)",
    )

    _add_paper(hear)
    convert = commands.add_parser("convert", help="one format into another, by suffix")
    _add_files(convert)
    convert.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    convert.add_argument("--style", metavar="NAME|FILE", help=f"house style: {', '.join(SHIPPED)}")
    convert.add_argument(
        "--names", action="append", metavar="OLD=NEW", help="“Voice 1=Ann”, again for more"
    )
    convert.add_argument(
        "--strict", action="store_true", help="write nothing that loses any styling"
    )
    convert.add_argument(
        "--lay-out", action="store_true", help="cut the captions anew by the house style"
    )
    convert.add_argument(
        "--roll-up", type=_count(20), metavar="N", help="each line pushes the last up, N at a time"
    )
    convert.add_argument(
        "--encoding", type=_encoding, default="utf-8", metavar="NAME", help="of OUT (utf-8)"
    )
    _add_encoding_of_in(convert)
    convert.add_argument("--bom", action="store_true", help="begin OUT with a byte-order mark")
    convert.add_argument("--crlf", action="store_true", help="line ends of Windows in OUT")
    convert.add_argument(
        "--sound", type=Path, metavar="FILE", help="find the words of a plain text in this sound"
    )
    convert.add_argument(
        "--marks",
        action="store_true",
        help="marks and capitals for a text that has none, from --sound or from its pauses",
    )
    convert.add_argument("--word-times", action="store_true", help="of each word, in WebVTT")
    convert.add_argument(
        "--look", metavar="NAME|FILE", help="how captions look, in files that can say it"
    )
    convert.add_argument(
        "--paint-on", action="store_true", help="SCC whose captions are painted as they are said"
    )
    _add_paper(convert)
    _add_timecodes(convert)

    check = commands.add_parser("check", help="what in a text or job breaks a house style")
    check.add_argument(
        "paths",
        nargs="+",
        type=Path,
        metavar="IN",
        help=f"{_READ}, or a job; files, folders, patterns, or - for standard input",
    )
    check.add_argument("--style", metavar="NAME|FILE", help="house style (a job's own, ordinary)")
    check.add_argument(
        "--mend",
        action="append",
        metavar="KIND",
        help="put right what a kind of finding can by itself, such as gap, spelling, or all",
    )
    check.add_argument("--dry-run", action="store_true", help="with --mend: only show it")
    check.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    check.add_argument("--glossary", type=Path, metavar="FILE", help="terms that are right")
    check.add_argument(
        "--sound",
        type=Path,
        nargs="?",
        const=Path(),
        metavar="FILE",
        help="hold the text against this sound, or those of the job",
    )
    check.add_argument("--json", action="store_true", help="findings as JSON")
    check.add_argument(
        "--for",
        action="append",
        choices=tuple(suffix for suffix, one in WRITTEN.items() if one.lacks is not None),
        dest="files",
        help="also what such a file cannot hold; again for more",
    )
    _add_timecodes(check)
    check.add_argument(
        "--encoding",
        type=_encoding,
        default="utf-8",
        metavar="NAME",
        help="in which it will be written (utf-8)",
    )
    _add_encoding_of_in(check)

    translate = commands.add_parser("translate", help="put texts into other languages")
    _add_files(translate, at_least="*")
    translate.add_argument(
        "--to", action="append", metavar="TAG", help="language, such as es; again for more"
    )
    translate.add_argument("--list", action="store_true", help="tell what translates what")
    translate.add_argument(
        "--add", type=Path, metavar="FOLDER|ZIP", help="take a translation model from now on"
    )
    translate.add_argument(
        "--fetch", metavar="PAIR", help="fetch the model of a pair, such as en-ca; “?” lists them"
    )
    translate.add_argument(
        "--glossary", type=Path, metavar="FILE", help="“term = translation” a line, or what stays"
    )
    translate.add_argument(
        "--memory", type=Path, metavar="FILE", help="sentences translated before, as TMX"
    )
    translate.add_argument(
        "--engine",
        metavar="NAME",
        help="one that the route goes over; “server” asks the server that you have named (best)",
    )
    translate.add_argument(
        "--by", metavar="ROUTE", help="direct, or the languages on the way, such as pt (best)"
    )
    translate.add_argument(
        "--style",
        metavar="NAME|FILE",
        help=f"house style of the translation: {', '.join(SHIPPED)}, or a file",
    )
    translate.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    _add_encoding_of_in(translate)

    retime = commands.add_parser("retime", help="shift or stretch all times of captions")
    _add_files(retime)
    # "-1:30" is a time, and no option.
    retime._negative_number_matcher = re.compile(r"-[\d:.]+")
    retime.add_argument(
        "--shift", type=_shift, default=0, metavar="T", help="later by T, or with - earlier (0)"
    )
    retime.add_argument(
        "--stretch", type=_factor, default=1.0, metavar="F", help="all times by a factor (1)"
    )
    for name, help_text in (
        ("--from-rate", "frames a second for which the times were made"),
        ("--to-rate", "frames a second at which the picture runs, as 25 or 24000/1001"),
    ):
        retime.add_argument(name, type=_frame_rate, metavar="R", help=help_text)
    retime.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    _add_encoding_of_in(retime)

    video = commands.add_parser("video", help="draw captions on a video, or add them as tracks")
    add_video_options(video, _time)
    marks = commands.add_parser("chapters", help="chapters from the headings of a text or a job")
    marks.add_argument("path", type=Path, metavar="IN", help=f"{_READ}, or a job")
    marks.add_argument(
        "-o", "--output", type=Path, metavar="OUT", help="a file; of a job a folder (printed)"
    )
    marks.add_argument(
        "--format", choices=("txt", "vtt"), default="txt", help="a list, or WebVTT (txt)"
    )
    marks.add_argument(
        "--into", type=Path, metavar="MEDIA", help="write this recording with them as marks to OUT"
    )
    marks.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    who = commands.add_parser("speakers", help="tell the speakers of a text or a job apart again")
    who.add_argument("path", type=Path, metavar="IN", help=f"{_READ}, or a job")
    who.add_argument("--sound", type=Path, metavar="FILE", help="in which the text is said")
    who.add_argument(
        "--count", type=_count(MOST_VOICES), metavar="N", help="how many there are (detect)"
    )
    who.add_argument("--recording", metavar="NAME", help="of a job only this one (all)")
    who.add_argument(
        "-o", "--output", type=Path, metavar="OUT", help="where to (IN, with a copy beside it)"
    )
    who.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    kept = commands.add_parser(
        "excerpts", help="list the excerpts of a job, or write them as files"
    )
    kept.add_argument("job", type=Path, metavar="JOB")
    kept.add_argument("-o", "--output", type=Path, metavar="DIR", help="where to (they are listed)")
    kept.add_argument(
        "--format", action="append", choices=KINDS, help="of what is written; several times (wav)"
    )
    kept.add_argument("--tag", action="append", default=[], help="only with this tag, or another")
    kept.add_argument("--words", default="", help="only those in which these words come up")
    kept.add_argument("--joined", action="store_true", help="one file in place of one for each")
    kept.add_argument("--burn", action="store_true", help="draw captions on videos")
    kept.add_argument("--look", default="", metavar="LOOK", help="of those (as in the job)")
    kept.add_argument(
        "--frame-rate", type=_frame_rate, metavar="R",
        help="of edit lists, as 25 or 24000/1001 (that of the picture)",
    )  # fmt: skip
    kept.add_argument(
        "--timecode", default=USUAL_START, metavar="T",
        help=f"where edit lists begin ({USUAL_START})",
    )  # fmt: skip
    kept.add_argument("--overwrite", action="store_true", help="also what is there already")
    page = commands.add_parser("page", help="a recording with its captions as a web page")
    page.add_argument("media", type=Path, metavar="MEDIA", help="a recording, or a job")
    page.add_argument(
        "--captions", action="append", type=Path, default=[], metavar="FILE",
        help=f"{_READ}; several times for several languages, that of the recording first",
    )  # fmt: skip
    page.add_argument("-o", "--output", type=Path, metavar="DIR", required=True, help="where to")
    page.add_argument("--title", default="", help="of the page (the name of the recording)")
    page.add_argument(
        "--style", default=ORDINARY_STYLE, metavar="NAME|FILE",
        help=f"house style: {', '.join(SHIPPED)}, or a file",
    )  # fmt: skip
    page.add_argument("--single", action="store_true", help="sound within the page: one file")
    page.add_argument("--overwrite", action="store_true", help="also what is there already")
    shelf = commands.add_parser("models", help="larger models: which there are, fetch, remove")
    shelf.add_argument(
        "act", nargs="?", choices=("list", "fetch", "remove", "measure"), default="list"
    )
    shelf.add_argument("name", nargs="?", metavar="NAME", help="as the list has it")
    place = commands.add_parser("desktop", help="a launcher, icons and file types for the desktop")
    which = place.add_mutually_exclusive_group(required=True)
    which.add_argument("--install", action="store_true", help="put them in place")
    which.add_argument("--remove", action="store_true", help="take them away")
    place.add_argument("--for-all", action="store_true", help="for everybody on this computer")
    complete = commands.add_parser("completion", help="what a shell needs to complete commands")
    complete.add_argument("shell", choices=("bash", "zsh", "tcsh"))
    manual = commands.add_parser("manual", help="write the manual pages")
    manual.add_argument("folder", type=Path, metavar="DIR", help="where to")
    for command in (
        hear, convert, check, translate, retime, video, marks, who, kept, page, shelf, place,
        complete, manual,
    ):  # fmt: skip
        command.add_argument("-q", "--quiet", action="store_true", help="say only what failed")
        command.add_argument("-v", "--verbose", action="store_true", help="say also what is noted")
        add_log_level(command)
    return parser


def add_log_level(command: argparse.ArgumentParser) -> None:
    """How much is noted in the log."""
    command.add_argument("--log-level", choices=LEVELS, help="how much to note in the log")


def _add_files(command: argparse.ArgumentParser, at_least: str = "+") -> None:
    """The options of all commands that make files of files."""
    command.add_argument(
        "paths",
        nargs=at_least,
        type=Path,
        metavar="IN",
        help=f"{_READ}; files, folders, patterns, or - for standard input; last OUT, without -o",
    )
    command.add_argument(
        "-o",
        "--output",
        type=Path,
        metavar="OUT",
        help=f"{_WRITTEN}; with --format a folder, - is standard output",
    )
    command.add_argument(
        "--format",
        action="append",
        default=[],
        choices=tuple(WRITTEN),
        dest="formats",
        help="what to make of each text; again for more",
    )
    command.add_argument(
        "--overwrite", action="store_true", help="also what is there already in the folder"
    )


def _shift(text: str) -> int:
    back = text.startswith("-")
    return (-1 if back else 1) * _time(text.lstrip("+-"))


def _factor(text: str) -> float:
    try:
        factor = float(text)
    except ValueError:
        factor = 0.0
    if not 0.01 <= factor <= 100:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number from 0.01 to 100.")
    return factor


def _frame_rate(text: str) -> Fraction:
    common = {"23.976": Fraction(24000, 1001), "23.98": Fraction(24000, 1001),
              "29.97": Fraction(30000, 1001), "59.94": Fraction(60000, 1001)}  # fmt: skip
    try:
        rate = common.get(text) or Fraction(text)
    except (ValueError, ZeroDivisionError):
        rate = Fraction(0)
    if not 1 <= rate <= 1000:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number of frames a second.")
    return rate


def _add_paper(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--line-numbers", action="store_true", help="and wide margins, in .docx and .odt"
    )
    command.add_argument(
        "--template", action="append", type=Path, default=[], metavar="FILE",
        help="a .docx or .odt file with {body}, {title}, {date}, {client} to write within",
    )  # fmt: skip
    command.add_argument("--client", default="", help="whose name documents bear")


def _add_timecodes(command: argparse.ArgumentParser) -> None:
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


def _add_encoding_of_in(command: argparse.ArgumentParser) -> None:
    command.add_argument(
        "--from-encoding",
        type=_encoding,
        metavar="NAME",
        help="of IN, such as cp1251 or shift-jis (told from its bytes)",
    )


def _encoding(text: str) -> str:
    from tamarind.formats.decoding import known_encoding

    found = known_encoding(text)
    if found is None:
        raise argparse.ArgumentTypeError(f"there is no encoding “{text[:40]}” here.")
    return found


def _count(most: int) -> Callable[[str], int]:
    """What reads a whole number from 1 on."""

    def read(text: str) -> int:
        if not text.isdecimal() or len(text) > 9 or not 1 <= int(text) <= most:
            raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number from 1 to {most}.")
        return int(text)

    return read


def _seconds(text: str) -> float:
    try:
        seconds = float(text)
    except ValueError:
        seconds = 0.0
    if not 1 <= seconds <= 3_600:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no number of seconds from 1 to 3600.")
    return seconds


def _time(text: str) -> int:
    from tamarind.formats.timecode import parse_time

    try:
        return parse_time(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(str(error)) from None
