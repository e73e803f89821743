"""Read and write the text files of a command: many, in folders, on standard input and output."""

from __future__ import annotations

import argparse
import contextlib
import sys
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from tamarind.cli.files import STREAM, Below, expanded, inside, texts_among, with_folder
from tamarind.cli.output import summary, tell, told
from tamarind.cli.statuses import DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.formats import documents
from tamarind.formats.broadcast.smpte import NTSC, PLAIN_TIMECODES, Timecodes
from tamarind.formats.captionfile import FormatError
from tamarind.formats.documents import WRITTEN
from tamarind.formats.filenames import fitting
from tamarind.formats.format import Lack, Options, Origin
from tamarind.formats.losses import in_words, losses
from tamarind.formats.timecode import clock
from tamarind.formats.twolanguages import beside
from tamarind.system.errors import ToldError
from tamarind.system.files import shown, write_whole
from tamarind.transcript.languages import name_of
from tamarind.transcript.model import Transcript
from tamarind.transcript.retiming import Retiming

MOST_TOLD = 5
"""Cues of a file that are told of in full."""


@dataclass(frozen=True, slots=True)
class TextFile:
    """A text to read and the file to make of it."""

    source: Path
    target: Path
    suffix: str


Rewrite = Callable[[Transcript, TextFile], Transcript]


def read_text(path: Path, options: argparse.Namespace) -> documents.Read:
    """Read a text file, or standard input, whose format its first characters tell. Raises
    FormatError."""
    if path != STREAM:
        return documents.read(path, options.language, options.from_encoding)
    data = sys.stdin.buffer.read(documents.LARGEST_FILE + 1)
    if len(data) > documents.LARGEST_FILE:
        raise FormatError("Standard input holds more than 256 MB: that is no caption file.")
    return documents.read_bytes(data, None, "-", options.language, options.from_encoding)


def readable(named: Sequence[Path], more: Sequence[str] = ()) -> list[Below]:
    """Return the text files that are named, in folders, or match patterns. Raises UseError."""
    suffixes = (*documents.READ, *more)
    try:
        return expanded(named, partial(_texts_in, suffixes=suffixes), "text or captions")
    except ValueError as error:
        raise UseError(str(error)) from None


def _texts_in(paths: Sequence[Path], suffixes: Sequence[str]) -> list[Path]:
    """Return the texts among paths and in folders. Texts for reading beside captions are taken for
    notes and left out, which is told."""
    found = texts_among(paths, suffixes)
    if not any(documents.is_captions(one.suffix.lower().lstrip(".")) for one in found):
        return found
    notes = [one for one in found if documents.is_script(one)]
    for one in notes:
        tell(f"{shown(str(one))} is a text beside captions: left out; name it to have it read.")
    return [one for one in found if one not in notes]


def planned(named: Sequence[Path], output: Path, suffixes: Sequence[str]) -> list[TextFile]:
    """Return each text with the files to make of it. Raises UseError.

    With ``suffixes`` the output is a folder, in which files keep the way that they had.
    """
    texts = readable(named)
    suffixes = tuple(dict.fromkeys(suffixes))
    if output == STREAM or not suffixes:
        if len(texts) > 1:
            raise UseError("Several texts need --format, and -o with a folder.")
        if output == STREAM and len(suffixes) != 1:
            raise UseError("Standard output needs one --format.")
        try:
            wanted = suffixes[0] if suffixes else documents.suffix_of(output)
        except FormatError as error:
            raise UseError(str(error)) from None
        return [TextFile(texts[0][0], output, wanted)]
    stems = [inside(path, folder) / _stem(path) for path, folder in texts]
    counts = Counter(stems)
    names: list[Path] = []
    for (path, _folder), stem in zip(texts, stems, strict=True):
        of_kind = stem.with_name(f"{stem.name} ({path.suffix.lstrip('.')})")
        offered = [stem, of_kind, with_folder(stem, path)]
        free = [one for one in offered[counts[stem] > 1 :] if one not in names]
        number = len(names)
        names.append(free[0] if free else stem.with_name(f"{stem.name}-{number}"))
    return [
        TextFile(path, output / name.with_name(fitting(name.name, suffix)), suffix)
        for (path, _folder), name in zip(texts, names, strict=True)
        for suffix in suffixes
    ]


def through(
    files: Sequence[TextFile],
    change: Rewrite,
    ways: Options,
    options: argparse.Namespace,
    second: Transcript | None = None,
) -> int:
    """Read, change and write each of the files, documents with a ``second`` language beside; return
    the exit status."""
    status = DONE
    told_of: set[Path] = set()
    written: list[Path] = []
    for file in files:
        try:
            if _one(file, change, ways, options, file.source not in told_of, second):
                written.append(file.target)
            else:
                status = SOME_FAILED
            told_of.add(file.source)
        except ToldError as error:
            status = told(_named(file, error) if len(files) > 1 else error, SOME_FAILED)
        except OSError as error:
            target = shown(str(file.target))
            status = told(f"{target}: could not be written: {error.strerror}.", SOME_FAILED)
    if len(files) > 1:
        tell(summary(written, len(files) - len(written)))
    return status


