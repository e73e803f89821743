"""Write and read translations as numbered lines, a table, or XLIFF.

XLIFF is version 2.0 (OASIS Standard, 2014), one unit a cue.
"""

from __future__ import annotations

import csv
import io
import re
import xml.etree.ElementTree as ET
from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.formats.captionfile import FormatError
from tamarind.formats.data.table import active, inert
from tamarind.formats.timecode import clock, parse_time
from tamarind.transcript.bounds import clean_text
from tamarind.transcript.model import Cue, Transcript
from tamarind.translation.exchange.returned import Returned
from tamarind.translation.tracks import Track

XLIFF = "urn:oasis:names:tc:xliff:document:2.0"
MOST_ROWS = 200_000
_NUMBERED = re.compile(r"^\s*(\d{1,6})\s*[.):\t]\s*(.*)$")
COLUMNS = ("number", "start", "end", "speaker", "source", "translation", "comment")


@dataclass(frozen=True, slots=True)
class Handed:
    """A row to send."""

    number: int
    cue: Cue
    speaker: str
    text: str
    comment: str = ""


def rows_of(transcript: Transcript, track: Track) -> list[Handed]:
    """Return a row for each cue with words, by its index."""
    names = {speaker.id: speaker.label for speaker in transcript.speakers}
    rows = []
    for place, cue in enumerate(transcript.cues, 1):
        if cue.words:
            entry = track.texts.get(cue.id)
            text, comment = (entry.text, entry.comment) if entry is not None else ("", "")
            rows.append(Handed(place, cue, names.get(cue.speaker or 0, ""), text, comment))
    return rows


def as_lines(rows: Sequence[Handed], translated: bool = False) -> str:
    """Return a numbered line for each row: the source, or the current translation."""
    return "".join(f"{row.number}. {row.text if translated else row.cue.text}\n" for row in rows)


def from_lines(text: str) -> list[Returned]:
    """Read numbered lines; one without a number continues the line before, if there is one."""
    found: list[Returned] = []
    for line in clean_lines(text):
        match = _NUMBERED.match(line)
        if match is not None:
            found.append(Returned(match[2].strip(), int(match[1])))
        elif found:
            last = found[-1]
            found[-1] = Returned(f"{last.text} {line.strip()}".strip(), last.number)
        else:
            found.append(Returned(line.strip()))
    return found


def clean_lines(text: str) -> list[str]:
    """Return the lines that are not empty."""
    return [clean_text(line) for line in text.splitlines() if line.strip()]


def as_table(rows: Sequence[Handed]) -> str:
    """Return comma-separated values with a header."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for row in rows:
        cells = [row.speaker, row.cue.text, row.text, row.comment]
        times = [clock(row.cue.start), clock(row.cue.end)]
        table.writerow([row.number, *times, *map(inert, cells)])
    return out.getvalue()


def from_table(text: str) -> list[Returned]:
    """Read a table by its column names. Raises FormatError if there is no translation."""
    try:
        delimiter = csv.Sniffer().sniff(text[:4_000], ",;\t").delimiter
    except csv.Error:
        delimiter = ","
    try:
        lines = list(csv.reader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        raise FormatError(f"The table cannot be read: {error}.") from None
    return from_cells(lines)


def from_cells(lines: Sequence[Sequence[str]]) -> list[Returned]:
    """Read the rows of a table whose first has the column names."""
    head = [cell.strip().casefold() for cell in lines[0]] if lines else []
    if "translation" not in head:
        raise FormatError("The table has no column “translation”.")
    found = []
    for line in lines[1:MOST_ROWS]:
        cells = dict(zip(head, (clean_text(cell).strip() for cell in line), strict=False))
        number = cells.get("number", "")
        found.append(
            Returned(
                active(cells.get("translation", "")),
                int(number) if number.isdecimal() and len(number) < 8 else None,
                active(cells.get("source", "")),
                _time(cells.get("start", "")),
                _time(cells.get("end", "")),
            )
        )
    return found


def as_xliff(rows: Sequence[Handed], source: str, target: str, name: str) -> str:
    """Return a file with a unit for each cue; its time is a note, and unreviewed text has the state
    "initial"."""
    ET.register_namespace("", XLIFF)
    root = ET.Element(f"{{{XLIFF}}}xliff", {"version": "2.0", "srcLang": source, "trgLang": target})
    file = ET.SubElement(root, f"{{{XLIFF}}}file", {"id": "1", "original": name})
    for row in rows:
        unit = ET.SubElement(file, f"{{{XLIFF}}}unit", {"id": str(row.number)})
        notes = ET.SubElement(unit, f"{{{XLIFF}}}notes")
        time = ET.SubElement(notes, f"{{{XLIFF}}}note", {"category": "time"})
        time.text = f"{clock(row.cue.start)} --> {clock(row.cue.end)}"
        if row.speaker:
            ET.SubElement(notes, f"{{{XLIFF}}}note", {"category": "speaker"}).text = row.speaker
        if row.comment:
            ET.SubElement(notes, f"{{{XLIFF}}}note", {"category": "comment"}).text = row.comment
        state = "translated" if row.text else "initial"
        segment = ET.SubElement(unit, f"{{{XLIFF}}}segment", {"state": state})
        ET.SubElement(segment, f"{{{XLIFF}}}source").text = row.cue.text
        if row.text:
            ET.SubElement(segment, f"{{{XLIFF}}}target").text = row.text
    ET.indent(root)
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{ET.tostring(root, "unicode")}\n'


def from_xliff(text: str) -> list[Returned]:
    """Read the targets of all units, joining segments. Raises FormatError."""
    if "<!DOCTYPE" in text[:10_000].upper():
        raise FormatError("The XLIFF file declares a document type, which none needs.")
    try:
        root = ET.fromstring(text.encode())
    except (ET.ParseError, ValueError) as error:
        raise FormatError(f"The XLIFF file is damaged: {error}.") from None
    if root.tag != f"{{{XLIFF}}}xliff":
        raise FormatError("This is no XLIFF file of version 2.")
    found = []
    for unit in root.iter(f"{{{XLIFF}}}unit"):
        sources, targets = (
            [clean_text("".join(part.itertext())) for part in unit.iter(f"{{{XLIFF}}}{name}")]
            for name in ("source", "target")
        )
        number = unit.get("id", "")
        times = [
            _time(time)
            for note in unit.iter(f"{{{XLIFF}}}note")
            if note.get("category") == "time"
            for time in (note.text or "").split("-->")
        ]
        start, end = times if len(times) == 2 else (None, None)
        found.append(
            Returned(
                " ".join(filter(None, targets)),
                int(number) if number.isdecimal() and len(number) < 8 else None,
                " ".join(sources),
                start,
                end,
            )
        )
    return found


def from_captions(transcript: Transcript) -> list[Returned]:
    """Read the captions of a file in the other language."""
    return [
        Returned(cue.text, number, "", cue.start, cue.end)
        for number, cue in enumerate(transcript.cues, 1)
        if cue.words
    ]


def _time(text: str) -> int | None:
    try:
        return parse_time(text.strip()) if text.strip() else None
    except ValueError:
        return None
