"""Read and write EBU STL files (.stl; EBU Tech 3264): a block about the programme, then a block of
128 bytes for each caption or part of one. Read through ttconv.

Captions are teletext of double height. The format counts 25 or 30 frames a second; the latter is
that of pictures with 29.97, whose timecode drops numbers.
"""

from __future__ import annotations

import logging
import re
from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from tamarind.formats.broadcast.modelcues import box_of, cues_of
from tamarind.formats.broadcast.rows import is_within, placement_at, rows_of, unlike
from tamarind.formats.broadcast.smpte import NTSC, PLAIN_TIMECODES, Frames, Timecodes
from tamarind.formats.broadcast.teletext import COLOURS, GRID, field_of, table_for, unheld, width
from tamarind.formats.captionfile import FormatError, Repairs, brief, transcript_of
from tamarind.formats.captions.ttmodel import TimedParagraph
from tamarind.formats.format import DocumentKind, Format, FormatOption, Lack, Options, Origin
from tamarind.formats.placing import region_of
from tamarind.transcript.fields import Holds
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Cue, Transcript

_HEAD = 1024
_BLOCK = 128
_FIELD = 112
_LAST, _MOST_PARTS = 0xFF, 0xEF
_UNUSED = b"\x8f"
_MOST = 99_999
_SIGN = re.compile(rb"[ -~]{3}STL\d\d\.\d\d")
_SIDES = {"left": 1, "center": 2, "right": 3}
_SOME_DAY = "000101"
"""Where no date is known: a field cannot be empty."""

_LANGUAGES = {
    "sq": "01", "br": "02", "ca": "03", "hr": "04", "cy": "05", "cs": "06", "da": "07", "de": "08",
    "en": "09", "es": "0A", "eo": "0B", "et": "0C", "eu": "0D", "fo": "0E", "fr": "0F", "fy": "10",
    "ga": "11", "gd": "12", "gl": "13", "is": "14", "it": "15", "se": "16", "la": "17", "lv": "18",
    "lb": "19", "lt": "1A", "hu": "1B", "mt": "1C", "nl": "1D", "no": "1E", "nb": "1E", "nn": "1E",
    "oc": "1F", "pl": "20", "pt": "21", "ro": "22", "rm": "23", "sr": "24", "sk": "25", "sl": "26",
    "fi": "27", "sv": "28", "tr": "29", "wa": "2B", "am": "7F", "ar": "7E", "hy": "7D", "az": "7B",
    "be": "79", "bn": "78", "bg": "77", "zh": "75", "ka": "71", "el": "70", "gu": "6F", "he": "6C",
    "hi": "6B", "id": "6A", "ja": "69", "kn": "68", "kk": "67", "km": "66", "ko": "65", "mk": "63",
    "fa": "5A", "ru": "56", "ta": "4D", "te": "4B", "th": "4A", "uk": "49", "ur": "48", "uz": "47",
    "vi": "46", "zu": "45",
}  # fmt: skip
"""The codes of EBU Tech 3264, appendix 3, by ISO 639."""


def write(transcript: Transcript, source: Origin, options: Options) -> bytes:
    """Write the blocks of all cues with text."""
    frames = _frames(options)
    cues = [cue for cue in transcript.cues if cue.words]
    if len(cues) > _MOST:
        raise FormatError("EBU STL holds 99,999 captions at most.")
    table = table_for("".join(cue.text for cue in cues))
    blocks = b"".join(
        block for number, cue in enumerate(cues) for block in _blocks(cue, number, frames, table)
    )
    first = frames.frame(cues[0].start) if cues else frames.first
    head = _head(transcript, source, options, frames, table, len(cues), len(blocks), first)
    return head + blocks


def lacks(transcript: Transcript, options: Options) -> Iterator[Lack]:
    """Return what single cues cannot be written as is: rows and characters."""
    cues = [cue for cue in transcript.cues if cue.words]
    table = table_for("".join(cue.text for cue in cues))
    for cue in cues:
        if not is_within(cue, GRID, width):
            yield Lack(cue.id, cue.start, f"a line is longer than {GRID.columns} columns")
        if missing := unheld(cue.text, table):
            yield Lack(cue.id, cue.start, f"letters that its code table does not have: {missing}")
        for said in unlike(cue, COLOURS, ""):
            yield Lack(cue.id, cue.start, said)


def _frames(options: Options) -> Frames:
    """Return the frame count: 25 frames a second, or 29.97 drop-frame, the only ones the format
    has."""
    rate = options.timecodes.rate
    fast = rate is not None and 26 < rate < 40
    frames = Frames(NTSC if fast else Fraction(25), fast)
    code = options.timecodes.start.replace(";", ":")
    return Frames(frames.rate, frames.drops, frames.number(code))


def _head(
    transcript: Transcript, source: Origin, options: Options, frames: Frames, table: str,
    count: int, size: int, first: int,
) -> bytes:  # fmt: skip
    """Return the block about the programme (GSI)."""
    title = _ascii(source.name.rpartition(".")[0] or source.name, 32)
    day = options.date.replace("-", "")[2:8] if options.date else _SOME_DAY
    language = _LANGUAGES.get(base_of(transcript.language), "00")
    parts = (
        "850", "STL30.01" if frames.drops else "STL25.01", "1", table, language, title, 32 * " ",
        title, 32 * " ", 32 * " ", 32 * " ", 16 * " ", day, day, "00", f"{size // _BLOCK:05}",
        f"{count:05}", "001", "40", "23", "1", _digits(frames, frames.first),
        _digits(frames, first), "1", "1", 3 * " ", _ascii(options.client, 32),
    )  # fmt: skip
    return "".join(parts).ljust(_HEAD).encode("ascii", "replace")


