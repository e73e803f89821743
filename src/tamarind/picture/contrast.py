"""Measure the contrast between letters and the picture behind them.

By the contrast ratio of WCAG 2.2 (1.4.3) between the letters' colour and the pixels right beside
them: box, outline or the picture itself, whatever is there.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import av
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageFilter

from tamarind.picture.caption import Caption
from tamarind.picture.drawing import rgb
from tamarind.picture.looks import LEAST_CONTRAST, Box, Look, SpeakerSign
from tamarind.picture.render import draw

WORST = 0.1
"""This share of the surroundings may be worse than what is told."""

SAME, SOLID = 24, 200
"""Pixels this near to the letters' colour, and covering so much, are of the letters."""

_PLAIN = (720, 1280)
_BOXES, _COVERS = ("#101010", "#f6f3ea"), 0.95
BESIDE = 0.07
"""Of the letters' size: how far from a letter its surroundings go."""

Floats = NDArray[np.float64]


def least_contrast(look: Look, caption: Caption) -> float:
    """Return the least contrast ratio of a caption on plain pictures: black, grey and white."""
    ratios = []
    for grey in (0, 128, 255):
        plain = np.full((*_PLAIN, 3), grey, np.uint8)
        ratio = contrast(av.VideoFrame.from_ndarray(plain, format="rgb24"), caption, look)
        ratios.append(LEAST_CONTRAST if ratio is None else ratio)
    return min(ratios)


def on_box(look: Look) -> Look:
    """Return the caption style with a box behind each line, dark for light letters and the other
    way round, which stands out on any picture."""
    own = _luminance(np.array([255 * part for part in rgb(look.letters.colour)]))
    colour = max(_BOXES, key=lambda one: _ratio(own, _luminance(255 * np.array(rgb(one)))))
    ground = replace(look.ground, box=Box.LINES, colour=colour, opacity=_COVERS)
    return replace(look, name=f"{look.name}, on a box", ground=ground)


def contrast(frame: av.VideoFrame, caption: Caption, look: Look) -> float | None:
    """Return the contrast ratio, 1 to 21, of a caption on a frame; None if nothing is drawn."""
    size = frame.width, frame.height
    drawing = draw(caption, look, size).within(*size)
    if drawing is None:
        return None
    colour = look.letters.colour
    if look.words.speakers is SpeakerSign.COLOUR and caption.voice is not None:
        colour = look.words.voices[caption.voice % len(look.words.voices)]
    own = np.array([round(255 * part) for part in rgb(colour)])
    rgba = drawing.rgba.astype(int)
    near = np.abs(rgba[..., :3] - own).max(axis=2) < SAME
    letters = near & (rgba[..., 3] > SOLID)
    if not letters.any():
        return None
    reach = max(round(BESIDE * look.letters.size * frame.height), 2)
    around = _grown(letters, reach) & ~_grown(letters, 1)
    behind = frame.to_ndarray(format="rgb24")[
        drawing.top : drawing.bottom, drawing.left : drawing.right
    ]
    cover = rgba[..., 3:] / 255
    seen = (behind * (1 - cover) + rgba[..., :3] * cover)[around]
    one, others = _luminance(own[None].astype(float)), _luminance(seen)
    return float(np.quantile(_ratio(one, others), WORST))


def _ratio(one: Floats, other: Floats) -> Any:
    """Return the contrast ratio of luminances (0 to 1)."""
    return (np.maximum(one, other) + 0.05) / (np.minimum(one, other) + 0.05)


def _grown(mask: NDArray[np.bool_], pixels: int) -> NDArray[np.bool_]:
    image = Image.fromarray((mask * 255).astype(np.uint8))
    return np.asarray(image.filter(ImageFilter.MaxFilter(2 * pixels + 1))) > 0


def _luminance(colours: Floats) -> Floats:
    """Return the relative luminance (0 to 1) of 8-bit colours (…, 3)."""
    shares = colours / 255
    linear = np.where(shares <= 0.04045, shares / 12.92, ((shares + 0.055) / 1.055) ** 2.4)
    return np.asarray(linear @ np.array((0.2126, 0.7152, 0.0722)))
