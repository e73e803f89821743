"""Blend drawings over video frames in the colour format in which they are encoded.

Frames are of 8 bits in planes of luma and colour difference at half the size (4:2:0, ITU-T H.273).
The same is done for the preview and for what is written, so that both are the same picture.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import av
import numpy as np
from av.video.reformatter import ColorRange
from numpy.typing import NDArray

from tamarind.picture.drawing import Drawing, rgb

FORMAT = "yuv420p"
Words = NDArray[np.uint16]

_LUMA = {"bt601": (0.299, 0.114), "bt709": (0.2126, 0.0722), "bt2020": (0.2627, 0.0593)}
"""What red and blue count for in luma (ITU-R BT.601, BT.709, BT.2020)."""

_SPACES = {1: "bt709", 4: "bt601", 5: "bt601", 6: "bt601", 9: "bt2020", 10: "bt2020"}
"""Which of them a frame names, by the numbers of H.273."""

HIGH = 720
"""Pictures of at least so many rows that do not say how their colours are coded are as in BT.709,
lower ones as in BT.601."""


@dataclass(frozen=True, slots=True)
class Coding:
    """How a frame's colours are coded: the matrix, and whether they use the full range."""

    weights: str
    full: bool

    @staticmethod
    def of(frame: av.VideoFrame) -> Coding:
        """Return the coding that a frame declares, or the usual one for its size."""
        usual = "bt709" if frame.height >= HIGH else "bt601"
        weights = _SPACES.get(int(frame.colorspace), usual)
        return Coding(weights, int(frame.color_range) == ColorRange.JPEG)


def compose(frame: av.VideoFrame, drawing: Drawing | None) -> av.VideoFrame:
    """Return a frame with a drawing over it. A frame in ``FORMAT`` is changed in place; another is
    converted first."""
    if frame.format.name not in (FORMAT, "yuvj420p"):
        frame = frame.reformat(format=FORMAT)
    if drawing is None or not drawing.rgba.size:
        return frame
    layer = _layer(drawing, Coding.of(frame), frame.width, frame.height)
    if layer is not None:
        frame.make_writable()
        for plane, (top, left, added, kept) in zip(frame.planes, layer, strict=True):
            rows = np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
            part = rows[top : top + added.shape[0], left : left + added.shape[1]]
            part[...] = _by_255(part * kept + added)
    return frame


def compose_mask(
    frame: av.VideoFrame, left: int, top: int, alpha: NDArray[np.uint8], colour: str
) -> av.VideoFrame:
    """Return a frame in ``FORMAT`` with one colour over it as much as a mask says (height, width,
    both even, at an even place; 0 to 255)."""
    frame.make_writable()
    coding = Coding.of(frame)
    shades = [float(part[0]) for part in _planes(np.array([rgb(colour)], np.float32), coding)]
    wide = alpha.astype(np.uint16)
    small = (wide[::2, ::2] + wide[1::2, ::2] + wide[::2, 1::2] + wide[1::2, 1::2]) >> 2
    places = ((top, left, wide), *((top // 2, left // 2, small),) * 2)
    for plane, shade, (row, column, cover) in zip(frame.planes, shades, places, strict=True):
        rows = np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
        part = rows[row : row + cover.shape[0], column : column + cover.shape[1]]
        part[...] = _by_255(part * (np.uint16(255) - cover) + np.uint16(round(shade)) * cover)
    return frame


_Layer = tuple[tuple[int, int, Words, Words], ...]
"""For each plane: the first row and column, what is added, and how much (of 255) of the plane
stays."""


@lru_cache(32)
def _layer(drawing: Drawing, coding: Coding, width: int, height: int) -> _Layer | None:
    """Return a drawing as it is blended into the planes of a frame of this size."""
    # Blocks of two by two pixels share their colour difference.
    shown = drawing.within(width, height)
    if shown is None:
        return None
    top, left = shown.top // 2 * 2, shown.left // 2 * 2
    rows = min(-(-shown.bottom // 2) * 2, height + height % 2) - top
    columns = min(-(-shown.right // 2) * 2, width + width % 2) - left
    rgba = np.zeros((rows, columns, 4), np.float32)
    down, across = shown.top - top, shown.left - left
    own = shown.rgba.shape
    rgba[down : down + own[0], across : across + own[1]] = shown.rgba
    alpha = rgba[..., 3]
    luma, blue, red = _planes(rgba[..., :3] / np.float32(255), coding)
    inside = np.s_[: height - top, : width - left]
    first = (top, left, *_weighed(luma[inside], alpha[inside]))
    cover = _quarters(alpha)
    covered = np.maximum(cover, np.float32(1e-6))
    differences = [
        (top // 2, left // 2, *_weighed(np.asarray(_quarters(part * alpha) / covered), cover))
        for part in (blue, red)
    ]
    return (first, *differences)


def _planes(rgb: NDArray[np.float32], coding: Coding) -> tuple[NDArray[np.float32], ...]:
    """Return luma and chroma planes in 8 bits."""
    of_red, of_blue = _LUMA[coding.weights]
    luma = rgb @ np.array((of_red, 1 - of_red - of_blue, of_blue), np.float32)
    blue = (rgb[..., 2] - luma) / np.float32(2 * (1 - of_blue))
    red = (rgb[..., 0] - luma) / np.float32(2 * (1 - of_red))
    steps, differences, lowest = (255, 255, 0) if coding.full else (219, 224, 16)
    return lowest + luma * steps, 128 + blue * differences, 128 + red * differences


def _quarters(values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the mean of each block of two by two."""
    pairs = values[::2] + values[1::2]
    return np.asarray((pairs[:, ::2] + pairs[:, 1::2]) * np.float32(0.25))


def _weighed(values: NDArray[np.float32], alpha: NDArray[np.float32]) -> tuple[Words, Words]:
    """Return what is added to a plane, and how much of the plane stays."""
    cover = np.round(alpha).astype(np.uint16)
    steps = np.round(np.clip(values, 0, 255)).astype(np.uint16)
    return np.asarray(steps * cover), np.asarray(np.uint16(255) - cover)


def _by_255(sums: Words) -> Words:
    """Divide by 255 and round, without a division (Blinn 1995, "Three wrongs make a right")."""
    sums = np.asarray(sums + np.uint16(128))
    return np.asarray((sums + (sums >> np.uint16(8))) >> np.uint16(8))
