"""Read and write plain transcripts (.txt): paragraphs, with or without speakers and times."""

from __future__ import annotations

import re
from collections.abc import Collection

from tamarind.formats.captionfile import Repairs
from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.reading.paragraphs import PLAIN, TextOptions, paragraphs
from tamarind.formats.reading.turns import (
    label_of,
    may_be_name,
    transcript_in,
    turns_in,
    without_stamp,
)
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript
from tamarind.transcript.takeback import Part


def write(transcript: Transcript, options: TextOptions = PLAIN) -> str:
    """Write paragraphs separated by blank lines, each with time and speaker as the options say, and
    headings."""
    blocks = []
    for paragraph in paragraphs(transcript, options):
        said = " ".join(filter(None, (paragraph.stamp, paragraph.label, paragraph.text)))
        blocks += [paragraph.heading, said] if paragraph.heading else [said]
    return "\n\n".join(blocks) + ("\n" if blocks else "")


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read one cue a paragraph, or a line that begins with a speaker or a stamp. Labels that stand
    before several, or in capitals, are speakers; a time stamp is where the text after it begins,
    others get times by length."""
    turns = turns_in([block.split("\n") for block in blocks_of(text)])
    return transcript_in(turns, language, Repairs() if repairs is None else repairs)


def blocks_of(text: str) -> list[str]:
    """Return the parts of a text between blank lines."""
    return re.split(r"\n[^\S\n]*(?:\n[^\S\n]*)+", text)


def read_parts(text: str, names: Collection[str], headings: Collection[str] = ()) -> list[Part]:
    """Return the paragraphs of a transcript that was written with speakers and perhaps edited.

    ``names`` are the speakers that are known; another label counts as a name where there are any
    and all its words begin with a capital. A paragraph that is one of the ``headings`` is left out.
    """
    known = {name.casefold() for name in names}
    parts: list[Part] = []
    for paragraph in blocks_of(text):
        line = without_stamp(" ".join(paragraph.split()))
        if line in headings:
            continue
        label = label_of(line)
        if label and _is_name(label[0], known):
            parts.append(Part(label[1], label[0]))
        elif line:
            parts.append(Part(line))
    return parts


def _is_name(label: str, known: Collection[str]) -> bool:
    if label.casefold() in known:
        return True
    return bool(known) and may_be_name(label)


FORMAT = Format(
    ("txt",),
    "Plain transcript",
    DocumentKind.READING,
    read=read,
    write=lambda transcript, source, options: write(transcript, options.text),
    holds=frozenset({Holds.SPEAKER}),
    rank=1,
)
FORMATS = (FORMAT,)
