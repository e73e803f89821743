"""Edit decision lists: where in which source each piece of a cut lies, for programs that cut video.

As CMX 3600, the plain list that all of them read, and as OpenTimelineIO, by its library.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path

from tamarind.formats.broadcast.smpte import Frames
from tamarind.formats.filenames import shortened

LONGEST_REEL = 8
LONGEST_REMARK = 200

_NO_REEL = re.compile(r"[^A-Z0-9]+")


@dataclass(frozen=True, slots=True)
class EditEvent:
    """One piece: from ``start`` to ``end`` (ms) of ``source``, whose first frame has the timecode
    ``begun`` and which is ``length`` long (ms). ``reel`` names where that comes from."""

    name: str
    source: Path
    reel: str
    start: int
    end: int
    length: int
    begun: str = "00:00:00:00"
    has_picture: bool = False
    remarks: Mapping[str, str] = field(default_factory=dict)


def as_edl(title: str, events: Sequence[EditEvent], frames: Frames) -> str:
    """A CMX 3600 list whose record times count from the first of the ``frames`` on."""
    lines = [f"TITLE: {_line(title)}", f"FCM: {'' if frames.drops else 'NON-'}DROP FRAME"]
    recorded = frames.first
    for number, (event, first, count) in enumerate(_counted(events, frames), 1):
        codes = [frames.code(at) for at in (first, first + count, recorded, recorded + count)]
        track = "B" if event.has_picture else "A"
        lines += ["", f"{number:03}  {event.reel:8} {track:5} C        {' '.join(codes)}"]
        lines.append(f"* FROM CLIP NAME: {_line(event.source.name)}")
        for key, text in {"NAME": event.name, **event.remarks}.items():
            if text:
                lines.append(f"* {key.upper()}: {_line(text)}")
        recorded += count
    return "\n".join([*lines, ""])


def as_otio(title: str, events: Sequence[EditEvent], frames: Frames) -> str:
    """An OpenTimelineIO timeline: a track of pictures, if there are any, and one of sound."""
    from opentimelineio import adapters, opentime, schema

    rate = float(frames.rate)

    def time(count: int) -> opentime.RationalTime:
        return opentime.RationalTime(count, rate)

    def clip(event: EditEvent, first: int, count: int) -> schema.Clip:
        begun = frames.number(event.begun)
        whole = max(round(Fraction(event.length, 1000) * frames.rate), first + count - begun)
        media = schema.ExternalReference(
            event.source.absolute().as_uri(), opentime.TimeRange(time(begun), time(whole))
        )
        media.name = event.reel
        taken = opentime.TimeRange(time(first), time(count))
        notes = {key: text for key, text in event.remarks.items() if text}
        return schema.Clip(event.name, media, taken, metadata={"notes": notes, "reel": event.reel})

    timeline = schema.Timeline(title, global_start_time=time(frames.first))
    sound = schema.Track("Sound", kind=schema.TrackKind.Audio)
    picture = schema.Track("Picture", kind=schema.TrackKind.Video)
    for event, first, count in _counted(events, frames):
        sound.append(clip(event, first, count))
        length = opentime.TimeRange(time(0), time(count))
        shown = clip(event, first, count) if event.has_picture else schema.Gap(source_range=length)
        picture.append(shown)
    if any(event.has_picture for event in events):
        timeline.tracks.append(picture)
    timeline.tracks.append(sound)
    return str(adapters.write_to_string(timeline, "otio_json")) + "\n"


def reels(sources: Mapping[Path, str]) -> dict[Path, str]:
    """The names of reels as CMX 3600 has them, at most eight capitals and digits, no two alike;
    ``sources`` are the files with the names that they have themselves, if any."""
    found: dict[Path, str] = {}
    taken: set[str] = set()
    for path, own in sources.items():
        stem = _NO_REEL.sub("", (own or path.stem).upper())[:LONGEST_REEL] or "REEL"
        name, number = stem, 2
        while name in taken:
            mark = str(number)
            name, number = stem[: LONGEST_REEL - len(mark)] + mark, number + 1
        taken.add(name)
        found[path] = name
    return found


def _counted(events: Sequence[EditEvent], frames: Frames) -> Iterator[tuple[EditEvent, int, int]]:
    """Each event with its first frame in the source's timecode and its count of frames."""
    for event in events:
        counted = Frames(frames.rate, frames.drops, frames.number(event.begun))
        first = counted.frame(event.start)
        yield event, first, max(counted.frame(event.end) - first, 1)


def _line(text: str) -> str:
    """A text as one line without characters that are none."""
    line = " ".join("".join(c if c.isprintable() else " " for c in text).split())
    return shortened(line, LONGEST_REMARK) if len(line) > LONGEST_REMARK else line
