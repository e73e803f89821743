"""Read and write WebVTT (.vtt), as the W3C recommends; speakers are voice spans."""

from __future__ import annotations

import html
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from tamarind.formats import lookstyles
from tamarind.formats.captionfile import (
    Fault,
    FormatError,
    RawCue,
    Repairs,
    names_of,
    transcript_of,
)
from tamarind.formats.colours import style_for
from tamarind.formats.format import PLAIN_DETAILS, Details, DocumentKind, Format, FormatOption
from tamarind.formats.spans import (
    Spans,
    as_reading,
    closed,
    on_words,
    opened,
    with_language,
    with_readings,
    with_tags,
)
from tamarind.formats.timecode import clock
from tamarind.formats.timelines import in_place, meant_times
from tamarind.picture.looks import Look
from tamarind.transcript.bounds import is_language, is_placement
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.tokens import BLANKS

_STAMP = r"(?:(\d{1,4}):)?(\d{1,2}):(\d{1,2})[.,](\d{1,3})\d*"
_TIME_LINE = re.compile(rf"^\s*{_STAMP}\s*-->\s*{_STAMP}(?:[ \t]+(.*))?$")
_TAG = re.compile(r"<(/?)([^<>]*)>?")
_TIME = re.compile(_STAMP)
_SETTING = re.compile(r"^(?:vertical|line|position|size|align|region):\S+$")
_LANGUAGE = re.compile(r"Language:\s*(\S+)")
_NOTE = re.compile(r"^NOTE(?=[ \t]|$)")
_KEPT = re.compile(r"(?:STYLE|REGION)[ \t]*(?:\n|$)|NOTE(?=\s|$)")
_BLOCK = re.compile(r"^(STYLE|REGION)[ \t]*$")
_TAGS = frozenset(
    ["", *"c i b u v lang ruby rt s p br em strong font span div small big sub sup a tt".split()]
)
"""What is taken for a tag and left out: those of WebVTT, and those of web pages that people use."""


def write(
    transcript: Transcript, options: Details = PLAIN_DETAILS, look: Look | None = None
) -> str:
    """Write a note of the language, style and region blocks, then the cues with text and their
    notes; with a caption style its STYLE block, and its place for cues that have none of their
    own."""
    names = names_of(transcript)
    # The recommendation has no place for the language in the header; a note is for anything.
    language = " ".join(transcript.language.replace("-->", "").split())
    blocks = [f"WEBVTT\n\nNOTE Language: {language}\n"]
    if options.kept and transcript.preamble:
        kept = (block.strip("\n") for block in re.split(r"\n\s*\n", transcript.preamble))
        # Nothing that is kept may be read as a cue.
        blocks += [f"{block}\n" for block in kept if _KEPT.match(block) and "-->" not in block]
    spans = {span for cue in transcript.cues for word in cue.words for span in word.spans}
    rules = [rule for rule in map(style_for, sorted(spans)) if rule and options.kept]
    rules = [rule for rule in rules if rule not in transcript.preamble]
    usual = ""
    if look is not None:
        blocks.append(lookstyles.css(look))
        usual = lookstyles.settings(look)
    if rules:
        blocks.append("\n".join(["STYLE", *rules, ""]))
    for cue in transcript.cues:
        if not cue.words:
            continue
        name = " ".join((names.get(cue.speaker) or "").split()) if options.voices else ""
        body = _body(cue, options)
        if options.kept and cue.note:
            blocks += [f"{_note(block)}\n" for block in cue.note.split("\n\n")]
        if name:
            body = f"<v {_escaped(name)}>{body}</v>"
        placed = cue.placement if is_placement(cue.placement) and cue.placement else usual
        placement = f" {placed}" if placed else ""
        blocks.append(f"{clock(cue.start)} --> {clock(cue.end)}{placement}\n{body}\n")
    return "\n".join(blocks)


def _body(cue: Cue, options: Details) -> str:
    """Return a cue's lines, if wanted with spans and with times before all words but the first."""
    cue = with_language(cue)
    spans = options.kept and any(word.spans for word in cue.words)
    if not spans and not options.word_times:
        return _escaped("\n".join(cue.lines))

    def time(place: int, word: Word) -> str:
        timed = options.word_times and place and cue.start < word.start < cue.end
        return f"<{clock(word.start)}>" if timed else ""

    return with_tags(cue, _with_readings, time, lambda _span: options.kept)


def _with_readings(word: Word) -> str:
    """Return a word whose parts have ruby annotations."""

    def ruby(text: str, reading: str) -> str:
        return f"<ruby>{text}<rt>{reading}</rt></ruby>"

    return with_readings(word, _escaped, ruby)


def _note(text: str) -> str:
    """Return a note as a block, whatever its text."""
    lines = [line for line in text.replace("-->", "->").split("\n") if line.strip()]
    return ("NOTE\n" if text.startswith("\n") else "NOTE ") + "\n".join(lines)


