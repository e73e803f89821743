"""Describe a video's picture, and convert its frames to ones that can be drawn on.

Frames come out upright, of square pixels, whole (not interlaced), of even width and height, in 8
bits.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

import av
from av.filter import Graph

from tamarind.audio.media import MediaError
from tamarind.picture.compose import FORMAT
from tamarind.picture.shapes import AS_IS, Shape, add_shape, shaped_size

_HDR = {16: "HDR (PQ)", 18: "HDR (HLG)"}
"""Transfer functions of H.273 that no display of ordinary range shows right."""

LARGEST = 8192


@dataclass(frozen=True, slots=True)
class Picture:
    """``size`` is that of the frames as seen: rotated, with square pixels, even."""

    size: tuple[int, int]
    rate: Fraction
    turned: int
    interlaced: bool
    plain: bool
    """Whether frames can be drawn on as they come from the decoder."""

    @staticmethod
    def of(stream: av.VideoStream, first: av.VideoFrame) -> Picture:
        """Describe a stream by its first frame; raises MediaError for one that cannot be drawn
        on."""
        transfer = int(first.color_trc)
        if transfer in _HDR:
            raise MediaError(
                f"The picture is {_HDR[transfer]}, whose colours would come out wrong: add captions"
                " that can be switched on and off, or make a copy in standard range first."
            )
        width, height = first.width, first.height
        if min(width, height) < 2 or max(width, height) > LARGEST:
            raise MediaError(f"The picture has {width} by {height} pixels.")
        aspect = stream.sample_aspect_ratio or Fraction(1)
        turned = round(first.rotation / 90) * 90 % 360
        wide = round(width * aspect) if aspect > 0 else width
        seen = (height, wide) if turned in (90, 270) else (wide, height)
        size = max(seen[0] // 2 * 2, 2), max(seen[1] // 2 * 2, 2)
        interlaced = bool(first.interlaced_frame)
        plain = (
            size == (width, height)
            and not turned
            and not interlaced
            and first.format.name == FORMAT
        )
        rate = stream.average_rate or stream.guessed_rate or Fraction(25)
        return Picture(size, Fraction(rate), turned, interlaced, plain)


class Preparing:
    """Takes frames of the decoder and yields frames to be drawn on."""

    def __init__(self, picture: Picture, shape: Shape, stream: av.VideoStream) -> None:
        self.size = shaped_size(picture.size, shape)
        self._graph: Graph | None = None
        self._picture, self._shape, self._stream = picture, shape, stream
        self._made_for: tuple[int, int, str] | None = None

    def frames(self, frame: av.VideoFrame | None) -> Iterator[av.VideoFrame]:
        """Yield what comes out after one more frame; None for the end."""
        if self._picture.plain and self._shape.kind is AS_IS.kind:
            if frame is not None:
                yield frame
            return
        if frame is not None:
            kind = frame.width, frame.height, frame.format.name
            if self._graph is None or kind != self._made_for:
                # Frames of another size or form need other filters.
                yield from self._rest()
                self._graph, self._made_for = self._filters(frame), kind
            self._graph.vpush(frame)
            yield from self._ready()
        else:
            yield from self._rest()

    def _rest(self) -> Iterator[av.VideoFrame]:
        if self._graph is not None:
            self._graph.vpush(None)
            yield from self._ready()
            self._graph = None

    def _ready(self) -> Iterator[av.VideoFrame]:
        assert self._graph is not None
        while True:
            try:
                yield self._graph.vpull()
            except (av.BlockingIOError, av.EOFError):
                return

    def _filters(self, frame: av.VideoFrame) -> Graph:
        graph = Graph()
        last = graph.add_buffer(
            width=frame.width, height=frame.height, format=frame.format,
            time_base=frame.time_base or self._stream.time_base,
        )  # fmt: skip
        picture = self._picture
        steps: list[tuple[str, str]] = []
        if picture.interlaced:
            steps.append(("bwdif", "mode=send_frame"))
        turns = {90: ["cclock"], 180: ["clock", "clock"], 270: ["clock"]}
        steps += [("transpose", way) for way in turns.get(picture.turned, [])]
        steps.append(("scale", f"{picture.size[0]}:{picture.size[1]}:flags=bicubic"))
        steps.append(("setsar", "1"))
        steps.append(("format", FORMAT))
        for name, how in steps:
            following = graph.add(name, how)
            last.link_to(following)
            last = following
        last = add_shape(graph, last, picture.size, self._shape)
        sink = graph.add("buffersink")
        last.link_to(sink)
        graph.configure()
        return graph
