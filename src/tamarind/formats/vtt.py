"""WebVTT (.vtt), after the W3C recommendation; speakers as voice spans."""

from __future__ import annotations

import html
import re

from tamarind.formats.captionfile import FormatError, RawCue, names_of, transcript_of
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript

_STAMP = r"(?:(\d+):)?(\d{1,2}):(\d{1,2})[.,](\d{1,3})"
_TIME_LINE = re.compile(rf"^\s*{_STAMP}\s*-->\s*{_STAMP}(?:\s.*)?$")
_VOICE = re.compile(r"<v(?:\.[^\s>]*)?[ \t]+([^>]*)>")
_TAG = re.compile(r"</?[a-zA-Z0-9.:][^<>]*>|</?>")


def write(transcript: Transcript) -> str:
    """A header with the language, then the cues with text."""
    names = names_of(transcript)
    blocks = [f"WEBVTT\nLanguage: {transcript.language}\n"]
    for cue in transcript.cues:
        if not cue.words:
            continue
        name = names.get(cue.speaker)
        body = "\n".join(_escaped(line) for line in cue.lines)
        if name:
            body = f"<v {_escaped(name)}>{body}</v>"
        blocks.append(f"{clock(cue.start)} --> {clock(cue.end)}\n{body}\n")
    return "\n".join(blocks)


def read(text: str, language: str) -> Transcript:
    """Notes, styles and regions are passed over; a missing header is forgiven.

    Raises FormatError when there is not one time line.
    """
    lines = text.split("\n")
    declared = re.search(r"^Language:\s*(\S+)", "\n".join(lines[:6]), re.MULTILINE)
    raw: list[RawCue] = []
    place = 0
    found = False
    while place < len(lines):
        match = _TIME_LINE.match(lines[place])
        place += 1
        if not match:
            continue
        found = True
        body: list[str] = []
        while place < len(lines) and lines[place].strip() and "-->" not in lines[place]:
            body.append(lines[place])
            place += 1
        groups = match.groups()
        raw.extend(_voiced(_ms(groups[:4]), _ms(groups[4:]), "\n".join(body)))
    if not found:
        raise FormatError("The file holds no WebVTT cue: not one line with a start and end time.")
    return transcript_of(raw, declared.group(1) if declared else language)


def _voiced(start: int, end: int, body: str) -> list[RawCue]:
    """A cue for each voice in it: two voices at a time share the time by their length."""
    parts: list[tuple[str | None, str]] = []
    place = 0
    speaker: str | None = None
    for match in _VOICE.finditer(body):
        parts.append((speaker, body[place : match.start()]))
        speaker, place = html.unescape(match.group(1)).strip() or None, match.end()
    parts.append((speaker, body[place:]))
    texts = [(name, html.unescape(_TAG.sub("", part)).strip()) for name, part in parts]
    texts = [(name, part) for name, part in texts if part]
    total = sum(len(part) for _, part in texts)
    result: list[RawCue] = []
    at = start
    letters = 0
    for name, part in texts:
        letters += len(part)
        until = start + (end - start) * letters // total
        result.append(RawCue(at, until, tuple(part.split("\n")), name))
        at = until
    return result


def _escaped(text: str) -> str:
    return html.escape(text, quote=False)


def _ms(groups: tuple[str | None, ...]) -> int:
    hours, minutes, seconds = (int(group or 0) for group in groups[:3])
    return ((hours * 60 + minutes) * 60 + seconds) * 1000 + int((groups[3] or "0").ljust(3, "0"))
