"""Read the timecode and reel name that a recording's file carries."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from tamarind.audio.media import open_media, picture_of
from tamarind.system.files import shown

_LONGEST = 100


@dataclass(frozen=True, slots=True)
class SourceTime:
    """``code`` is the timecode of the first frame, such as "10:00:00:00", or ""; ``since_midnight``
    the start of a sound recorder's file (s); ``rate`` the frame rate of the picture, or None;
    ``reel`` the name of the tape or card."""

    code: str = ""
    since_midnight: Fraction | None = None
    rate: Fraction | None = None
    reel: str = ""


def source_time(path: Path) -> SourceTime:
    """Read the timecode from a file's headers: the timecode track of MOV and MP4, MXF, the ``bext``
    chunk of Broadcast Wave (EBU Tech 3285). Raises MediaError."""
    with open_media(path) as read:
        told = [read.metadata, *(stream.metadata for stream in read.streams)]
        picture = picture_of(read)
        average = picture.average_rate if picture is not None else None
        rate = Fraction(average) if average else None
        since = None
        samples = _first(told, "time_reference")
        if samples.isdigit() and read.streams.audio:
            since = Fraction(int(samples), read.streams.audio[0].codec_context.sample_rate)
        reel = _first(told, "reel_name") or _first(told, "tape")
        return SourceTime(_first(told, "timecode"), since, rate, shown(reel))


def _first(told: list[dict[str, str]], key: str) -> str:
    return next((one[key].strip()[:_LONGEST] for one in told if one.get(key, "").strip()), "")
