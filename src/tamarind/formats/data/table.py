"""Write comma-separated values (.csv), a row a cue, for spreadsheets and statistics (RFC 4180)."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence

from tamarind.formats.captionfile import names_of
from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.timecode import clock
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript

_NO_FORMULA = re.compile(r"[-–—]\s+[^\W\d_](?:[^()|=+*/^&@{}\[\]<>#!]|!(?=\s|$))*")
"""A dash before what somebody says, as in a dialogue."""

_FORMULAS = frozenset("=+-@\t\r＝＋－＠")
"""What a spreadsheet may begin a formula with, also in full width."""


def write(
    transcript: Transcript, translations: Mapping[str, Sequence[str | None]] | None = None
) -> str:
    """Write number, start, end, seconds, speaker and text of each cue, and its translations.

    A text that a spreadsheet would take for a formula has an apostrophe before it.
    """
    translations = translations or {}
    names = names_of(transcript)
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(["number", "start", "end", "seconds", "speaker", "text", *translations])
    number = 0
    for place, cue in enumerate(transcript.cues):
        if not cue.words:
            continue
        number += 1
        texts = [cue.text, *(own[place] or "" for own in translations.values())]
        seconds = f"{(cue.end - cue.start) / 1000:.3f}"
        row = [names.get(cue.speaker) or "", *texts]
        table.writerow([number, clock(cue.start), clock(cue.end), seconds, *map(inert, row)])
    return out.getvalue()


def inert(text: str) -> str:
    risky = text.lstrip(" \u3000\xa0")[:1] in _FORMULAS and not _NO_FORMULA.fullmatch(text)
    return f"'{text}" if risky else text


def active(text: str) -> str:
    """Return the text of a cell that ``inert`` may have made; an apostrophe of its own stays."""
    return text[1:] if text.startswith("'") and inert(text[1:]) == text else text


FORMAT = Format(
    ("csv",),
    "Table of cues",
    DocumentKind.DATA,
    write=lambda transcript, source, options: write(transcript, source.translations),
    holds=frozenset({Holds.SPEAKER}),
    rank=1,
)
FORMATS = (FORMAT,)
