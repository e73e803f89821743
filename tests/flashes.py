"""Recordings in which a flash and a beep come at the same instant, in any container, with sound or
picture that begin later, and files that do not start at 0."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

RATE = 25
SOUND = 48_000
SIZE = (96, 64)
EACH_MS = 200


@dataclass(frozen=True)
class Flashes:
    """``at`` are the instants (ms) of flash and beep, from where a player shows 0.

    The sound begins ``sound_from`` ms later than that, the picture ``picture_from``; the file's own
    times count from ``start``. Within ``gap`` (ms) there is no sound at all. ``uneven`` leaves out
    every third frame.
    """

    at: tuple[int, ...] = (2_000, 3_200)
    length: int = 4_000
    sound_from: int = 0
    picture_from: int = 0
    start: int = 0
    gap: tuple[int, int] = (0, 0)
    uneven: bool = False


KINDS = {
    "mp4": ("mp4", "libx264", "aac"),
    "mov": ("mov", "libx264", "pcm_s16le"),
    "mkv": ("matroska", "libx264", "aac"),
    "webm": ("webm", "libvpx-vp9", "libopus"),
    "ts": ("mpegts", "libx264", "aac"),
    "mpg": ("mpeg", "mpeg2video", "mp2"),
    "avi": ("avi", "mpeg4", "mp3"),
    "m4a": ("ipod", None, "aac"),
    "mp3": ("mp3", None, "libmp3lame"),
    "ogg": ("ogg", None, "libopus"),
    "wav": ("wav", None, "pcm_s16le"),
}
"""By suffix: the container and what is in it."""

HOLDS_START = frozenset({"mp4", "mov", "mkv", "webm", "ts", "mpg"})
"""Containers whose streams may begin at other times than 0."""


def write_flashes(path: Path, what: Flashes) -> Path:
    """Write such a recording; the suffix says of which kind."""
    container, video, audio = KINDS[path.suffix[1:]]
    with av.open(
        str(path), "w", format=container, options={"avoid_negative_ts": "disabled"}
    ) as out:
        sound = out.add_stream(audio, rate=SOUND, layout="mono")
        sound.codec_context.time_base = Fraction(1, SOUND)
        picture = None
        if video is not None:
            picture = out.add_stream(video, rate=RATE)
            picture.width, picture.height = SIZE
            picture.pix_fmt = "yuv420p"
            if what.uneven and video != "mpeg2video":
                picture.codec_context.time_base = Fraction(1, 1000)
            else:
                picture.codec_context.time_base = Fraction(1, RATE)
            picture.codec_context.gop_size = 10
        waiting = list(_packets(sound, picture, what))
        for _, packet in sorted(waiting, key=lambda one: one[0]):
            out.mux(packet)
    return path


def _packets(sound, picture, what: Flashes) -> Iterator[tuple[float, av.Packet]]:
    for frame in _sound(sound, what):
        for packet in sound.encode(frame):
            yield _timed(packet)
    for packet in sound.encode(None):
        yield _timed(packet)
    if picture is not None:
        for frame in _frames(what):
            for packet in picture.encode(frame):
                yield _timed(packet)
        for packet in picture.encode(None):
            yield _timed(packet)


def _timed(packet: av.Packet) -> tuple[float, av.Packet]:
    return float(packet.dts * packet.time_base), packet


def _sound(stream, what: Flashes) -> Iterator[av.AudioFrame]:
    size = stream.codec_context.frame_size or 1024
    time = np.arange(what.length * SOUND // 1000) / SOUND
    samples = np.zeros(len(time), np.float32)
    for at in what.at:
        first = at * SOUND // 1000
        last = first + EACH_MS * SOUND // 1000
        samples[first:last] = 0.6 * np.sin(2 * np.pi * 1000 * time[first:last])
    form = stream.codec_context.format.name
    begun = what.sound_from * SOUND // 1000
    spans = [(begun, len(samples))]
    if what.gap[1]:
        a, b = (ms * SOUND // 1000 // size * size for ms in what.gap)
        spans = [
            (begun, begun + (a - begun) // size * size),
            (begun + (b - begun) // size * size, len(samples)),
        ]
    for first, last in spans:
        for place in range(first, last, size):
            part = samples[place : min(place + size, last)]
            if len(part) < size:
                part = np.pad(part, (0, size - len(part)))
            data = part[None] if form == "fltp" else (part[None] * 32767).astype(np.int16)
            if form == "s32p":
                data = data.astype(np.int32) << 16
            frame = av.AudioFrame.from_ndarray(
                np.ascontiguousarray(data), format=form, layout="mono"
            )
            frame.sample_rate = SOUND
            frame.time_base = Fraction(1, SOUND)
            frame.pts = place + what.start * SOUND // 1000
            yield frame


def _frames(what: Flashes) -> Iterator[av.VideoFrame]:
    for number in range(what.length * RATE // 1000):
        time = number * 1000 // RATE
        if time < what.picture_from or (what.uneven and number % 3 == 1):
            continue
        bright = any(at <= time < at + EACH_MS for at in what.at)
        plane = np.full((SIZE[1] * 3 // 2, SIZE[0]), 128, np.uint8)
        plane[: SIZE[1]] = 235 if bright else 16
        frame = av.VideoFrame.from_ndarray(plane, "yuv420p")
        unit = 1000 if what.uneven else RATE
        frame.time_base = Fraction(1, unit)
        frame.pts = (time + what.start) * unit // 1000
        yield frame
