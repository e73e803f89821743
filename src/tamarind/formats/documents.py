"""The documents that Tamarind writes and reads, by kind and suffix."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.formats import (
    everything,
    page,
    plaintext,
    srt,
    substation,
    table,
    ttml,
    vtt,
    wordprocessor,
)
from tamarind.formats.captionfile import FormatError, Mended
from tamarind.formats.decoding import Decoded, decode, told_of
from tamarind.formats.encoding import UTF8, Bytes, encoded
from tamarind.formats.paragraphs import PLAIN, TextOptions
from tamarind.formats.reading import Reading
from tamarind.formats.scripts import likely_language
from tamarind.formats.vtt import VttOptions
from tamarind.system.files import read_file, shown
from tamarind.system.log import note_failure
from tamarind.transcript.model import Transcript

LABELS = {
    "txt": "Plain transcript",
    "docx": "Word processor",
    "html": "Web page",
    "srt": "SRT captions",
    "vtt": "WebVTT captions",
    "ttml": "TTML captions",
    "csv": "Table of cues",
    "json": "JSON of everything",
}
"""Suffixes that are written, in the order in which they are offered."""

_READERS = {
    "srt": srt.read,
    "vtt": vtt.read,
    "json": everything.read,
    "txt": plaintext.read,
    "ttml": ttml.read,
    "dfxp": ttml.read,
    "xml": ttml.read,
    "ass": substation.read,
    "ssa": substation.read,
}
READ_SUFFIXES = tuple(_READERS)
_SIGNS = (
    (re.compile(r"WEBVTT"), "vtt"),
    (re.compile(r"\s*(?:<\?xml|<tt\b)"), "ttml"),
    (re.compile(r"\s*\[Script Info\]", re.IGNORECASE), "ass"),
    (re.compile(r"\s*\{\s*\""), "json"),
    (re.compile(r".{0,4000}?\d\s*-->\s*\d", re.DOTALL), "srt"),
)
CAPTION_SUFFIXES = ("srt", "vtt", "ttml", "dfxp", "ass", "ssa")
CAPTION_DOCUMENTS = ("srt", "vtt", "ttml")
TRANSCRIPT_DOCUMENTS = ("txt", "docx", "html")
LARGEST_FILE = 256 * 1024 * 1024


@dataclass(frozen=True, slots=True)
class Source:
    """What a document is made from besides its text; ``duration`` in ms, ``translations`` one text
    a cue for each language. ``part`` is from when to when it was heard, if not all of it was."""

    name: str
    duration: int
    translations: Mapping[str, Sequence[str | None]] = field(default_factory=dict)
    part: tuple[int, int] | None = None

    @property
    def length(self) -> int:
        """How long what was heard is (ms)."""
        return self.duration if self.part is None else max(self.part[1] - self.part[0], 0)


@dataclass(frozen=True, slots=True)
class Options:
    """How documents are written; ``language_names`` for the heads of columns, ``client`` and
    ``date`` for those of pages."""

    text: TextOptions = PLAIN
    vtt: VttOptions = vtt.PLAIN
    bytes: Bytes = UTF8
    side_by_side: bool = False
    language_names: Mapping[str, str] = field(default_factory=dict)
    client: str = ""
    date: str = ""


USUAL = Options()


@dataclass(frozen=True, slots=True)
class Read:
    """What was in a file, and what had to be put right to read it."""

    transcript: Transcript
    source: Source
    mended: Mended
    decoded: Decoded


def suffix_of(path: Path, known: Sequence[str] = tuple(LABELS)) -> str:
    """The format that a file name asks for; raises FormatError for one we do not know."""
    suffix = path.suffix.lower().lstrip(".")
    if suffix not in known:
        listed = ", ".join(f".{key}" for key in known)
        raise FormatError(f"“{path.name}” does not end in one of {listed}.")
    return suffix


def write(suffix: str, transcript: Transcript, source: Source, options: Options = USUAL) -> bytes:
    """The very bytes of a document; line breaks must be set in the cues."""
    beside = source.translations if options.side_by_side else {}
    title = Path(source.name).stem
    reading = Reading(
        title,
        source.length,
        options.text,
        beside,
        options.language_names,
        options.client,
        options.date,
    )
    if suffix == "docx":
        return wordprocessor.write(transcript, reading)
    if suffix == "srt":
        text = srt.write(transcript)
    elif suffix == "vtt":
        text = vtt.write(transcript, options.vtt)
    elif suffix == "txt":
        text = plaintext.write(transcript, options.text)
    elif suffix == "html":
        text = page.write(transcript, reading)
    elif suffix == "ttml":
        text = ttml.write(transcript)
    elif suffix == "csv":
        text = table.write(transcript, source.translations)
    elif suffix == "json":
        text = everything.write(transcript, source.name, source.duration, source.translations)
    else:
        raise FormatError(f"There is no document format “{suffix}”.")
    return encoded(text, how_written(suffix, options.bytes))


def how_written(suffix: str, wished: Bytes) -> Bytes:
    """The bytes that a format allows: WebVTT and what says its encoding itself is UTF-8."""
    if suffix in ("vtt", "json", "ttml", "html"):
        return Bytes("utf-8", wished.mark and suffix == "vtt", wished.crlf)
    return wished


def read(path: Path, language: str | None, encoding: str | None = None) -> Read:
    """Read a document; ``language`` counts where the file does not say (None: its script tells),
    and ``encoding`` is what it is in, if that is known.

    Raises FormatError when it cannot be read or makes no sense.
    """
    suffix = suffix_of(path, READ_SUFFIXES)
    try:
        data = read_file(path, LARGEST_FILE)
    except OSError as error:
        raise FormatError(f"“{shown(path.name)}” cannot be read: {error.strerror}.") from None
    except ValueError:
        raise FormatError("The file is larger than 256 MB: that is no caption file.") from None
    return read_bytes(data, suffix, path.name, language, encoding)


def read_bytes(
    data: bytes,
    suffix: str | None,
    name: str,
    language: str | None = None,
    encoding: str | None = None,
) -> Read:
    """As ``read``, for bytes from anywhere; without a ``suffix`` their first letters tell it."""
    decoded = decode(data, language or "", encoding)
    text = decoded.text
    suffix = suffix or kind_of(text)
    language = language or likely_language(text)
    mended = Mended()
    if not decoded.encoding.startswith("utf") and encoding is None:
        mended.note(f"The text was taken to be in {told_of(decoded)}.")
    try:
        transcript = _READERS[suffix](text, language, mended)
        if suffix == "json":
            return Read(transcript, Source(*everything.media_of(text)), mended, decoded)
    except FormatError:
        raise
    except Exception as error:
        # Whatever a file of chance leads a reader to, the person gets a sentence.
        note_failure(f"reading .{suffix}", error)
        raise FormatError(
            f"“{shown(name)}” is no {LABELS.get(suffix, suffix)} that makes sense"
            f" ({type(error).__name__})."
        ) from None
    end = max((cue.end for cue in transcript.cues), default=0)
    return Read(transcript, Source(Path(name).stem, end), mended, decoded)


def kind_of(text: str) -> str:
    """Of what kind a text is, by its first letters; plain text if by nothing else."""
    return next((suffix for sign, suffix in _SIGNS if sign.match(text)), "txt")
