"""Read and write SCC files (.scc): captions as line 21 codes, with the timecode of each run.

A decoder takes in two bytes a frame, so that a caption is sent before it is shown; one that cannot
be sent in time is shown late. Read through ttconv.
"""

from __future__ import annotations

import logging
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from tamarind.formats.broadcast.line21 import (
    COLOURS,
    ERASE_LOADED,
    ERASE_SHOWN,
    FILLER,
    GRID,
    LOAD,
    MOST_ROWS,
    PAINT,
    RETURN,
    ROLL,
    SHOW,
    controls,
    rows_codes,
    unheld,
    width,
    with_parity,
)
from tamarind.formats.broadcast.modelcues import box_of, cues_of
from tamarind.formats.broadcast.rows import is_within, placement_at, rows_of, unlike, within
from tamarind.formats.broadcast.smpte import NTSC, PLAIN_TIMECODES, RATES, Frames, Timecodes
from tamarind.formats.captionfile import FormatError, Repairs, brief, transcript_of
from tamarind.formats.captions.ttmodel import TimedParagraph
from tamarind.formats.format import DocumentKind, Format, FormatOption, Lack, Options
from tamarind.formats.rollup import CLEARED_AFTER_MS, lines_of
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Cue, Transcript

_HEAD = "Scenarist_SCC V1.0"
_BRIEF = 10
"""Frames for which a caption may stay on where there is no room for taking it away."""

_READ_ROWS, _READ_COLUMNS = 19, 40
"""Of the whole picture by ttconv's reckoning, two and four of which lie beside the captions'."""

_LINE = re.compile(r"\d\d:\d\d:\d\d[:;.,]\d\d\s+[0-9a-fA-F]{4}")


def write(transcript: Transcript, options: Options) -> str:
    """Write captions that pop on, roll up or are painted, as ``options`` say."""
    frames = _frames(options)
    lines = [_HEAD, ""]
    for run in _sent(transcript, options, frames).runs:
        frames.within_a_day(run.end)
        codes = " ".join(map(with_parity, run.codes))
        lines += [f"{frames.code(run.start)}\t{codes}", ""]
    return "\n".join(lines) + "\n"


def lacks(transcript: Transcript, options: Options) -> Iterator[Lack]:
    """Return what single cues cannot be written as is: rows, characters, time for sending."""
    for cue in transcript.cues:
        if not cue.words:
            continue
        if not is_within(cue, GRID, width):
            yield Lack(cue.id, cue.start, f"a line is longer than {GRID.columns} columns")
        if len(within(cue, GRID, width)) > MOST_ROWS:
            yield Lack(cue.id, cue.start, f"more than {MOST_ROWS} rows")
        if missing := unheld(cue.text):
            yield Lack(cue.id, cue.start, f"letters that SCC does not have: {missing}")
        for said in unlike(cue, COLOURS, "iu"):
            yield Lack(cue.id, cue.start, said)
    for cue, until in _cut_short(transcript):
        said = f"only one caption at a time is shown: it ends {cue.end - until} ms early"
        yield Lack(cue.id, cue.start, said)
    frames = _frames(options)
    for cue, late in _sent(transcript, options, frames).late:
        noun = "frame" if late == 1 else "frames"
        yield Lack(cue.id, cue.start, f"it cannot be sent in time: {late} {noun} late")


def _cut_short(transcript: Transcript) -> Iterator[tuple[Cue, int]]:
    """Return the captions during which another one begins, and when that is (ms)."""
    cues = [cue for cue in transcript.cues if cue.words]
    for cue, following in pairwise(cues):
        if following.start < cue.end:
            yield cue, following.start


def _frames(options: Options) -> Frames:
    """Return the frame count at 29.97 frames a second; 30 differs only in counting."""
    frames = options.timecodes.at(NTSC)
    if frames.rate in (NTSC, RATES["30"]):
        return frames
    drops = ";" in options.timecodes.start or options.timecodes.drops
    counted = Frames(NTSC, drops)
    try:
        return Frames(NTSC, drops, counted.number(options.timecodes.start))
    except ValueError:
        return counted


