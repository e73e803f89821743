"""Read a word-processor file as a text to be matched with a sound: a script, minutes, an old
transcript.

Speakers are found as labels, as names alone on a line, by paragraph styles, or in a table's column;
time stamps as in plain text, or in a column.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterator, Sequence

from tamarind.formats.captionfile import Repairs
from tamarind.formats.format import DataReader
from tamarind.formats.reading.editeddocument import Line, Rows, lines_of
from tamarind.formats.reading.office import (
    BODY_STYLE,
    CONTENTS,
    FACTS,
    FRONT,
    HEADING,
    NOTE,
    SPEAKER,
    TITLE,
)
from tamarind.formats.reading.turns import may_be_name, transcript_in, turns_in
from tamarind.formats.textlanguage import likely_language
from tamarind.transcript.languages import UNDETERMINED
from tamarind.transcript.model import Transcript

_ABOUT = frozenset((TITLE, FACTS, FRONT, NOTE, CONTENTS, HEADING, "Title", "Subtitle"))
_HEADING = re.compile(r"heading \d", re.I)
_SPEAKER = re.compile(r"\bspeaker", re.I)
_TIME = re.compile(r"[\[(]?\s*(\d{1,6}(?::\d\d){1,2}(?:[.,]\d{1,3})?)\b")
_MOST = 0.8
"""So much of a column has to be of a kind."""

_LONGEST_NAME = 60


def reader_of(suffix: str) -> DataReader:
    """Return what reads files with a suffix."""
    return lambda data, language, repairs: _read(data, suffix, language, repairs)


def _read(data: bytes, suffix: str, language: str, repairs: Repairs) -> Transcript:
    lines = lines_of(data, suffix, lambda rows: _lines_of_table(rows, repairs))
    left_out: list[str] = []
    paragraphs: list[list[str]] = []
    named: set[str] = set()
    for style, text in lines:
        if not text.strip():
            continue
        if style in _ABOUT or _HEADING.fullmatch(style):
            left_out.append(" ".join(text.split()))
        elif style == SPEAKER or _SPEAKER.search(style):
            name = _plain(text)
            named.add(name)
            # It is a line of its own, which a colon makes a label.
            paragraphs.append([f"{name}:"])
        else:
            paragraphs.append(text.split("\n"))
    if left_out and not any(style == BODY_STYLE for style, _ in lines):
        repairs.note(f"Titles and headings are not said and were left out: {_shown(left_out)}.")
    turns = turns_in(paragraphs, named)
    if language == UNDETERMINED:
        language = likely_language(" ".join(turn.text for turn in turns))
    return transcript_in(turns, language, repairs)


def _lines_of_table(rows: Rows, repairs: Repairs) -> Iterator[Line]:
    """Yield a speaker and a text for each row, by what the columns hold; what is in none of them is
    told."""
    width = max(map(len, rows), default=0)
    columns = [[row[at].strip() if at < len(row) else "" for row in rows] for at in range(width)]
    time = next((at for at, cells in enumerate(columns) if _is_of(cells, _is_time)), None)
    others = [at for at in range(width) if at != time and any(columns[at])]
    if not others:
        return
    said = max(others, key=lambda at: sum(map(len, columns[at])))
    speakers = [at for at in others if at != said and _is_of(columns[at], _may_be_label)]
    speaker = min(speakers, key=lambda at: len(set(columns[at])) / len(columns[at]), default=None)
    first = 1 if _has_head(columns, time, speaker) else 0
    for row in range(first, len(rows)):
        if speaker is not None and columns[speaker][row]:
            yield SPEAKER, columns[speaker][row]
        stamp = _TIME.match(columns[time][row]) if time is not None else None
        yield "", " ".join(filter(None, (f"[{stamp[1]}]" if stamp else "", columns[said][row])))
    rest = [
        at for at in others if at not in (said, speaker) and not _is_of(columns[at], str.isdigit)
    ]
    if rest:
        heads = [columns[at][0] or f"column {at + 1}" for at in rest]
        repairs.note(f"Columns of a table were left out: {_shown(heads)}.")


def _is_of(cells: Sequence[str], kind: Callable[[str], bool]) -> bool:
    """Whether most of a column's cells below the first are of a kind, which a function tells."""
    full = [cell for cell in cells[1:] or cells if cell]
    return bool(full) and sum(kind(cell) for cell in full) >= _MOST * len(full)


def _is_time(cell: str) -> bool:
    return _TIME.match(cell) is not None


def _may_be_label(cell: str) -> bool:
    return may_be_name(cell.rstrip(":")) and not cell.isdigit()


def _has_head(columns: Sequence[Sequence[str]], time: int | None, speaker: int | None) -> bool:
    """Whether the first row says what the columns are: where the others have times it has none, or
    its speaker comes up nowhere else while the others' do."""
    if time is not None:
        return not _is_time(columns[time][0])
    if speaker is None or len(columns[speaker]) < 3:
        return False
    counts = Counter(columns[speaker])
    often = sum(count for name, count in counts.items() if count > 1)
    return counts[columns[speaker][0]] == 1 and often >= _MOST * (len(columns[speaker]) - 1)


def _plain(name: str) -> str:
    """Return a speaker's name as it can stand in a label."""
    return " ".join(re.sub(r"[:\[\]()]", " ", name).split())[:_LONGEST_NAME]


def _shown(texts: Sequence[str]) -> str:
    """Return the first of some texts in quotes."""
    few = ", ".join(f"“{text[:60]}”" for text in texts[:3])
    return few + (f" and {len(texts) - 3} more" if len(texts) > 3 else "")
