"""A drawing to be laid over a picture: colours, opacity, and place."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Bytes = NDArray[np.uint8]


@dataclass(frozen=True, slots=True, eq=False)
class Drawing:
    """``rgba`` (height, width, 4) of 8 bits, not premultiplied; its upper left corner is at
    ``left`` and ``top`` of the picture."""

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
        """Return the drawing at another place."""
        return replace(self, left=self.left + across, top=self.top + down)

    def within(self, width: int, height: int) -> Drawing | None:
        """Return what of it lies on a picture of this size; None for nothing."""
        left, top = max(self.left, 0), max(self.top, 0)
        right, bottom = min(self.right, width), min(self.bottom, height)
        if left >= right or top >= bottom:
            return None
        part = self.rgba[top - self.top : bottom - self.top, left - self.left : right - self.left]
        return Drawing(left, top, part)


class Canvas:
    """Layers composited over one another (Porter and Duff 1984, "Compositing digital images")."""

    def __init__(self, width: int, height: int) -> None:
        self._image = Image.new("RGBA", (width, height), (0, 0, 0, 0))

    def copy(self) -> Canvas:
        """Return a copy."""
        other = Canvas(0, 0)
        other._image = self._image.copy()
        return other

    def lay(self, mask: Image.Image, colour: str, opacity: float = 1.0) -> None:
        """Lay one colour over all, as much as the mask (canvas size, 0 to 255) says."""
        box = mask.getbbox()
        if box is None:
            return
        part = mask.crop(box)
        if opacity < 1:
            part = part.point([round(value * opacity) for value in range(256)])
        red, green, blue = (round(255 * share) for share in rgb(colour))
        layer = Image.new("RGBA", part.size, (red, green, blue, 0))
        layer.putalpha(part)
        self._image.alpha_composite(layer, box[:2])

    def lay_picture(self, picture: Image.Image, opacity: float = 1.0) -> None:
        """Lay a coloured picture of the canvas's size."""
        if opacity < 1:
            picture = picture.copy()
            cover = picture.getchannel("A")
            picture.putalpha(cover.point([round(value * opacity) for value in range(256)]))
        self._image.alpha_composite(picture)

    def drawing(self, left: int, top: int) -> Drawing:
        """Return everything that was laid, without empty margins."""
        box = self._image.getchannel("A").getbbox()
        if box is None:
            return Drawing(left, top, np.zeros((0, 0, 4), np.uint8))
        rgba = np.asarray(self._image.crop(box))
        return Drawing(left + box[0], top + box[1], rgba)


def together(drawings: Sequence[Drawing]) -> Drawing | None:
    """Return several drawings as one, later ones over earlier; None for none."""
    drawings = [one for one in drawings if one.rgba.size]
    if len(drawings) < 2:
        return drawings[0] if drawings else None
    left, top = min(one.left for one in drawings), min(one.top for one in drawings)
    right, bottom = max(one.right for one in drawings), max(one.bottom for one in drawings)
    canvas = Canvas(right - left, bottom - top)
    for one in drawings:
        whole = Image.new("RGBA", (right - left, bottom - top), (0, 0, 0, 0))
        whole.paste(Image.fromarray(one.rgba), (one.left - left, one.top - top))
        canvas.lay_picture(whole)
    return canvas.drawing(left, top)


def rgb(colour: str) -> tuple[float, float, float]:
    """Return red, green and blue (0 to 1) of a colour such as #ffe08a."""
    red, green, blue = (int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))
    return red, green, blue