@dataclass(slots=True)
class _Run:
    """Codes for consecutive frames, from a first one."""

    start: int
    codes: list[int]

    @property
    def end(self) -> int:
        return self.start + len(self.codes)


class _Channel:
    """Schedules what is sent in each frame, one code at a time; what has no room is sent later."""

    def __init__(self) -> None:
        self.runs: list[_Run] = []
        self.late: list[tuple[Cue, int]] = []
        self._erased_at: int | None = None

    @property
    def free(self) -> int:
        """The first frame in which nothing is sent yet."""
        return self.runs[-1].end if self.runs else 0

    def erase_at(self, frame: int) -> None:
        """Erase the picture at a frame, before whatever is sent later."""
        self._erased_at = frame

    def show(self, load: list[int], cue: Cue, frame: int) -> None:
        """Load a caption so that it appears at a frame, erasing the one before meanwhile."""
        erased, self._erased_at = self._erased_at, None
        start = frame - len(load)
        if erased is not None and erased + 2 <= min(start, frame):
            self._send(controls(ERASE_SHOWN), erased)
            erased = None
        if erased is None or erased + 2 > frame:
            self._load(load, cue, start, frame)
            return
        before = _unparted(load, len(load) - (frame - erased - 2))
        if erased - before < self.free:
            if start >= self.free and frame - erased <= _BRIEF:
                self._load(load, cue, start, frame)
                return
            before = _unparted(load, max(erased - self.free, 0))
        codes = [*load[:before], *controls(ERASE_SHOWN), *load[before:]]
        self._load(codes, cue, erased - before, frame)

    def _load(self, codes: Sequence[int], cue: Cue, start: int, frame: int) -> None:
        """Send codes from a frame on, and the code that shows them at another, or as soon as
        possible."""
        start = max(start, self.free)
        filler = [FILLER] * (frame - start - len(codes))
        self._send([*codes, *filler, *controls(SHOW)], start)
        late = start + len(codes) + len(filler) - frame
        if late:
            self.late.append((cue, late))

    def put(self, codes: list[int], cue: Cue, frame: int, lead: int) -> None:
        """Send codes that show as they come, ``lead`` codes before a frame."""
        self.clear(frame - lead)
        if self.free > frame - lead:
            self.late.append((cue, self.free - frame + lead))
        self._send(codes, frame - lead)

    def clear(self, before: int | None = None) -> None:
        """Erase the picture, if that is due by a frame."""
        if self._erased_at is not None and (before is None or self._erased_at + 2 <= before):
            self._send(controls(ERASE_SHOWN), self._erased_at)
        self._erased_at = None

    def _send(self, codes: list[int], start: int) -> None:
        begun = max(start, self.free)
        if self.runs and self.runs[-1].end == begun:
            self.runs[-1].codes += codes
        else:
            self.runs.append(_Run(begun, list(codes)))


def _unparted(codes: Sequence[int], place: int) -> int:
    """Return a place near one where something can be inserted without separating a code from its
    repetition."""
    place = min(max(place, 0), len(codes))
    if place in (0, len(codes)) or codes[place - 1] != codes[place] or codes[place] >= 0x2000:
        return place
    alike = 1
    while alike < place and codes[place - 1 - alike] == codes[place]:
        alike += 1
    return place + alike % 2


def _sent(transcript: Transcript, options: Options, frames: Frames) -> _Channel:
    cues = [cue for cue in transcript.cues if cue.words]
    if options.rows is not None:
        return _rolling(transcript, min(max(options.rows, 2), 4), frames)
    return _painted(cues, frames) if options.painted else _popping(cues, frames)


def _popping(cues: Sequence[Cue], frames: Frames) -> _Channel:
    channel = _Channel()
    for cue in cues:
        load = controls(LOAD, ERASE_LOADED) + rows_codes(rows_of(cue, GRID, width))
        channel.show(load, cue, frames.frame(cue.start))
        channel.erase_at(frames.frame(cue.end))
    channel.clear()
    return channel