def _block_end(lines: Sequence[str], place: int) -> int:
    """Return the first line from one on that belongs to no block begun before it."""
    while place < len(lines) and lines[place].strip() and "-->" not in lines[place]:
        place += 1
    return place


def _put_in_place(
    meant: tuple[int | None, int | None], raw: Sequence[RawCue], line: int, repairs: Repairs
) -> tuple[int, int]:
    """Return times for a cue whose own make no sense, after those before it, and note that."""
    start, end = in_place(meant, raw[-1].end if raw else 0)
    repairs.fault(
        Fault(len(raw) + 1, line, start, "its times make no sense"),
        f"The times of the cue at {clock(start)} make no sense and were put in place",
    )
    return start, end


def _declared(lines: Sequence[str], language: str) -> str:
    """Return the language that a file's head declares, or else ``language``."""
    heads = (_LANGUAGE.match(line.removeprefix("NOTE ")) for line in lines[:6])
    declared = next(filter(None, heads), None)
    return declared.group(1) if declared and is_language(declared.group(1)) else language


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read cues with voices, settings, notes, spans and word times; style and region blocks are
    kept verbatim, with the notes among them and after the last cue.

    A missing header is forgiven. Raises FormatError when there is
    not one time line.
    """
    repairs = Repairs() if repairs is None else repairs
    lines = text.split("\n")
    if not re.match(r"WEBVTT(?:[ \t].*)?$", lines[0]):
        repairs.note("The first line does not say WEBVTT.")
    reader = _Reader(lines, repairs)
    place = 0
    while place < len(lines):
        place = reader.read_from(place)
    if not reader.cues:
        raise FormatError("The file holds no WebVTT cue: not one line with a start and end time.")
    return transcript_of(
        reader.cues, _declared(lines, language), repairs, "\n\n".join(reader.all_blocks())
    )


class _Reader:
    """What has been read of a file: its cues, its style and region blocks with the notes among
    them, and the notes for the next cue."""

    def __init__(self, lines: Sequence[str], repairs: Repairs) -> None:
        self._lines, self._repairs = lines, repairs
        self.cues: list[RawCue] = []
        self._blocks: list[str] = []
        self._notes: list[str] = []

    def all_blocks(self) -> list[str]:
        """Return the blocks, with the notes after the last cue."""
        return [*self._blocks, *map(_note, _said(self._notes))]

    def read_from(self, place: int) -> int:
        """Read the cue or block that begins at a line, if any; return the first line after it."""
        line = self._lines[place]
        times = _TIME_LINE.match(line)
        meant = None if times or "-->" not in line or _NOTE.match(line) else meant_times(line)
        if times or meant is not None:
            return self._read_cue(place + 1, times, meant)
        comment = _NOTE.match(line)
        if "-->" in line and not comment:
            self._repairs.note(f"Line {place + 1} has no times that make sense.")
        elif (comment or _BLOCK.match(line)) and (place < 1 or not self._lines[place - 1].strip()):
            return self._read_block(place, bool(comment))
        return place + 1

    def _read_block(self, place: int, is_comment: bool) -> int:
        end = _block_end(self._lines, place + 1)
        block = "\n".join(self._lines[place:end])
        if is_comment:
            self._notes.append(block[len("NOTE") :].strip(" \t"))
        elif not self.cues:
            # Notes before a block are about the file, not about a cue.
            self._blocks += [*map(_note, _said(self._notes)), block]
            self._notes = []
        return end

    def _read_cue(
        self, place: int, times: re.Match[str] | None, meant: tuple[int | None, int | None] | None
    ) -> int:
        """Read a cue whose text begins at a line, after its times or what they are ``meant`` to
        be."""
        end_place = _block_end(self._lines, place)
        body = "\n".join(self._lines[place:end_place])
        placement = ""
        if times:
            groups = times.groups()
            placement = _settings(groups[8], place, self._repairs)
            start, end = _ms(groups[:4]), _ms(groups[4:8])
        else:
            start, end = _put_in_place(meant or (None, None), self.cues, place, self._repairs)
        voiced = _voiced(start, end, body, placement, place)
        if self._notes:
            voiced[0] = replace(voiced[0], note="\n\n".join(_said(self._notes)))
            self._notes = []
        self.cues.extend(voiced)
        return end_place


def _said(notes: Sequence[str]) -> list[str]:
    """Return the notes that are not our own."""
    return [note for note in notes if note.strip() and not _LANGUAGE.match(note)]


def _settings(text: str | None, line: int, repairs: Repairs) -> str:
    """Return a cue's settings that the recommendation defines."""
    parts = (text or "").split()
    kept = [part for part in parts if _SETTING.match(part) and is_placement(part)]
    if len(kept) < len(parts):
        repairs.note(f"Line {line} has a setting that is none.")
    return " ".join(kept)


