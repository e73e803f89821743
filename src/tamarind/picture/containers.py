"""The kinds of video files that are written: their codecs, and writing them completely or not at
all."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, TypeAlias

import av

from tamarind.audio.media import MediaError, reason_of

Packet: TypeAlias = "av.Packet[Any]"

Part = tuple[int, int | None]
"""From and to, in ms; None is the end."""


@dataclass(frozen=True, slots=True)
class Container:
    """A kind of file: its encoders for picture and sound, and what is copied."""

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
    """Return the kind of file that a name asks for. Raises MediaError for one that is not
    written."""
    try:
        return CONTAINERS[target.suffix.lower()]
    except KeyError:
        known = ", ".join(CONTAINERS)
        raise MediaError(f"Videos are written as {known}, not as “{target.suffix}”.") from None


def flags_for(target: Path) -> dict[str, str]:
    """Return the options of the writer: an MP4 can be shown while it is still downloading."""
    return {"movflags": "+faststart"} if target.suffix.lower() == ".mp4" else {}


def name_beside(target: Path) -> Path:
    """Return the name of an unfinished file."""
    return target.with_name(f".{target.name}.part")


class DecodingTimes:
    """Gives each packet a decoding time.

    Matroska keeps only when pictures are shown; of the first ones, which wait for each other, it is
    not told when they are decoded, and a writer takes no packet without that. All times count from
    ``origin`` (s of the file's own counting).
    """

    def __init__(self, origin: Fraction | int = 0) -> None:
        self._origin = origin
        self._last: dict[int, int] = {}

    def of(self, packets: Iterable[Packet]) -> Iterator[Packet]:
        """Yield the packets without the empty ones at the end."""
        waiting: list[Packet] = []
        for packet in packets:
            if packet.pts is None and packet.dts is None:
                continue
            index = packet.stream.index
            if packet.dts is None and index not in self._last:
                waiting.append(packet)
                continue
            own = [one for one in waiting if one.stream.index == index]
            if own:
                waiting = [one for one in waiting if one.stream.index != index]
                yield from self._before(own, packet)
            yield self._told(packet)
        while waiting:
            index = waiting[0].stream.index
            own = [one for one in waiting if one.stream.index == index]
            waiting = [one for one in waiting if one.stream.index != index]
            first = min(one.pts or 0 for one in own)
            yield from map(self._told, _spread(own, first - len(own)))

    def _before(self, own: Sequence[Packet], packet: Packet) -> Iterator[Packet]:
        step = max((one.duration or 0 for one in own), default=0)
        if not step and packet.stream.average_rate:
            step = int(1 / packet.stream.average_rate / packet.time_base)
        step = max(step, 1)
        yield from map(self._told, _spread(own, (packet.dts or 0) - len(own) * step, step))

    def _told(self, packet: Packet) -> Packet:
        index = packet.stream.index
        dts = packet.dts
        if dts is None:
            packet.dts = dts = min(self._last[index] + 1, packet.pts or 0)
        self._last[index] = dts
        if self._origin:
            shift = round(self._origin / packet.time_base)
            packet.dts = dts - shift
            packet.pts = None if packet.pts is None else packet.pts - shift
        return packet


def _spread(packets: Sequence[Packet], first: int, step: int = 1) -> Iterator[Packet]:
    for place, packet in enumerate(packets):
        packet.dts = first + place * step
        yield packet


@contextmanager
def whole_or_nothing(target: Path) -> Iterator[Path]:
    """Give a name beside the target to write to, and rename it at the end. Raises MediaError for
    errors of FFmpeg."""
    beside = name_beside(target)
    try:
        yield beside
        beside.replace(target)
    except av.FFmpegError as error:
        raise MediaError(f"The file could not be written: {reason_of(error)}.") from error
    finally:
        beside.unlink(missing_ok=True)
