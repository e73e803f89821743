"""Read and write plain transcripts (.txt): paragraphs, with or without speakers and times."""

from __future__ import annotations

import re
import textwrap
from collections.abc import Collection

from tamarind.formats.captionfile import Repairs
from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.reading.paragraphs import Paragraph, StampPlace, paragraphs
from tamarind.formats.reading.parts import Reading, front_of, reading_of
from tamarind.formats.reading.ruled import COLUMNS, as_plain_text, ruled_lines, ruled_pages
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


def write(transcript: Transcript, reading: Reading | None = None) -> str:
    """Write header fields, paragraphs separated by blank lines, each with time and speaker as the
    options say, headings, and the closing note.

    A table has a line for each paragraph, with tabs; ruled pages have numbers at their lines.
    """
    reading = reading or Reading("", 0)
    options = reading.options
    found = paragraphs(transcript, options)
    front = "\n".join(front_of(transcript, reading))
    if options.page_lines:
        lines = [*front.splitlines(), *ruled_lines(found, options.stamp_place)]
        closing = textwrap.wrap(reading.closing, COLUMNS)
        return as_plain_text(ruled_pages([*lines, *closing], options.page_lines))
    if reading.heads:
        rows = ["\t".join((one.stamp or "", one.label or "", one.text)) for one in found]
        blocks = ["\n".join(["\t".join((*reading.heads, "Text")), *rows])]
    else:
        blocks = [block for one in found for block in _blocks(one, options.stamp_place)]
    blocks = [*filter(None, (front,)), *blocks, *filter(None, (reading.closing,))]
    return "\n\n".join(blocks) + ("\n" if blocks else "")


def _blocks(paragraph: Paragraph, place: StampPlace) -> list[str]:
    """Return the heading and the text of a paragraph."""
    between = "\n" if place is StampPlace.LINE else "\t" if place is StampPlace.MARGIN else " "
    said = " ".join(filter(None, (paragraph.mark or paragraph.label, paragraph.text)))
    if place is StampPlace.MARGIN:
        said = f"{paragraph.stamp or ''}{between}{said}"
    elif paragraph.stamp:
        said = f"{paragraph.stamp}{between}{said}"
    return [paragraph.heading, said] if paragraph.heading else [said]


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
    write=lambda transcript, source, options: write(transcript, reading_of(source, options)),
    holds=frozenset({Holds.SPEAKER}),
    rank=1,
)
FORMATS = (FORMAT,)
