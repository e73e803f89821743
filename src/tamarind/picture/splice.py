"""Join stretches of videos, with captions drawn on them if wanted.

Every stretch begins with the frame that is seen at its in point and ends with the one before its
out point; its sound is cut to the sample (``audio/splice``).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import closing
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.filter import Graph
from numpy.typing import NDArray

from tamarind.audio.clock import origin_of
from tamarind.audio.media import MediaError, open_media, picture_of
from tamarind.audio.soundfile import SoundEncoder, encodable_rate
from tamarind.audio.splice import Cutting, Form, Span, Splice, form_of
from tamarind.picture.compose import FORMAT, compose
from tamarind.picture.containers import container_of, flags_for
from tamarind.picture.frames import Stage
from tamarind.picture.shapes import AS_IS
from tamarind.picture.source import Picture, Preparing
from tamarind.picture.video import Quality, Told, add_picture

BASE = Fraction(1, 90_000)
"""Ticks that frames of all usual rates fall on."""

EARLIER_MS = 1_500
"""Decoding begins so much before a stretch, or at the key frame before that."""

STILL_RATE = 25
DARK = (16, 128, 128)
"""Luma and chroma of black, in the range of video."""


def splice_video(
    target: Path,
    name: Path,
    cuttings: Sequence[Cutting],
    stage: Stage | None = None,
    quality: Quality = Quality.GOOD,
    told: Told = lambda _share: None,
) -> None:
    """Write the stretches as one video to ``target``, of the kind that the suffix of ``name`` says.
    Captions have the times of the new video. All get the size of the first picture, uncropped;
    where a recording has none, it is dark.

    Raises MediaError with a sentence, and OSError.
    """
    container = container_of(name)
    like = _first_picture(cuttings)
    rate = encodable_rate(form_of(cuttings).rate, container.audio)
    form = Form(rate, form_of(cuttings).channels)
    spans = [(cutting, span) for cutting in cuttings for span in cutting.spans]
    length = sum(end - start for _, (start, end) in spans)
    with closing(Splice(cuttings, form)) as splice:
        splice.read(lambda share: told(share * 0.1))
        with closing(
            av.open(str(target), "w", format=container.name, options=flags_for(name))
        ) as out:
            sound = splice.blocks()
            picture, first = like
            stream = add_picture(out, container, quality, picture.size, picture.rate, BASE, first)
            heard = _Sound(out, container.audio, form, sound)
            begun, last = 0, -1
            for cutting, span in spans:
                for frame, moment in _frames(cutting.path, span, picture):
                    time = begun + moment
                    drawing = None
                    if stage is not None:
                        drawing = stage.drawing(int(time), (frame.width, frame.height))
                    drawn = compose(frame, drawing)
                    drawn.pict_type = av.video.frame.PictureType.NONE
                    last = max(round(Fraction(time) * 90), last + 1)
                    drawn.pts, drawn.dts, drawn.time_base = last, None, BASE
                    for packet in stream.encode(drawn):
                        out.mux(packet)
                    heard.until(float(time) / 1000)
                    told(0.1 + 0.9 * min(float(time) / length, 1.0))
                begun += span[1] - span[0]
            for packet in stream.encode(None):
                out.mux(packet)
            heard.finish()


class _Sound:
    """The sound beside the picture, written as the picture goes on."""

    def __init__(
        self, out: av.container.OutputContainer, encoder: str, form: Form,
        blocks: Iterator[NDArray[np.float32]],
    ) -> None:  # fmt: skip
        format_ = "fltp" if encoder == "aac" else "flt"
        self._encoder = SoundEncoder(out, encoder, format_, form)
        self._blocks = blocks

    def until(self, time: float) -> None:
        """Write the sound up to a time (s)."""
        while self._encoder.time <= time:
            block = next(self._blocks, None)
            if block is None:
                return
            self._encoder.add(block)

    def finish(self) -> None:
        """Write the rest of the sound."""
        for block in self._blocks:
            self._encoder.add(block)
        self._encoder.finish()


def _first_picture(cuttings: Sequence[Cutting]) -> tuple[Picture, av.VideoFrame]:
    """Return the picture of the first recording that has one."""
    for cutting in cuttings:
        with open_media(cutting.path) as read:
            stream = picture_of(read)
            if stream is None:
                continue
            for frame in read.decode(stream):
                return Picture.of(stream, frame), frame
    raise MediaError("None of these recordings has a moving picture.")


def _frames(path: Path, span: Span, like: Picture) -> Iterator[tuple[av.VideoFrame, Fraction]]:
    """Yield the frames of a stretch in the size of another picture, with their times in it (ms)."""
    start, end = span
    origin = origin_of(path)
    with open_media(path) as read:
        stream = picture_of(read)
        if stream is None:
            yield from _dark(like.size, end - start)
            return
        stream.thread_type = "AUTO"
        if start > EARLIER_MS:
            before = Fraction(start - EARLIER_MS, 1000) + origin
            read.seek(int(before * av.time_base), backward=True)
        waiting: av.VideoFrame | None = None
        for frame, counted in _prepared(read, stream, like.size):
            time = counted - origin * 1000
            if time >= end:
                break
            if time > start + Fraction(1, 2) and waiting is not None:
                yield waiting, Fraction(0)
                waiting = None
            if time <= start + Fraction(1, 2):
                waiting = frame
            else:
                yield frame, time - start
        if waiting is not None:
            yield waiting, Fraction(0)


def _prepared(
    read: av.container.InputContainer, stream: av.VideoStream, size: tuple[int, int]
) -> Iterator[tuple[av.VideoFrame, Fraction]]:
    """Yield frames that can be drawn on, with their times (ms on the file's clock)."""
    preparing: Preparing | None = None
    fitting = _Fitting(size)
    for packet in read.demux(stream):
        try:
            frames = packet.decode()
        except av.InvalidDataError:
            continue
        for frame in frames:
            if frame.pts is None or frame.time_base is None:
                continue
            if preparing is None:
                preparing = Preparing(Picture.of(stream, frame), AS_IS, stream)
            for ready in preparing.frames(frame):
                yield fitting.fitted(ready), _time(ready, stream)
    if preparing is not None:
        for ready in preparing.frames(None):
            yield fitting.fitted(ready), _time(ready, stream)


def _time(frame: av.VideoFrame, stream: av.VideoStream) -> Fraction:
    base = frame.time_base or stream.time_base or Fraction(1, 1000)
    return Fraction(frame.pts or 0) * base * 1000


class _Fitting:
    """Scales frames to fit another size, with dark bars."""

    def __init__(self, size: tuple[int, int]) -> None:
        self._size = size
        self._graph: Graph | None = None
        self._made_for = size

    def fitted(self, frame: av.VideoFrame) -> av.VideoFrame:
        """Return one frame; its time is for the caller to set."""
        size = frame.width, frame.height
        if size == self._size:
            return frame
        if self._graph is None or self._made_for != size:
            self._graph, self._made_for = self._filters(frame), size
        self._graph.vpush(frame)
        return self._graph.vpull()

    def _filters(self, frame: av.VideoFrame) -> Graph:
        graph = Graph()
        last = graph.add_buffer(
            width=frame.width, height=frame.height, format=frame.format,
            time_base=frame.time_base or BASE,
        )  # fmt: skip
        wide, high = self._size
        for name, how in (
            ("scale", f"{wide}:{high}:flags=bicubic:force_original_aspect_ratio=decrease"
                      ":force_divisible_by=2"),
            ("pad", f"{wide}:{high}:-1:-1:color=black"),
            ("setsar", "1"),
            ("format", FORMAT),
            ("buffersink", None),
        ):  # fmt: skip
            following = graph.add(name, how)
            last.link_to(following)
            last = following
        graph.configure()
        return graph


def _dark(size: tuple[int, int], length: int) -> Iterator[tuple[av.VideoFrame, Fraction]]:
    """Yield dark frames for so long (ms)."""
    wide, high = size
    planes = np.full((high * 3 // 2, wide), DARK[1], np.uint8)
    planes[:high] = DARK[0]
    for number in range(max(length * STILL_RATE // 1000, 1)):
        frame = av.VideoFrame.from_ndarray(planes, FORMAT)
        yield frame, Fraction(number * 1000, STILL_RATE)