def _voiced(start: int, end: int, body: str, placement: str, line: int) -> list[RawCue]:
    """Return a cue for each voice in it: voices share its time by length of text."""
    parts = [part for part in _parts(body) if "".join(piece.text for piece in part[1]).strip()]
    if not parts:
        return [RawCue(start, end, (), speaker=None, marks=(), placement=placement, line=line)]
    letters = [sum(len(piece.text.strip()) for piece in pieces) for _, pieces in parts]
    total = sum(letters)
    result: list[RawCue] = []
    at, counted = start, 0
    for (name, pieces), own in zip(parts, letters, strict=True):
        counted += own
        until = start + (end - start) * counted // total
        text = "".join(piece.text for piece in pieces)
        spans = on_words([(piece.text, piece.spans) for piece in pieces])
        marks = _marks(pieces, start, end)
        if marks:
            at = min(max(at, start), marks[0][1]) if len(parts) > 1 else at
        lines = tuple(filter(None, (row.strip(BLANKS) for row in text.split("\n"))))
        result.append(
            RawCue(
                at,
                until,
                lines,
                speaker=name,
                marks=marks,
                placement=placement,
                line=line,
                spans=spans,
            )
        )
        at = until
    return result


@dataclass(frozen=True, slots=True)
class _Piece:
    """Text between tags, the time (ms) before it, and its spans."""

    text: str
    time: int | None
    spans: Spans


def _parts(body: str) -> list[tuple[str | None, list[_Piece]]]:
    """Return the pieces of text of each voice."""
    parts: list[tuple[str | None, list[_Piece]]] = [(None, [])]
    time: int | None = None
    reading: list[str] | None = None
    base = 0
    spans: Spans = ()
    for kind, value in _tokens(body):
        if kind == "text" and reading is not None:
            reading.append(html.unescape(value))
        elif kind == "text":
            parts[-1][1].append(_Piece(html.unescape(value), time, spans))
            time = None
        elif kind == "time":
            time = int(value)
        elif kind == "voice":
            parts.append((html.unescape(value).strip() or None, []))
            base = 0
        elif kind == "end voice":
            parts.append((None, []))
            base = 0
        elif kind == "rt":
            reading = []
        elif kind == "end rt" or (kind == "close" and value == "ruby"):
            span = as_reading("".join(reading or []))
            own = parts[-1][1]
            if span and base < len(own):
                text = "".join(piece.text for piece in own[base:])
                own[base:] = [_Piece(text, own[base].time, (*own[base].spans, span))]
            reading, base = None, len(own)
        elif kind == "open":
            base = len(parts[-1][1]) if value == "ruby" else base
            spans = opened(spans, value)
        elif kind == "close":
            spans = closed(spans, value)
    return parts


def _tokens(body: str) -> Iterator[tuple[str, str]]:
    """Yield text, times and tags, in order."""
    place = 0
    for match in _TAG.finditer(body):
        closes, inside = match.groups()
        time = _TIME.fullmatch(inside.strip())
        head = re.split(r"[.\s]", inside, maxsplit=1)[0]
        if time is None and not (match.group().endswith(">") and head.rstrip("/") in _TAGS):
            # As in "3 < 4", or "<LAUGHS>": no word is lost.
            continue
        if match.start() > place:
            yield "text", body[place : match.start()]
        place = match.end()
        if time is not None:
            yield "time", str(_ms(time.groups()))
        elif head == "v":
            name = inside.partition(" ")[2] if not closes else ""
            yield ("end voice", "") if closes else ("voice", name)
        elif head == "rt":
            yield ("end rt", "") if closes else ("rt", "")
        else:
            yield ("close", head) if closes else ("open", inside)
    if place < len(body):
        yield "text", body[place:]


def _marks(pieces: Sequence[_Piece], start: int, end: int) -> tuple[tuple[int, int], ...]:
    """Return the times within a text that are in order and within its cue, by number of words
    before them."""
    marks: list[tuple[int, int]] = []
    words = 0
    within = False
    for one in pieces:
        time, piece = one.time, one.text
        inside = within and bool(piece[:1].strip())
        later = words and (not marks or ((time or 0) > marks[-1][1] and words > marks[-1][0]))
        if time is not None and start <= time <= end and later and not inside:
            marks.append((words, time))
        words += len(piece.split()) - inside
        within = bool(piece[-1:].strip()) if piece else within
    return tuple(marks)


def _escaped(text: str) -> str:
    return html.escape(text, quote=False)


def _ms(groups: tuple[str | None, ...]) -> int:
    hours, minutes, seconds = (int(group or 0) for group in groups[:3])
    return ((hours * 60 + minutes) * 60 + seconds) * 1000 + int((groups[3] or "0").ljust(3, "0"))


FORMAT = Format(
    ("vtt",),
    "WebVTT captions",
    DocumentKind.CAPTIONS,
    read=read,
    write=lambda transcript, source, options: write(transcript, options.details, options.look),
    holds=frozenset(Holds) - {Holds.HEADING, Holds.OWN_LOOK},
    choices=frozenset({FormatOption.DETAILS, FormatOption.LOOK}),
    is_utf8=True,
    sign=re.compile(r"WEBVTT"),
    rank=2,
    for_excerpts=True,
    for_exchange=True,
)
FORMATS = (FORMAT,)
