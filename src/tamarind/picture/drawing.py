"""A piece of picture to be laid over others: colours, how much they cover, and where."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]


@dataclass(frozen=True, slots=True, eq=False)
class Drawing:
    """``rgba`` (height, width, 4) of whole numbers, colours as they are (not multiplied by what
    they cover); its upper left corner lies at ``left`` and ``top`` of the picture."""

    left: int
    top: int
    rgba: Bytes

    @property
    def right(self) -> int:
        """The first column beyond it."""
        return self.left + int(self.rgba.shape[1])

    @property
    def bottom(self) -> int:
        """The first row beyond it."""
        return self.top + int(self.rgba.shape[0])

    def moved(self, across: int, down: int) -> Drawing:
        """The same elsewhere."""
        return replace(self, left=self.left + across, top=self.top + down)

    def within(self, width: int, height: int) -> Drawing | None:
        """What of it lies on a picture of this size; None for nothing."""
        left, top = max(self.left, 0), max(self.top, 0)
        right, bottom = min(self.right, width), min(self.bottom, height)
        if left >= right or top >= bottom:
            return None
        part = self.rgba[top - self.top : bottom - self.top, left - self.left : right - self.left]
        return Drawing(left, top, part)


class Canvas:
    """Layers laid over one another in colours multiplied by what they cover (Porter and Duff 1984,
    "Compositing digital images")."""

    def __init__(self, width: int, height: int) -> None:
        self._colours = np.zeros((height, width, 3), np.float32)
        self._cover = np.zeros((height, width), np.float32)

    def lay(self, mask: Floats, colour: str, opacity: float = 1.0) -> None:
        """One colour over all, where and as much as the mask (height, width; 0 to 1) says."""
        cover = np.asarray(mask * np.float32(opacity))
        self._over(np.asarray(np.array(rgb(colour), np.float32) * cover[..., None]), cover)

    def lay_picture(self, rgba: Bytes, opacity: float = 1.0) -> None:
        """A picture of the canvas's size."""
        own = rgba.astype(np.float32) / np.float32(255)
        cover = own[..., 3] * np.float32(opacity)
        self._over(np.asarray(own[..., :3] * cover[..., None], np.float32), np.asarray(cover))

    def _over(self, colours: Floats, cover: Floats) -> None:
        rest = 1 - cover
        self._colours = colours + self._colours * rest[..., None]
        self._cover = cover + self._cover * rest

    def drawing(self, left: int, top: int) -> Drawing:
        """All that was laid, without empty margins."""
        alpha = np.round(self._cover * 255).astype(np.uint8)
        rows, columns = np.flatnonzero(alpha.any(axis=1)), np.flatnonzero(alpha.any(axis=0))
        if not len(rows):
            return Drawing(left, top, np.zeros((0, 0, 4), np.uint8))
        part = slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1)
        plain = self._colours[part] / np.maximum(self._cover[part], 1e-6)[..., None]
        rgba = np.concatenate(
            [np.round(np.clip(plain, 0, 1) * 255).astype(np.uint8), alpha[part][..., None]], axis=2
        )
        return Drawing(left + int(columns[0]), top + int(rows[0]), rgba)


def together(drawings: Sequence[Drawing]) -> Drawing | None:
    """Several as one, the later over the earlier; None for none."""
    drawings = [one for one in drawings if one.rgba.size]
    if len(drawings) < 2:
        return drawings[0] if drawings else None
    left, top = min(one.left for one in drawings), min(one.top for one in drawings)
    right, bottom = max(one.right for one in drawings), max(one.bottom for one in drawings)
    canvas = Canvas(right - left, bottom - top)
    for one in drawings:
        whole = np.zeros((bottom - top, right - left, 4), np.uint8)
        whole[one.top - top : one.bottom - top, one.left - left : one.right - left] = one.rgba
        canvas.lay_picture(whole)
    return canvas.drawing(left, top)


def rgb(colour: str) -> tuple[float, float, float]:
    """Red, green and blue (0 to 1) of a colour such as #ffe08a."""
    red, green, blue = (int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))
    return red, green, blue
