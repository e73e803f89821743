"""Read and write SubRip (.srt): numbered blocks of a time line and text, with tags for italics,
bold, underline and colour, and codes for nine places; no speakers."""

from __future__ import annotations

import re
from operator import attrgetter

from tamarind.formats.captionfile import Fault, FormatError, RawCue, Repairs, transcript_of
from tamarind.formats.colours import colour_of, colour_span
from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.placing import USUAL, anchor_of, placement_of
from tamarind.formats.spans import (
    LOOKS,
    Spans,
    closed,
    on_words,
    opened,
    with_common_spans,
    with_tags,
    without_last,
)
from tamarind.formats.timecode import clock
from tamarind.formats.timelines import Times, in_place, meant_times
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript
from tamarind.transcript.tokens import BLANKS

_SPANS = attrgetter("spans")
_STAMP = r"(\d{1,3}):(\d{1,2}):(\d{1,2})(?:[,.:](\d{1,3}))?"
_TIME_LINE = re.compile(rf"^[ \t]*{_STAMP}[ \t]*-{{1,3}}>[ \t]*{_STAMP}.*$", re.MULTILINE)
_ARROW_LINE = re.compile(r"^.*(?:->|[→⟶]).*$", re.MULTILINE)
_TAGS = re.compile(r"<[ \t]*(/?)[ \t]*(i|b|u|s|font)(?:[ \t/][^<>]*)?>|\{\\[^{}]*\}", re.IGNORECASE)
_ANCHOR = re.compile(r"\\an([1-9])|\\a(1[01]|[1-9])(?!\d)")
_COLOUR = re.compile(r"""colou?r\s*=\s*("[^"]*"|'[^']*'|[^\s>]+)""", re.IGNORECASE)
_FONT = re.compile(r"\b(?:face|size)\s*=", re.IGNORECASE)


