"""Encode captions as teletext rows: characters of a code table, colours as codes that take a
column, rows of double height in a box (EBU Tech 3264, ETSI EN 300 706)."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Sequence
from functools import cache

from tamarind.formats.broadcast.rows import Grid, Row, first_of, gaps
from tamarind.formats.colours import colour_of, nearest
from tamarind.formats.encoding import plain_counterpart
from tamarind.transcript.model import Word

GRID = Grid(23, 37, 2)
"""Of the 40 columns of a row three are taken by its height and the start of its box."""

TABLES = {"00": "iso6937", "01": "iso8859_5", "02": "iso8859_6", "03": "iso8859_7",
          "04": "iso8859_8"}  # fmt: skip
"""The code tables of EBU Tech 3264: Latin, Cyrillic, Arabic, Greek, Hebrew."""

_DOUBLE, _BOX, _END, _NEW_ROW = b"\x0d", b"\x0b\x0b", b"\x0a\x0a", b"\x8a\x8a"
_COLUMNS = 40
_WHITE = 7
COLOURS = (0xFF0000, 0x00FF00, 0xFFFF00, 0x0000FF, 0xFF00FF, 0x00FFFF, 0xFFFFFF)
"""By the codes from 1 on; black, which would not be seen, becomes the nearest of these."""

_UNKNOWN = b"?"


def table_for(text: str) -> str:
    """Return the code table that has the most characters of a text; Latin on a tie."""
    letters = {letter for letter in text if letter.isalpha()}
    counts = {
        table: sum(_bytes_of(letter, table) is not None for letter in letters) for table in TABLES
    }
    return max(counts, key=lambda table: (counts[table], table == "00"))


def width(words: Sequence[Word]) -> int:
    """Count the columns of some words with their colour codes, each in place of the space before a
    word."""
    if not any(word.spans for word in words):
        return sum(len(word.text) for word in words) + gaps(words)
    columns, colour = 0, _WHITE
    for place, word in enumerate(words):
        own = _colour(word)
        space = int(place > 0 and not word.glued)
        columns += max(int(own != colour), space) + len(word.text)
        colour = own
    return columns


def field_of(rows: Iterable[Row], table: str) -> bytes:
    """Return the text field of a caption: its rows from the top."""
    return _NEW_ROW.join(_row(row, table) for row in rows)


def _row(row: Row, table: str) -> bytes:
    parts = [_DOUBLE, _BOX]
    colour = _WHITE
    for place, word in enumerate(row.words):
        own = _colour(word)
        if own != colour:
            parts.append(bytes([own]))
        elif place and not word.glued:
            parts.append(b" ")
        parts += [_held(letter, table) for letter in word.text]
        colour = own
    if width(row.words) + len(_DOUBLE + _BOX + _END) <= _COLUMNS:
        parts.append(_END)
    return b"".join(parts)


def unheld(text: str, table: str) -> str:
    """Return the characters of a text that a code table lacks, each once."""
    missing = (letter for letter in text if letter.strip() and _bytes_of(letter, table) is None)
    return first_of(one for one in dict.fromkeys(missing) if plain_counterpart(one) == one)


def _held(letter: str, table: str) -> bytes:
    found = _bytes_of(letter, table)
    if found is not None:
        return found
    for other in (plain_counterpart(letter), unicodedata.normalize("NFKD", letter)):
        bases = [one for one in other if not unicodedata.combining(one)]
        parts = [_bytes_of(one, table) for one in bases]
        if parts and None not in parts:
            return b"".join(part for part in parts if part)
    return _UNKNOWN


@cache
def _bytes_of(letter: str, table: str) -> bytes | None:
    if table == "00":
        return _latin().get(letter)
    try:
        data = letter.encode(TABLES[table])
    except UnicodeEncodeError:
        return None
    return data if data[0] >= 0xA0 or 0x20 <= data[0] < 0x7F else None


@cache
def _latin() -> dict[str, bytes]:
    """Return the characters of ISO 6937 with their codes: ttconv's decoding table reversed."""
    from ttconv.stl import iso6937

    found: dict[str, bytes] = {}
    singles = [bytes([first]) for first in (*range(0x20, 0x7F), *range(0xA0, 0x100))]
    marked = [
        bytes([first, second])
        for first in range(0xC1, 0xD0)
        for second in (*range(0x41, 0x5B), *range(0x61, 0x7B))
    ]
    for data in (*singles, *marked):
        text = iso6937.decode(data, errors="ignore")[0]
        if len(text) == 1:
            found.setdefault(text, data)
    return found


def _colour(word: Word) -> int:
    colours = [colour for colour in map(colour_of, word.spans) if colour]
    return 1 + nearest(colours[-1], COLOURS) if colours else _WHITE