def _ascii(text: str, length: int) -> str:
    plain = "".join(letter if " " <= letter <= "~" else "?" for letter in text)
    return plain[:length].ljust(length)


def _digits(frames: Frames, frame: int) -> str:
    return re.sub(r"\D", "", frames.code(frame))


def _blocks(cue: Cue, number: int, frames: Frames, table: str) -> Iterator[bytes]:
    """Return the blocks of a cue (TTI); a text longer than a field is split."""
    rows = rows_of(cue, GRID, width)
    field = field_of(rows, table)[: _FIELD * _MOST_PARTS]
    fields = [field[at : at + _FIELD] for at in range(0, len(field), _FIELD)]
    start = frames.frame(cue.start)
    end = max(frames.frame(cue.end), start + 1)
    frames.within_a_day(end)
    times = bytes(
        int(code[at : at + 2])
        for code in (_digits(frames, start), _digits(frames, end))
        for at in range(0, 8, 2)
    )
    side = _SIDES[region_of(cue.placement).align]
    for part, text in enumerate(fields):
        last = part == len(fields) - 1
        yield (
            bytes([0])
            + (number & 0xFFFF).to_bytes(2, "little")
            + bytes([_LAST if last else part, 0])
            + times
            + bytes([rows[0].number + 1, side, 0])
            + text.ljust(_FIELD, _UNUSED)
        )


def timecodes_of(data: bytes) -> Timecodes:
    """Return the file's timecode of the programme's start, and its rate."""
    fast = data[3:11] == b"STL30.01"
    digits = data[256:264].decode("ascii", "replace")
    start = ":".join(digits[at : at + 2] for at in range(0, 8, 2))
    try:
        return Timecodes.called(start, "29.97 drop" if fast else "25")
    except ValueError:
        return Timecodes(PLAIN_TIMECODES.start, NTSC if fast else Fraction(25), fast)


def read(data: bytes, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read the captions, with times from the start of the programme. Raises FormatError."""
    repairs = Repairs() if repairs is None else repairs
    if len(data) < _HEAD or not _SIGN.match(data):
        raise FormatError("The file is no EBU STL: its first block says nothing of one.")
    rest = (len(data) - _HEAD) % _BLOCK
    if rest:
        repairs.note("The last block is not whole and was left out.")
        data = data[: len(data) - rest]
    logging.getLogger("ttconv").setLevel(logging.CRITICAL)
    # Digits of the start of the programme, which not every file has.
    counts = data[256:264].isdigit()
    try:
        document = _model_of(data, "TCP" if counts else None)
    except Exception as error:
        raise FormatError(f"The file is no EBU STL that makes sense ({brief(error)}).") from None
    found = cues_of(document, repairs, _placement)
    if not found and counts:
        document = _model_of(data, None)
        found = cues_of(document, repairs, _placement)
        if found:
            repairs.note("All captions lie before the start of the programme; it was passed over.")
    if not found:
        raise FormatError("The EBU STL file holds no caption.")
    left = _captions_in(data) - len(found)
    if left > 0:
        repairs.note(f"{left} captions were left out: they end before they begin, or before 0.")
    return transcript_of(found, _language(document) or language, repairs)


def _model_of(data: bytes, start: str | None) -> Any:
    """Return ttconv's model of a file, but let captions overlap."""
    from ttconv.stl.datafile import DataFile

    file = DataFile(data[:_HEAD], start_tc=start)
    for at in range(_HEAD, len(data), _BLOCK):
        file.last_end_time = None
        file.process_tti_block(data[at : at + _BLOCK])
    return file.get_document()


def _captions_in(data: bytes) -> int:
    """Count the captions of a file by their last blocks, without comments."""
    blocks = (data[at : at + _BLOCK] for at in range(_HEAD, len(data), _BLOCK))
    return sum(one[3] == _LAST and not one[15] and one[16:].strip(_UNUSED) != b"" for one in blocks)


def _language(document: Any) -> str:
    return str(document.get_lang() or "")


def _placement(one: TimedParagraph) -> str:
    """Return a caption's place from the region that ttconv makes of its rows."""
    from ttconv.style_properties import DisplayAlignType, StyleProperties

    box = box_of(one.region)
    if box is None:
        return ""
    above = one.region.get_style(StyleProperties.DisplayAlign) is DisplayAlignType.before
    taken = len(one.lines) * GRID.height
    row = round(((box[1] if above else box[3]) - 10) / 80 * GRID.rows) - (0 if above else taken)
    widest = max(map(len, one.lines), default=0)
    column = {"start": 0, "end": GRID.columns - widest}.get(one.align, (GRID.columns - widest) // 2)
    return placement_at(row, column, taken, widest, GRID)


FORMAT = Format(
    ("stl",),
    "EBU STL",
    DocumentKind.BROADCAST,
    read=None,
    write=write,
    holds=frozenset({Holds.COLOUR, Holds.PLACE, Holds.FINE_PLACE}),
    choices=frozenset({FormatOption.TIMECODES}),
    is_utf8=True,
    may_mark=False,
    read_data=read,
    data_sign=_SIGN,
    timecodes_of=timecodes_of,
    columns=GRID.columns,
    lacks=lacks,
    rank=6,
)
FORMATS = (FORMAT,)