def _painted(cues: Iterable[Cue], frames: Frames) -> _Channel:
    channel = _Channel()
    for cue in cues:
        clear = controls(ERASE_SHOWN, PAINT)
        codes = clear + rows_codes(rows_of(cue, GRID, width))
        channel.put(codes, cue, frames.frame(cue.start), len(clear))
        channel.erase_at(frames.frame(cue.end))
    channel.clear()
    return channel


def _rolling(transcript: Transcript, rows: int, frames: Frames) -> _Channel:
    """Write roll-up captions: each line pushes the last ones up; a change of speaker, or silence,
    begins with a clear picture."""
    channel = _Channel()
    before = None
    for line in lines_of(transcript):
        stays = before is not None and line.start - before.end <= CLEARED_AFTER_MS
        stays = stays and before is not None and before.cue.speaker == line.cue.speaker
        if before is not None and not stays:
            channel.erase_at(min(frames.frame(before.end), frames.frame(line.start) - 4))
        cue = line.cue
        alone = Cue(cue.id, line.start, line.end, line.words, placement=cue.placement)
        parts = rows_of(alone, GRID, width)
        for number, row in enumerate(parts):
            placed = type(row)(parts[-1].number, row.column, row.words)
            codes = controls(ROLL[rows], RETURN) + rows_codes([placed])
            start = line.start + (line.end - line.start) * number // len(parts)
            channel.put(codes, cue, frames.frame(start), 2)
        before = line
    if before is not None:
        channel.erase_at(frames.frame(before.end))
    channel.clear()
    return channel


def timecodes_of(data: bytes) -> Timecodes:
    """Return whether the file uses drop-frame timecodes."""
    found = re.search(rb"^\d\d:\d\d:\d\d([:;.,])\d\d\s", data, re.MULTILINE)
    return Timecodes(PLAIN_TIMECODES.start, NTSC, found is None or found[1] != b":")


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read the captions of the first channel. Raises FormatError."""
    import ttconv.scc.reader

    repairs = Repairs() if repairs is None else repairs
    if not _LINE.search(text):
        raise FormatError("The file holds no line of an SCC file.")
    logging.getLogger("ttconv").setLevel(logging.CRITICAL)
    try:
        document = ttconv.scc.reader.to_model(text)
    except Exception as error:
        raise FormatError(f"The file is no SCC that makes sense ({brief(error)}).") from None
    found = cues_of(document, repairs, _placement)
    if not found:
        raise FormatError("The SCC file holds no caption.")
    return transcript_of(found, language, repairs)


def _placement(one: TimedParagraph) -> str:
    """Return a caption's place from the region that ttconv makes of its rows and columns."""
    box = box_of(one.region)
    if box is None or one.region.get_id().startswith("rollup"):
        return ""
    row, column = (round(box[1] * _READ_ROWS / 100) - 2, round(box[0] * _READ_COLUMNS / 100) - 4)
    widest = max(map(len, one.lines), default=0)
    if one.align == "center":
        column = (GRID.columns - widest) // 2
    return placement_at(row, column, len(one.lines), widest, GRID)


FORMAT = Format(
    ("scc",),
    "SCC",
    DocumentKind.BROADCAST,
    read=read,
    write=lambda transcript, source, options: write(transcript, options),
    holds=frozenset({Holds.LOOK, Holds.COLOUR, Holds.PLACE, Holds.FINE_PLACE}),
    choices=frozenset({FormatOption.TIMECODES, FormatOption.ROLLS}),
    is_utf8=True,
    may_mark=False,
    sign=re.compile(r"\s*Scenarist_SCC", re.IGNORECASE),
    timecodes_of=timecodes_of,
    columns=GRID.columns,
    lacks=lacks,
    rank=5,
)
FORMATS = (FORMAT,)
