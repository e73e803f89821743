"""What all caption files share: bytes to text, cues from lines, and errors in a sentence."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.reconcile import line_starts, spread


class FormatError(Exception):
    """A file cannot be read as what it should be; the message is one sentence."""


@dataclass(frozen=True, slots=True)
class RawCue:
    """A cue as it stands in a file: times in ms, lines of plain text, a speaker's name."""

    start: int
    end: int
    lines: tuple[str, ...]
    speaker: str | None = None


_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufeff]")


def decoded(data: bytes) -> str:
    """Text in UTF-8 or UTF-16 with or without byte-order mark, else Windows-1252.

    Line ends become "\\n"; control characters are dropped. Raises FormatError for what is no text.
    """
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        text = data.decode("utf-16", "replace")
    elif data[:200].count(0) > len(data[:200]) // 4:
        text = data.decode("utf-16-le" if data[1:2] == b"\0" else "utf-16-be", "replace")
        if sum(char.isprintable() or char.isspace() for char in text) < 0.9 * len(text):
            raise FormatError("This is no text file.")
    else:
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            if b"\0" in data:
                raise FormatError("This is no text file.") from None
            text = data.decode("cp1252", "replace")
    return _CONTROL.sub("", text.replace("\r\n", "\n").replace("\r", "\n"))


def transcript_of(raw: Iterable[RawCue], language: str) -> Transcript:
    """A transcript from cues in a file: in order of time, lines as they stood, words spread."""
    speakers: dict[str, Speaker] = {}
    cues: list[Cue] = []
    previous: int | None = None
    for item in sorted(raw, key=lambda cue: cue.start):
        lines = [line.split() for line in item.lines]
        tokens = [token for line in lines for token in line]
        if not tokens:
            continue
        speaker = None
        if item.speaker:
            name = " ".join(item.speaker.split())
            speaker = speakers.setdefault(name, Speaker(len(speakers) + 1, name)).id
        start, end = ordered(item.start, item.end)
        cues.append(
            Cue(
                id=len(cues) + 1,
                start=start,
                end=end,
                words=tuple(spread(tokens, start, end)),
                speaker=speaker,
                opens_paragraph=not cues or speaker != previous,
                breaks=line_starts(lines),
            )
        )
        previous = speaker
    return Transcript(language, tuple(cues), tuple(speakers.values()))


def ordered(start: int, end: int) -> tuple[int, int]:
    """A start and an end the right way round and apart, whatever the file says."""
    if end < start:
        start, end = end, start
    return start, max(end, start + 1)


def names_of(transcript: Transcript) -> dict[int | None, str | None]:
    """What to write for each speaker id; None for no speaker."""
    names: dict[int | None, str | None] = {s.id: s.label for s in transcript.speakers}
    names[None] = None
    return names