def _one(
    file: TextFile,
    change: Rewrite,
    ways: Options,
    options: argparse.Namespace,
    tells: bool,
    second: Transcript | None,
) -> bool:
    """Read, change and write one file; return whether it was written. With ``tells``, say what was
    repaired."""
    if file.target != STREAM:
        with contextlib.suppress(OSError):
            if file.source != STREAM and file.source.samefile(file.target):
                return not told(f"{file.target} is the file itself: name another one.", WRONG_USE)
        if file.target.exists() and not options.overwrite:
            target = shown(str(file.target))
            told(f"{target} already exists; --overwrite replaces it.", SOME_FAILED)
            return False
    read = read_text(file.source, options)
    for sentence in read.repairs if tells else ():
        tell(f"{shown(str(file.source))}: {sentence}")
    dropped = read.repairs.dropped + losses(read.transcript, file.suffix)
    text = change(_from_its_start(read, options), file)
    if dropped:
        tell(f"{shown(str(file.source))}: left out: {in_words(dropped)}.")
        if getattr(options, "strict", False):
            target = shown(str(file.target))
            told(f"{target}: not written, as --strict wants all to be kept.", SOME_FAILED)
            return False
    if getattr(options, "timecode", None) is None and getattr(options, "frame_rate", None) is None:
        ways = replace(ways, timecodes=read.timecodes)
    lacks = WRITTEN[file.suffix].lacks
    lacking = list(lacks(text, ways)) if lacks is not None else []
    _tell_lacks(file, lacking)
    if lacking and getattr(options, "strict", False):
        target = shown(str(file.target))
        told(f"{target}: not written, as --strict wants all to be kept.", SOME_FAILED)
        return False
    data = _bytes_of(file, text, read.source, ways, second)
    if file.target == STREAM:
        sys.stdout.buffer.write(data)
        sys.stdout.buffer.flush()
        return True
    file.target.parent.mkdir(parents=True, exist_ok=True)
    write_whole(file.target, data)
    return True


def _bytes_of(
    file: TextFile, text: Transcript, source: Origin, ways: Options, second: Transcript | None
) -> bytes:
    if second is not None and text.cues and not documents.is_captions(file.suffix):
        names = {tag: name_of(tag) for tag in (text.language, second.language)}
        ways = replace(ways, side_by_side=True, language_names=names)
        source = replace(source, translations={second.language: beside(text, second)})
    return documents.write(file.suffix, text, source, ways)


def _from_its_start(read: documents.Read, options: argparse.Namespace) -> Transcript:
    """Return a text whose file does not say what its first frame is called, counted from the frame
    that --timecode names."""
    asked = timecodes_in(options) if getattr(options, "timecode", None) else None
    if asked is None or read.timecodes.rate is None:
        return read.transcript
    frames = replace(asked, rate=read.timecodes.rate, drops=read.timecodes.drops).at(NTSC)
    begun = round(frames.first / frames.rate * 1000)
    first = min((cue.start for cue in read.transcript.cues), default=0)
    told = read.timecodes.start != PLAIN_TIMECODES.start
    return read.transcript if told or first < begun else Retiming(-begun).of(read.transcript)[0]


def _tell_lacks(file: TextFile, lacking: Sequence[Lack]) -> None:
    """Tell what the format cannot hold of the cues, the first ones in full."""
    source = shown(str(file.source))
    for lack in lacking[:MOST_TOLD]:
        tell(f"{source}: the cue at {clock(lack.time)}: {lack.reason}.")
    if len(lacking) > MOST_TOLD:
        more = len(lacking) - MOST_TOLD
        tell(f"{source}: and {more} more; “tamarind check --for {file.suffix}” lists them all.")


def timecodes_in(options: argparse.Namespace) -> Timecodes | None:
    """Return the timecodes that were asked for, or None. Raises UseError."""
    if options.timecode is None and options.frame_rate is None:
        return None
    try:
        return Timecodes.called(options.timecode or PLAIN_TIMECODES.start, options.frame_rate or "")
    except ValueError as error:
        raise UseError(f"--timecode: {error}") from None


def _named(file: TextFile, error: Exception) -> str:
    return f"{shown(str(file.source))}: {error}"


def _stem(path: Path) -> str:
    return "text" if path == STREAM else path.stem


def in_and_out(options: argparse.Namespace) -> tuple[list[Path], Path]:
    """Return the inputs and the output; without -o the last one named. Raises UseError."""
    paths = list(options.paths)
    if options.output is not None:
        return paths, options.output
    if len(paths) < 2:
        raise UseError("Where to? Name OUT behind IN, or with -o.")
    return paths[:-1], paths[-1]
