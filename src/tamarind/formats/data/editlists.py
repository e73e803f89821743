"""Write edit decision lists for video editors: where in which source each piece of a cut lies.

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
    """One piece: from ``start`` to ``end`` (ms) of ``source``, which is ``length`` long (ms) and
    whose first frame has the timecode ``begun``. ``reel`` names its tape or card."""

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
    """Return a CMX 3600 list with record times from the first of the ``frames``."""
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
    """Return an OpenTimelineIO timeline: a video track, if there is any picture, and an audio
    track."""
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
    """Return reel names for CMX 3600: at most eight capitals and digits, all different; ``sources``
    are the files with their own names, if any."""
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
    """Yield each event with its first frame in the source's timecode and its number of frames."""
    for event in events:
        counted = Frames(frames.rate, frames.drops, frames.number(event.begun))
        first = counted.frame(event.start)
        yield event, first, max(counted.frame(event.end) - first, 1)


def _line(text: str) -> str:
    """Return a text on one line without control characters."""
    line = " ".join("".join(c if c.isprintable() else " " for c in text).split())
    return shortened(line, LONGEST_REMARK) if len(line) > LONGEST_REMARK else line
