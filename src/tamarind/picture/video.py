"""Write a video with captions drawn on it.

Frames are decoded, drawn on where a caption stands, and encoded one after the other; the sound is
copied where the container takes it. The file has its name only when it is whole.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import closing, suppress
from enum import StrEnum
from fractions import Fraction
from pathlib import Path
from typing import cast

import av

from tamarind.audio.clock import origin_of
from tamarind.audio.media import MediaError, open_media, picture_of
from tamarind.picture.carriedsound import CarriedSound, finish
from tamarind.picture.compose import FORMAT, compose
from tamarind.picture.containers import Container, Part, container_of, flags_for, whole_or_nothing
from tamarind.picture.frames import Stage
from tamarind.picture.shapes import AS_IS, Shape
from tamarind.picture.source import Picture, Preparing

Told = Callable[[float], None]
"""Called with the share (0 to 1) that is done; what it raises ends the work."""

KEYFRAME_S = 4


class Quality(StrEnum):
    """The quality, and so the size, of a video; ``lossless`` keeps every pixel."""

    SMALL = "small"
    GOOD = "good"
    BEST = "best"
    LOSSLESS = "lossless"


OPTIONS = {
    "libx264": {
        Quality.SMALL: {"crf": "27", "preset": "veryfast"},
        Quality.GOOD: {"crf": "21", "preset": "veryfast"},
        Quality.BEST: {"crf": "17", "preset": "medium"},
        Quality.LOSSLESS: {"qp": "0", "preset": "ultrafast"},
    },
    "libvpx-vp9": {
        Quality.SMALL: {"crf": "38", "b": "0", "deadline": "realtime", "cpu-used": "8"},
        Quality.GOOD: {"crf": "31", "b": "0", "deadline": "realtime", "cpu-used": "7"},
        Quality.BEST: {"crf": "24", "b": "0", "deadline": "good", "cpu-used": "4"},
        Quality.LOSSLESS: {"lossless": "1", "deadline": "realtime", "cpu-used": "8"},
    },
}


def burn(
    source: Path,
    target: Path,
    stage: Stage | None,
    quality: Quality = Quality.GOOD,
    shape: Shape = AS_IS,
    part: Part = (0, None),
    told: Told = lambda _share: None,
) -> None:
    """Write ``source`` to ``target`` (its suffix says the kind of file) with the captions of the
    ``stage``, if any; of ``part`` (ms) only. Captions have the times of the source.

    Raises MediaError with a sentence, and OSError; nothing is there then that was not before.
    """
    container = container_of(target)
    origin = origin_of(source)
    with whole_or_nothing(target) as beside, open_media(source) as read:
        if not has_picture(read):
            raise MediaError("The file has no moving picture.")
        with closing(
            av.open(str(beside), "w", format=container.name, options=flags_for(target))
        ) as out:
            _Burning(
                read,
                origin,
                out,
                container=container,
                stage=stage,
                quality=quality,
                shape=shape,
                part=part,
                told=told,
            ).run()


class _Burning:
    """One pass through a source."""

    def __init__(
        self,
        read: av.container.InputContainer,
        origin: Fraction,
        out: av.container.OutputContainer,
        *,
        container: Container,
        stage: Stage | None,
        quality: Quality,
        shape: Shape,
        part: Part,
        told: Told,
    ) -> None:
        self._read, self._out, self._container = read, out, container
        self._stage, self._quality, self._shape = stage, quality, shape
        self._start, self._end = part
        self._origin = origin
        self._told = told
        picture = picture_of(read)
        assert picture is not None
        self._picture_in = picture
        self._picture_in.thread_type = "AUTO"
        self._picture_out: av.VideoStream | None = None
        self._prepared: Preparing | None = None
        sounds = [CarriedSound(one, out, container, part, origin) for one in read.streams.audio]
        self._sounds = {sound.stream.index: sound for sound in sounds}
        length = read.duration / av.time_base * 1000 if read.duration else 0.0
        last = min(self._end, length) if self._end is not None and length else length
        self._length = max(last - self._start, 1.0)
        self._done = 0.0
        self._last_pts: int | None = None

    def run(self) -> None:
        """Write everything."""
        if self._start > 2_000:
            before = Fraction(self._start - 1_000, 1000) + self._origin
            self._read.seek(int(before * av.time_base), backward=True)
        streams = [self._picture_in, *(sound.stream for sound in self._sounds.values())]
        for packet in self._read.demux(streams):
            if packet.stream is not self._picture_in:
                sound = self._sounds[packet.stream.index]
                sound.take(cast("av.Packet[av.AudioStream]", packet))
            elif self._picture(cast("av.Packet[av.VideoStream]", packet)):
                break
        for frame in self._prepared.frames(None) if self._prepared else ():
            self._draw(frame)
        if self._picture_out is None:
            raise MediaError("No picture could be decoded in that part of the file.")
        for packet in self._picture_out.encode(None):
            self._out.mux(packet)
        finish(list(self._sounds.values()), self._read)

    def _picture(self, packet: av.Packet[av.VideoStream]) -> bool:
        """Handle a packet of the picture; return whether the section has ended."""
        try:
            frames = packet.decode()
        except av.InvalidDataError:
            return False
        for frame in frames:
            if frame.pts is None or frame.time_base is None:
                continue
            moment = float(frame.pts * frame.time_base - self._origin) * 1000
            if moment < self._start - 0.5:
                continue
            if self._end is not None and moment >= self._end:
                return True
            if self._prepared is None:
                self._begin(frame)
            assert self._prepared is not None
            for ready in self._prepared.frames(frame):
                self._draw(ready)
        return False

    def _begin(self, first: av.VideoFrame) -> None:
        picture = Picture.of(self._picture_in, first)
        self._prepared = Preparing(picture, self._shape, self._picture_in)
        self._picture_out = add_picture(
            self._out,
            self._container,
            self._quality,
            self._prepared.size,
            picture.rate,
            first.time_base or self._picture_in.time_base or Fraction(1, 1000),
            first,
        )
        for sound in self._sounds.values():
            sound.open()
        for sound in self._sounds.values():
            sound.begin()

    def _draw(self, frame: av.VideoFrame) -> None:
        assert self._picture_out is not None and frame.pts is not None
        base = frame.time_base or self._picture_in.time_base or Fraction(1, 1000)
        moment = int((frame.pts * base - self._origin) * 1000 + Fraction(1, 2))
        drawing = None
        if self._stage is not None:
            drawing = self._stage.drawing(moment, (frame.width, frame.height))
        drawn = compose(frame, drawing)
        drawn.pict_type = av.video.frame.PictureType.NONE
        pts = frame.pts - round((Fraction(self._start, 1000) + self._origin) / base)
        if self._last_pts is not None and pts <= self._last_pts:
            pts = self._last_pts + 1
        self._last_pts = pts
        drawn.pts, drawn.dts, drawn.time_base = pts, None, base
        for packet in self._picture_out.encode(drawn):
            self._out.mux(packet)
        done = min(max((moment - self._start) / self._length, 0.0), 1.0)
        if done - self._done >= 0.002:
            self._done = done
            self._told(done)


def add_picture(
    out: av.container.OutputContainer,
    container: Container,
    quality: Quality,
    size: tuple[int, int],
    rate: Fraction,
    base: Fraction,
    first: av.VideoFrame,
) -> av.VideoStream:
    """Add a stream for frames of a size, in the colours of the ``first`` one; their times count in
    ``base`` (s)."""
    stream = out.add_stream(
        container.video,
        rate=rate.limit_denominator(100_000),
        options=OPTIONS[container.video][quality],
    )
    assert isinstance(stream, av.VideoStream)
    stream.width, stream.height = size
    stream.pix_fmt = FORMAT
    context = stream.codec_context
    context.time_base = base
    context.gop_size = max(round(float(rate) * KEYFRAME_S), 1)
    context.thread_type = "AUTO"
    for name in ("colorspace", "color_range", "color_primaries", "color_trc"):
        with suppress(AttributeError, ValueError, TypeError):
            setattr(context, name, getattr(first, name))
    return stream


def has_picture(read: av.container.InputContainer) -> bool:
    """Whether a file has a moving picture."""
    return picture_of(read) is not None
