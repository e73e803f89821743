"""SubRip (.srt): numbered blocks of a time line and text; no speakers, no styles."""

from __future__ import annotations

import re

from tamarind.formats.captionfile import FormatError, RawCue, transcript_of
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript

_STAMP = r"(\d{1,3}):(\d{1,2}):(\d{1,2})(?:[,.:](\d{1,3}))?"
_TIME_LINE = re.compile(rf"^[ \t]*{_STAMP}[ \t]*-{{1,3}}>[ \t]*{_STAMP}.*$", re.MULTILINE)
_TAGS = re.compile(r"</?(?:i|b|u|s|font)(?:\s[^<>]*)?>|\{\\[^{}]*\}", re.IGNORECASE)


def write(transcript: Transcript) -> str:
    """The cues with text, numbered from 1; lines as set in each cue."""
    blocks: list[str] = []
    for cue in transcript.cues:
        if cue.words:
            times = f"{clock(cue.start, mark=',')} --> {clock(cue.end, mark=',')}"
            blocks.append(f"{len(blocks) + 1}\n{times}\n" + "\n".join(cue.lines) + "\n")
    return "\n".join(blocks)


def read(text: str, language: str) -> Transcript:
    """Read as far as sense allows: missing numbers, stray tags and disorder are put right.

    Raises FormatError when there is not one time line.
    """
    stamps = list(_TIME_LINE.finditer(text))
    if not stamps:
        raise FormatError("The file holds no SRT cue: not one line with a start and an end time.")
    raw: list[RawCue] = []
    for place, match in enumerate(stamps):
        stop = stamps[place + 1].start() if place + 1 < len(stamps) else len(text)
        lines = text[match.end() : stop].strip("\n").split("\n")
        if place + 1 < len(stamps):
            lines = _without_number(lines)
        plain = tuple(line for line in (_TAGS.sub("", li).strip() for li in lines) if line)
        groups = match.groups()
        raw.append(RawCue(_ms(groups[:4]), _ms(groups[4:]), plain))
    return transcript_of(raw, language)


def _without_number(lines: list[str]) -> list[str]:
    """Drop the next cue's number, which stands last before its time line, after a blank line."""
    while lines and not lines[-1].strip():
        lines = lines[:-1]
    alone = len(lines) == 1 or (len(lines) > 1 and not lines[-2].strip())
    if lines and lines[-1].strip().isdigit() and alone:
        return lines[:-1]
    return lines


def _ms(groups: tuple[str | None, ...]) -> int:
    hours, minutes, seconds = (int(group or 0) for group in groups[:3])
    fraction = int((groups[3] or "0").ljust(3, "0"))
    return ((hours * 60 + minutes) * 60 + seconds) * 1000 + fraction
