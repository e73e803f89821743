"""The file formats in which translations are sent and come back, by suffix."""

from __future__ import annotations

from pathlib import Path

from tamarind.captions.limits import Limits
from tamarind.captions.lines import with_breaks
from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.formats.format import Origin
from tamarind.transcript.model import Transcript
from tamarind.translation.exchange import handing, wordtable
from tamarind.translation.exchange.returned import Returned
from tamarind.translation.tracks import Track, as_transcript

TABLES = ("docx", "csv", "xlf")
CAPTIONS = tuple(one.suffix for one in documents.FORMATS if one.for_exchange)
LINES = "txt"
SUFFIXES = (*TABLES, *CAPTIONS, LINES)


def write(suffix: str, transcript: Transcript, track: Track, name: str, limits: Limits) -> bytes:
    """Return the bytes of a file with a recording's translation. Raises FormatError."""
    rows = handing.rows_of(transcript, track)
    if suffix == "docx":
        return wordtable.as_document(rows, name)
    if suffix == "csv":
        return handing.as_table(rows).encode("utf-8-sig")
    if suffix in ("xlf", "xliff"):
        return handing.as_xliff(rows, transcript.language, track.language, name).encode()
    if suffix == LINES:
        return handing.as_lines(rows).encode()
    if suffix in CAPTIONS:
        text = with_breaks(as_transcript(track, transcript), limits)
        return documents.write(suffix, text, Origin(name, 0))
    raise FormatError(f"A translation cannot be exported as .{suffix}.")


def read(path: Path, data: bytes, language: str) -> list[Returned]:
    """Return what a file has brought back. Raises FormatError."""
    suffix = path.suffix.lower().lstrip(".")
    if suffix == "docx":
        return wordtable.from_document(data)
    if suffix in ("csv", "tsv"):
        return handing.from_table(decode(data, language).text)
    if suffix in ("xlf", "xliff"):
        return handing.from_xliff(decode(data, language).text)
    if suffix == LINES:
        return handing.from_lines(decode(data, language).text)
    return handing.from_captions(documents.read_bytes(data, suffix, path.name, language).transcript)
