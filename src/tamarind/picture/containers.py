"""The kinds of video files that are written: what they hold, and how one is whole or not there."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import av

from tamarind.audio.media import MediaError, reason_of

Part = tuple[int, int | None]
"""From and to, in ms; None is the end."""


@dataclass(frozen=True, slots=True)
class Container:
    """What a kind of file holds: the encoders of picture and sound, and what is copied."""

    name: str
    video: str
    audio: str
    copied: frozenset[str]


CONTAINERS = {
    ".mp4": Container("mp4", "libx264", "aac", frozenset({"aac", "mp3", "ac3", "eac3", "alac"})),
    ".mkv": Container(
        "matroska", "libx264", "aac",
        frozenset({"aac", "mp3", "ac3", "eac3", "opus", "vorbis", "flac", "pcm_s16le", "dts"}),
    ),
    ".webm": Container("webm", "libvpx-vp9", "libopus", frozenset({"opus", "vorbis"})),
}  # fmt: skip
"""By the suffix of the file."""


def container_of(target: Path) -> Container:
    """What kind of file a name asks for; raises MediaError for one that is not written."""
    try:
        return CONTAINERS[target.suffix.lower()]
    except KeyError:
        known = ", ".join(CONTAINERS)
        raise MediaError(f"Videos are written as {known}, not as “{target.suffix}”.") from None


def flags_for(target: Path) -> dict[str, str]:
    """What the writer is told: an MP4 can be shown while it is still being fetched."""
    return {"movflags": "+faststart"} if target.suffix.lower() == ".mp4" else {}


def name_beside(target: Path) -> Path:
    """What a file is called until it is whole."""
    return target.with_name(f".{target.name}.part")


@contextmanager
def whole_or_nothing(target: Path) -> Iterator[Path]:
    """A name beside the target for what is being written, which becomes the target at the end.
    Raises MediaError for what FFmpeg says of it."""
    beside = name_beside(target)
    try:
        yield beside
        beside.replace(target)
    except av.FFmpegError as error:
        raise MediaError(f"The file could not be written: {reason_of(error)}.") from error
    finally:
        beside.unlink(missing_ok=True)