def write(transcript: Transcript) -> str:
    """Write the cues with text, numbered from 1, with their own line breaks."""
    blocks: list[str] = []
    for cue in transcript.cues:
        if cue.words:
            times = f"{clock(cue.start, mark=',')} --> {clock(cue.end, mark=',')}"
            if any(map(_SPANS, cue.words)):
                body = with_tags(with_common_spans(cue), lambda word: word.text, tags=_written)
            else:
                body = "\n".join(cue.lines)
            anchor = anchor_of(cue.placement) if cue.placement else USUAL
            if anchor != USUAL:
                body = f"{{\\an{anchor}}}{body}"
            blocks.append(f"{len(blocks) + 1}\n{times}\n{body}\n")
    return "\n".join(blocks)


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read as far as possible: missing numbers, stray tags and disorder are repaired.

    Raises FormatError when there is not one time line.
    """
    repairs = Repairs() if repairs is None else repairs
    lines_with_times = ((line, _times_in(line[0])) for line in _ARROW_LINE.finditer(text))
    stamps = [(line, times) for line, times in lines_with_times if times is not None]
    if not stamps:
        raise FormatError("The file holds no SRT cue: not one line with a start and an end time.")
    _tell_what_stands_before(text[: stamps[0][0].start()], repairs)
    raw: list[RawCue] = []
    line, told = 1, 0
    for place, (match, times) in enumerate(stamps):
        line += text.count("\n", told, match.start())
        told = match.start()
        stop = stamps[place + 1][0].start() if place + 1 < len(stamps) else len(text)
        lines = text[match.end() : stop].strip("\n").split("\n")
        if place + 1 < len(stamps):
            lines, numbered = _without_number(lines, place + 2)
            if not numbered:
                repairs.note(f"The cue after line {line} has no number.")
        pieces, placement = _pieces("\n".join(lines), repairs)
        body = "".join(piece for piece, _ in pieces)
        plain = tuple(filter(None, (row.strip(BLANKS) for row in body.split("\n"))))
        start, end = in_place(times, raw[-1].end if raw else 0)
        if (start, end) != times:
            repairs.fault(
                Fault(place + 1, line, start, "its times make no sense"),
                f"The times of the cue at {clock(start)} make no sense and were put in place",
            )
        spans = on_words(pieces)
        raw.append(RawCue(start, end, plain, placement=placement, line=line, spans=spans))
    return transcript_of(raw, language, repairs)


def _written(span: str) -> tuple[str, str]:
    """Return the tags for words in a span."""
    colour = colour_of(span)
    if colour:
        return f'<font color="{colour}">', "</font>"
    return f"<{span}>", f"</{span}>"


def _pieces(body: str, repairs: Repairs) -> tuple[list[tuple[str, Spans]], str]:
    """Yield the text between tags with its format and place."""
    if "<" not in body and "{" not in body:
        return [(body, ())], ""
    pieces: list[tuple[str, Spans]] = []
    spans: Spans = ()
    fonts: list[str | None] = []
    placement = ""
    place = 0
    for match in _TAGS.finditer(body):
        pieces.append((body[place : match.start()], spans))
        place = match.end()
        head = (match[2] or "").lower()
        if head in LOOKS:
            spans = closed(spans, head) if match[1] else opened(spans, head)
        elif head == "font" and match[1]:
            spans = without_last(spans, fonts.pop() if fonts else None)
        elif head == "font":
            fonts.append(_colour_in(match[0], repairs))
            spans = (*spans, fonts[-1]) if fonts[-1] else spans
        elif head:
            repairs.drop("struck-through text", not match[1])
        else:
            anchors = _ANCHOR.findall(match[0])
            placement = placement_of(_anchor(anchors[0])) if anchors else placement
            if _ANCHOR.sub("", match[0]) != "{}":
                repairs.drop("other formatting codes")
    pieces.append((body[place:], spans))
    return pieces, placement


def _anchor(found: tuple[str, str]) -> int:
    """Return a place by its number on a keypad; the older numbers have 4 more at the top and 8 in
    the middle."""
    if found[0]:
        return int(found[0])
    number = int(found[1])
    column, row = number % 4, number // 4
    return max(column, 1) + {0: 0, 1: 6, 2: 3}[min(row, 2)]


def _colour_in(tag: str, repairs: Repairs) -> str | None:
    """Return the colour of a font tag as a span."""
    match = _COLOUR.search(tag)
    span = colour_span(match[1]) if match else None
    if span is None or _FONT.search(tag):
        repairs.drop("typefaces and sizes")
    return span


def _tell_what_stands_before(text: str, repairs: Repairs) -> None:
    """Note anything before the first time line but its number."""
    if text.strip() and not text.strip().isdigit():
        repairs.note("Text before the first cue was left out.")


def _without_number(lines: list[str], expected: int) -> tuple[list[str], bool]:
    """Remove the next cue's number at the end of some lines, where it follows a blank line or is
    the expected one; return whether there was one."""
    blanks = 0
    while lines and not lines[-1].strip():
        lines, blanks = lines[:-1], blanks + 1
    alone = len(lines) == 1 or (len(lines) > 1 and not lines[-2].strip())
    last = lines[-1].strip() if lines else ""
    if last.isdecimal() and (alone or (last == str(expected) and blanks == 0)):
        return lines[:-1], True
    return lines, False


def _times_in(line: str) -> Times | None:
    """Return start and end (ms), strictly or as they are probably meant."""
    match = _TIME_LINE.match(line)
    if match is None:
        return meant_times(line)
    groups = match.groups()
    return _ms(groups[:4]), _ms(groups[4:])


def _ms(groups: tuple[str | None, ...]) -> int:
    hours, minutes, seconds = (int(group or 0) for group in groups[:3])
    fraction = int((groups[3] or "0").ljust(3, "0"))
    return ((hours * 60 + minutes) * 60 + seconds) * 1000 + fraction


FORMAT = Format(
    ("srt",),
    "SRT captions",
    DocumentKind.CAPTIONS,
    read=read,
    write=lambda transcript, source, options: write(transcript),
    holds=frozenset({Holds.LOOK, Holds.COLOUR, Holds.PLACE}),
    sign=re.compile(r".{0,4000}?\d\s*-->\s*\d", re.DOTALL),
    loose=True,
    rank=1,
    for_excerpts=True,
    for_exchange=True,
)
FORMATS = (FORMAT,)
