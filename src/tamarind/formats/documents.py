"""The documents that Tamarind writes and reads, by suffix."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from tamarind.formats import everything, plaintext, srt, vtt
from tamarind.formats.captionfile import FormatError, decoded
from tamarind.formats.plaintext import TextOptions
from tamarind.transcript.model import Transcript

LABELS = {
    "txt": "Plain transcript",
    "srt": "SRT captions",
    "vtt": "WebVTT captions",
    "json": "JSON of everything",
}
"""Suffixes in the order in which they are offered."""

_READERS = {"srt": srt.read, "vtt": vtt.read, "json": everything.read, "txt": plaintext.read}
CAPTION_SUFFIXES = ("srt", "vtt")
LARGEST_FILE = 256 * 1024 * 1024


@dataclass(frozen=True, slots=True)
class Source:
    """What a document is made from besides its text; ``duration`` in ms."""

    name: str
    duration: int
    translations: Mapping[str, Sequence[str | None]] = field(default_factory=dict)


def suffix_of(path: Path) -> str:
    """The format that a file name asks for; raises FormatError for one we do not know."""
    suffix = path.suffix.lower().lstrip(".")
    if suffix not in LABELS:
        known = ", ".join(f".{key}" for key in LABELS)
        raise FormatError(f"“{path.name}” does not end in one of {known}.")
    return suffix


def write(
    suffix: str, transcript: Transcript, source: Source, options: TextOptions = plaintext.PLAIN
) -> str:
    """The very text of a document; line breaks must be set in the cues."""
    if suffix == "srt":
        return srt.write(transcript)
    if suffix == "vtt":
        return vtt.write(transcript)
    if suffix == "txt":
        return plaintext.write(transcript, options)
    if suffix == "json":
        return everything.write(transcript, source.name, source.duration, source.translations)
    raise FormatError(f"There is no document format “{suffix}”.")


def read(path: Path, language: str) -> tuple[Transcript, Source]:
    """Read a document; ``language`` counts where the file does not say.

    Raises FormatError when it cannot be read or makes no sense.
    """
    suffix = suffix_of(path)
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise FormatError("The file is larger than 256 MB: that is no caption file.")
        text = decoded(path.read_bytes())
    except OSError as error:
        raise FormatError(f"“{path.name}” cannot be read: {error.strerror}.") from None
    transcript = _READERS[suffix](text, language)
    if suffix == "json":
        return transcript, Source(*everything.media_of(text))
    end = max((cue.end for cue in transcript.cues), default=0)
    return transcript, Source(path.stem, end)
