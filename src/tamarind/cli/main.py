"""The ``tamarind`` command: its arguments, and which part of the program each one starts.

Nothing heavy is imported until it is needed, so that ``--help`` answers at once.
"""

from __future__ import annotations

import argparse
import contextlib
import difflib
import os
import re
import signal
import sys
import threading
from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from pathlib import Path

from tamarind import __version__
from tamarind.cli.manual import pages, subparsers_of
from tamarind.cli.output import leave_output, make_ready, speak, tell, told
from tamarind.system.log import (
    log_file,
    log_on_terminal,
    logger,
    note_failure,
    start_logging,
)

DONE = 0
BREACHES = 1
WRONG_USE = 2
SOME_FAILED = 3
INTERRUPTED = 130
ENDED = 143
FORMATS = ("srt", "vtt", "txt", "docx", "html", "ttml", "csv", "json")
ORDINARY_STYLE = "ordinary"
STYLES = (ORDINARY_STYLE, "teletext", "phone", "verbatim", "reading")
"""Those that ship, so that the help can name them without reading any."""

JOB_SUFFIX = ".tamarind"
SCREENS = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
COMMANDS = (
    "transcribe", "convert", "check", "translate", "retime", "desktop", "completion", "manual",
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


_READ = ".srt, .vtt, .ttml, .dfxp, .ass, .ssa, .txt or .json"
_WRITTEN = ".srt, .vtt, .ttml, .txt, .docx, .html, .csv or .json"


def program() -> int:
    """The command as a program of its own, which has its process for itself."""
    make_ready()
    start_logging()
    return main(is_alone=True)


def main(arguments: Sequence[str] | None = None, is_alone: bool = False) -> int:
    """Run the command; returns its exit status.

    If it ``is_alone`` in its process, that gives up the network for good.
    """
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    if arguments == ["--demo"]:
        return _window(arguments)
    if not arguments or (arguments[0] not in COMMANDS and not arguments[0].startswith("-")):
        return _window(arguments)
    parser = _parser()
    commands = {name: command for name, (_help, command) in subparsers_of(parser).items()}
    if arguments[0] in commands:
        from tamarind.cli.settings import SettingsError, read_settings, standing_settings

        own = commands[arguments[0]]
        try:
            own.set_defaults(**standing_settings(arguments[0], own))
            options = parser.parse_args(arguments)
            if getattr(options, "settings", None) is not None:
                own.set_defaults(**read_settings(options.settings, own))
        except SettingsError as error:
            return told(error, WRONG_USE)
    options = parser.parse_args(arguments)
    speak(quiet=options.quiet)
    if options.verbose:
        log_on_terminal()
    with _ended_politely():
        try:
            if is_alone and getattr(options, "dask", None) is None:
                _stay_here()
            return _command(options)
        except KeyboardInterrupt:
            return told("stopped", INTERRUPTED)
        except _Ended:
            return told("stopped", ENDED)
        except BrokenPipeError:
            # Nobody reads on, which is their right.
            leave_output()
            return DONE
        except Exception as error:
            note_failure(options.command, error)
            return told(
                f"something went wrong in Tamarind itself ({type(error).__name__});"
                f" the log says where: {log_file()}",
                SOME_FAILED,
            )


def _stay_here() -> None:
    """No command but one that was asked to work on a cluster needs a network, nor can have one."""
    from tamarind.batch.sandbox import deny_network

    try:
        deny_network()
    except OSError as error:
        logger.warning("this kernel cannot keep a command from the network (%s)", error)


class _Ended(BaseException):
    """The system asked the command to end."""


@contextlib.contextmanager
def _ended_politely() -> Iterator[None]:
    """Let a polite end come as an exception, so that workers and half-written files go."""

    def end(_number: int, _frame: object) -> None:
        raise _Ended

    if threading.current_thread() is not threading.main_thread():
        yield
        return
    before = {number: signal.signal(number, end) for number in (signal.SIGTERM, signal.SIGHUP)}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


def _command(options: argparse.Namespace) -> int:
    if options.command == "transcribe":
        from tamarind.cli.transcribe import transcribe

        return transcribe(options)
    if options.command == "check":
        from tamarind.cli.check import check

        return check(options)
    if options.command in ("completion", "manual"):
        return _about_itself(options)
    if options.command == "desktop":
        return _desktop(options)
    from tamarind.cli import text

    command: Callable[[argparse.Namespace], int] = getattr(text, options.command)
    return command(options)


def _about_itself(options: argparse.Namespace) -> int:
    """What a shell and a manual need to know of the command."""
    parser = _parser()
    if options.command == "completion":
        import shtab

        print(shtab.complete(parser, options.shell))
        return DONE
    try:
        options.folder.mkdir(parents=True, exist_ok=True)
        for name, text in pages(parser).items():
            (options.folder / name).write_text(text, encoding="utf-8")
    except OSError as error:
        return told(f"{options.folder}: {error.strerror}.", SOME_FAILED)
    return DONE


def _desktop(options: argparse.Namespace) -> int:
    """Put the launcher in place, or take it away."""
    from tamarind.launcher.install import install, remove, share_folder

    share = share_folder(options.for_all)
    manuals = pages(_parser())
    try:
        if options.remove:
            gone = remove(share, manuals)
            tell(f"taken away: {len(gone)} files below {share}." if gone else "nothing was there.")
        else:
            program = Path(sys.argv[0])
            is_program = program.name == "tamarind" and program.is_file()
            command = (
                [str(program.absolute())] if is_program else [sys.executable, "-m", "tamarind"]
            )
            written = install(share, command, manuals)
            tell(f"in place: {len(written)} files below {share}. Look for “Tamarind” in the menu.")
    except OSError as error:
        return told(f"{error.filename or share}: {error.strerror}.", SOME_FAILED)
    return DONE


def _window(arguments: list[str]) -> int:
    if arguments == ["--demo"]:
        from tamarind.job.demo import demo_job

        try:
            arguments = [str(demo_job())]
        except OSError as error:
            return told(f"the demo could not be put in place: {error.strerror}.", SOME_FAILED)
    if arguments and not _may_be_a_job(Path(arguments[0])):
        return told(_mistyped(arguments[0]), WRONG_USE)
    parser = argparse.ArgumentParser(prog="tamarind", usage="tamarind [JOB|RECORDING]")
    parser.add_argument("job", nargs="?", type=Path, metavar="JOB")
    options = parser.parse_args(arguments)
    if not any(os.environ.get(name) for name in SCREENS):
        return told("there is no screen here for the window; see tamarind --help.", SOME_FAILED)
    from tamarind.desktop.app import run

    status: int = run(options.job)
    return status


def _may_be_a_job(path: Path) -> bool:
    """Whether a path is there, or may be that of a job that is to be made."""
    return os.path.lexists(path) or path.suffix == JOB_SUFFIX or len(path.parts) > 1


def _mistyped(word: str) -> str:
    """What to say of a word that is neither a command nor a file."""
    close = difflib.get_close_matches(word, COMMANDS, 1, 0.6)
    meant = f" Did you mean “tamarind {close[0]}”?" if close else ""
    return f"“{word}” is no command, and there is no such file.{meant}"


def _parser() -> argparse.ArgumentParser:
    """All that can be said to the command."""
    parser = argparse.ArgumentParser(
        prog="tamarind",
        usage="tamarind [JOB|RECORDING|--demo]\n"
        "       tamarind {transcribe,convert,check,translate,retime,desktop} ... (see below)",
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
        "--format", action="append", choices=FORMATS, dest="formats", help="again for more (srt)"
    )
    hear.add_argument("--language", default="en", metavar="TAG", help="spoken language (en)")
    hear.add_argument("--care", choices=("quick", "thorough"), default="quick", help="(quick)")
    hear.add_argument(
        "--speakers", default="off", metavar="off|auto|N", help="tell voices apart (off)"
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
        help="builtin, dictionary, or a folder with a model (builtin)",
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
        help=f"house style, for captions: {', '.join(STYLES)}, or a file",
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

    convert = commands.add_parser("convert", help="one format into another, by suffix")
    _add_files(convert)
    convert.add_argument("--language", metavar="TAG", help="if IN does not say (by its script)")
    convert.add_argument("--style", metavar="NAME|FILE", help=f"house style: {', '.join(STYLES)}")
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
        "--encoding",
        type=_encoding,
        default="utf-8",
        metavar="NAME",
        help="in which it will be written (utf-8)",
    )
    _add_encoding_of_in(check)

    translate = commands.add_parser("translate", help="put a text into another language")
    _add_files(translate)
    translate.add_argument("--to", required=True, metavar="TAG", help="language, such as es")
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

    place = commands.add_parser("desktop", help="a launcher, icons and file types for the desktop")
    which = place.add_mutually_exclusive_group(required=True)
    which.add_argument("--install", action="store_true", help="put them in place")
    which.add_argument("--remove", action="store_true", help="take them away")
    place.add_argument("--for-all", action="store_true", help="for everybody on this computer")
    complete = commands.add_parser("completion", help="what a shell needs to complete commands")
    complete.add_argument("shell", choices=("bash", "zsh", "tcsh"))
    manual = commands.add_parser("manual", help="write the manual pages")
    manual.add_argument("folder", type=Path, metavar="DIR", help="where to")
    for command in (hear, convert, check, translate, retime, place, complete, manual):
        command.add_argument("-q", "--quiet", action="store_true", help="say only what failed")
        command.add_argument("-v", "--verbose", action="store_true", help="say also what is noted")
    return parser


def _add_files(command: argparse.ArgumentParser) -> None:
    """The options of all commands that make files of files."""
    command.add_argument(
        "paths",
        nargs="+",
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
    command.add_argument("--format", choices=FORMATS, help="what to make of each text")
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
