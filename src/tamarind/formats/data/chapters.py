"""Write the chapters of a text as WebVTT, or as a list of times and titles to paste under a
video."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript


@dataclass(frozen=True, slots=True)
class Chapter:
    """A title from ``start`` to ``end`` (ms)."""

    start: int
    end: int
    title: str


def chapters_of(text: Transcript, title: str, duration: int) -> list[Chapter]:
    """Return a chapter for each heading; what comes before the first is called ``title``.

    They cover all from the beginning on, as players want it.
    """
    begun = [(cue.start, cue.heading) for cue in text.cues if cue.heading]
    if not begun or begun[0][0] > 0:
        first = begun[0][0] if begun else None
        opening = min((cue.start for cue in text.cues if cue.words), default=0)
        if first is not None and first <= opening:
            # Nothing is said before the first heading: it begins with the recording.
            begun[0] = (0, begun[0][1])
        else:
            begun.insert(0, (0, title))
    last = max(duration, max((cue.end for cue in text.cues), default=0), begun[-1][0] + 1)
    ends = [start for start, _ in begun[1:]] + [last]
    return [
        Chapter(start, end, heading)
        for (start, heading), end in zip(begun, ends, strict=True)
        if end > start
    ]


def as_webvtt(chapters: Sequence[Chapter]) -> str:
    """Return a chapters track: a cue for each with its title."""
    blocks = ["WEBVTT\n"]
    for one in chapters:
        title = one.title.replace("&", "&amp;").replace("<", "&lt;").replace("-->", "→")
        blocks.append(f"{clock(one.start)} --> {clock(one.end)}\n{title}\n")
    return "\n".join(blocks)


def as_list(chapters: Sequence[Chapter]) -> str:
    """Return lines such as "0:00 The beginning"; with hours if one begins after an hour."""
    hours = any(one.start >= 3_600_000 for one in chapters)
    times = [clock(one.start, 0, hours=hours) for one in chapters]
    short = [time[1:] if time.startswith("0") else time for time in times]
    return "".join(f"{time} {one.title}\n" for time, one in zip(short, chapters, strict=True))


def _title(name: str) -> str:
    return name.rpartition(".")[0] or name


_WEBVTT = Format(
    ("chapters.vtt",),
    "Chapters, WebVTT",
    DocumentKind.DATA,
    write=lambda text, source, options: as_webvtt(
        chapters_of(text, _title(source.name), source.duration)
    ),
    is_utf8=True,
    rank=3,
)
_LIST = Format(
    ("chapters.txt",),
    "Chapters, a list",
    DocumentKind.DATA,
    write=lambda text, source, options: as_list(
        chapters_of(text, _title(source.name), source.duration)
    ),
    rank=4,
)
FORMATS = (_WEBVTT, _LIST)
