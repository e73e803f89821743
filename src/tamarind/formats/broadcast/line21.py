"""Encode captions for line 21 (ANSI/CTA-608-E): two bytes a frame on the first caption channel.

Letters, specials and extended letters are those of the standard, by the tables that ttconv
carries. Codes that control something are sent twice, as the standard advises.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Sequence
from functools import cache, lru_cache

from tamarind.formats.broadcast.rows import Grid, Row, first_of, gaps
from tamarind.formats.colours import colour_of, nearest
from tamarind.formats.encoding import plain_counterpart
from tamarind.formats.spans import looks_of
from tamarind.transcript.model import Word

GRID = Grid(15, 32)
MOST_ROWS = 4
"""Rows that a decoder must be able to show at a time."""

LOAD, PAINT = 0x1420, 0x1429
ROLL = {2: 0x1425, 3: 0x1426, 4: 0x1427}
ERASE_SHOWN, RETURN, ERASE_LOADED, SHOW = 0x142C, 0x142D, 0x142E, 0x142F
FILLER = 0x0000

_TAB = 0x1720
_MID_ROW = 0x1120
_ITALICS = 0x0E
COLOURS = (0xFFFFFF, 0x00FF00, 0x0000FF, 0x00FFFF, 0xFF0000, 0xFFFF00, 0xFF00FF)
_ADDRESSES = (
    0x1140, 0x1160, 0x1240, 0x1260, 0x1540, 0x1560, 0x1640, 0x1660, 0x1740, 0x1760, 0x1040, 0x1340,
    0x1360, 0x1440, 0x1460,
)  # fmt: skip
"""The code that goes to each row, without what it says of column and look."""

_UNKNOWN = "?"
_SPELT = {"œ": "oe", "Œ": "OE", "æ": "ae", "Æ": "AE", "ł": "l", "Ł": "L", "đ": "d", "Đ": "D"}
"""What is written for letters that are no others with a mark."""

_Look = tuple[int, bool, bool]
_PLAIN: _Look = (0, False, False)


def controls(*codes: int) -> list[int]:
    """Return control codes, each twice."""
    return [code for code in codes for _ in range(2)]


def width(words: Sequence[Word]) -> int:
    """Count the columns of some words: each change of format takes one, the first in place of the
    space before the word."""
    if not any(word.spans for word in words):
        return sum(len(_held(word.text)) for word in words) + gaps(words)
    columns, look = 0, _PLAIN
    for place, word in enumerate(words):
        own = _look_of(word)
        space = int(place > 0 and not word.glued)
        columns += max(len(_changes(look, own)), space) + len(_held(word.text))
        look = own
    return columns


def row_codes(row: Row) -> list[int]:
    """Return the codes that write a row at its place."""
    codes = controls(_ADDRESSES[row.number] | 0x10 | (row.column // 4) << 1)
    if row.column % 4:
        codes += controls(_TAB | row.column % 4)
    writer = _Writer(codes)
    look = _PLAIN
    for place, word in enumerate(row.words):
        own = _look_of(word)
        changes = _changes(look, own)
        if not changes and place and not word.glued:
            writer.letter(0x20)
        for code in changes:
            writer.code(code)
        for letter in _held(word.text):
            writer.write(letter)
        look = own
    return writer.finished()


def unheld(text: str) -> str:
    """Return the characters of a text that line 21 lacks, each once."""
    missing = (letter for letter in text if letter.strip() and not _bytes_of(letter))
    return first_of(one for one in dict.fromkeys(missing) if plain_counterpart(one) == one)


def with_parity(code: int) -> str:
    """Return two bytes with odd parity as in the file: four hexadecimal digits."""
    return "".join(
        f"{byte | (0x80 if byte.bit_count() % 2 == 0 else 0):02x}" for byte in divmod(code, 256)
    )


class _Writer:
    """Packs characters two to a code; what takes a whole code begins at a new one."""

    def __init__(self, codes: list[int]) -> None:
        self._codes = codes
        self._half: int | None = None

    def letter(self, byte: int) -> None:
        """Add a character of the basic set."""
        if self._half is None:
            self._half = byte
        else:
            self._codes.append(self._half << 8 | byte)
            self._half = None

    def code(self, code: int) -> None:
        """Add a code of two bytes, twice."""
        if self._half is not None:
            self.letter(0)
        self._codes += controls(code)

    def write(self, letter: str) -> None:
        """Add any character that line 21 has; an extended one follows the plain one that simple
        decoders show."""
        plain, code = _bytes_of(letter) or (ord(_UNKNOWN), 0)
        if plain:
            self.letter(plain)
        if code:
            self.code(code)

    def finished(self) -> list[int]:
        """Return all codes."""
        if self._half is not None:
            self.letter(0)
        return self._codes


@lru_cache(20_000)
def _held(text: str) -> str:
    """Return a text in the characters of line 21, with plain counterparts or "?" for others."""
    if all(map(_bytes_of, text)):
        return text
    return "".join(letter if _bytes_of(letter) else _stand_in(letter) for letter in text)


def _stand_in(letter: str) -> str:
    for other in (
        _SPELT.get(letter, ""),
        plain_counterpart(letter),
        unicodedata.normalize("NFKD", letter),
    ):
        kept = "".join(one for one in other if not unicodedata.combining(one))
        if kept and all(map(_bytes_of, kept)):
            return kept
    return _UNKNOWN


@cache
def _bytes_of(letter: str) -> tuple[int, int] | None:
    """Return the basic character and the code that write a character, 0 for none; None if there are
    neither."""
    basic, coded, extended = _tables()
    if letter in basic:
        return basic[letter], 0
    if letter in coded:
        return 0, coded[letter]
    if letter in extended:
        plain = unicodedata.normalize("NFKD", letter)[0]
        stand = plain if plain in basic else plain_counterpart(letter)[:1]
        return basic.get(stand, 0x20), extended[letter]
    return None


@cache
def _tables() -> tuple[dict[str, int], dict[str, int], dict[str, int]]:
    from ttconv.scc.codes.extended_characters import SccExtendedCharacter
    from ttconv.scc.codes.special_characters import SccSpecialCharacter
    from ttconv.scc.codes.standard_characters import TO_SCC_BYTES

    coded = {one.get_unicode_value(): one.get_ch1_value() for one in SccSpecialCharacter}
    extended = {one.get_unicode_value(): one.get_ch1_value() for one in SccExtendedCharacter}
    basic = {letter: byte for letter, byte in TO_SCC_BYTES.items() if letter not in ("*", "\\")}
    # The basic set has one apostrophe; what it looks like is the decoder's affair.
    basic["’"] = basic["'"]
    coded.pop(" ", None)
    return basic, coded, {one: code for one, code in extended.items() if one not in basic}


def _look_of(word: Word) -> _Look:
    looks = looks_of(word)
    colours = [colour for colour in map(colour_of, word.spans) if colour]
    colour = nearest(colours[-1], COLOURS) if colours else 0
    return colour, "i" in looks, "u" in looks


def _changes(before: _Look, after: _Look) -> list[int]:
    """Return the codes that change one format into another; a colour code ends italics."""
    if before == after:
        return []
    colour, italics, underlined = after
    codes = []
    if colour != before[0] or not italics:
        codes.append(_MID_ROW | colour << 1 | underlined)
    if italics:
        codes.append(_MID_ROW | _ITALICS | underlined)
    return codes


def rows_codes(rows: Iterable[Row]) -> list[int]:
    """Return the codes that write some rows."""
    return [code for row in rows for code in row_codes(row)]
