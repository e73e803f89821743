"""Draw a caption in a style, at the size of the picture.

Layers lie over one another: box, shadow, outline, letters.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache
from math import modf
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter

from tamarind.picture.caption import Caption
from tamarind.picture.drawing import Canvas, Drawing
from tamarind.picture.faces import FontFile, GlyphRun, opened, opened_emoji
from tamarind.picture.looks import Box, Coming, Look, SpeakerSign
from tamarind.picture.setting import (
    BOX_ABOVE,
    PlacedLine,
    SetLine,
    SetWord,
    clusters,
    extent,
    is_joined,
    placed_lines,
)

Floats = NDArray[np.float32]
Size = tuple[int, int]

SHADOW_OFFSET = 0.06
"""Of the letters' size, down and half of it to the right."""


SHADOW_STEP = 2
SHADOW_REACH = 3.0
"""Of its radius: as far as a blur is seen."""


def draw(caption: Caption, look: Look, size: Size, said: int | None = None) -> Drawing:
    """Draw a caption for a picture of a size (width, height), with its first ``said`` words
    spoken."""
    if look.words.coming is Coming.WHOLE:
        said = None
    return _drawn(caption, look, size, said)


@lru_cache(32)
def _drawn(caption: Caption, look: Look, size: Size, said: int | None) -> Drawing:
    return _painted(placed_lines(caption, look, size), caption, look, said)


def _painted(
    placed: Sequence[PlacedLine], caption: Caption, look: Look, said: int | None
) -> Drawing:
    if not placed:
        return Drawing(0, 0, np.zeros((0, 0, 4), np.uint8))
    em = max(one.line.size for one in placed)
    around = em * (look.ground.padding + look.letters.outline + look.letters.shadow * 2 + 1.2)
    left = int(min(one.left for one in placed) - around)
    top = int(min(one.baseline - one.line.size for one in placed) - around)
    right = int(max(one.left + one.line.width for one in placed) + around) + 1
    bottom = int(max(one.baseline for one in placed) + around) + 1
    size = right - left, bottom - top
    seen = tuple(replace(one, left=one.left - left, baseline=one.baseline - top) for one in placed)
    comes = said if look.words.coming is Coming.WORDS else None
    canvas = _below_letters(seen, look, size, comes, em).copy()
    opacity = look.letters.opacity
    for colour, mask in _letter_masks(seen, caption, look, size, said).items():
        canvas.lay(mask, colour, opacity)
    emoji = _emoji(seen, look, size, said)
    if emoji is not None:
        canvas.lay_picture(emoji, opacity)
    return canvas.drawing(left, top)


@lru_cache(16)
def _below_letters(
    seen: tuple[PlacedLine, ...], look: Look, size: Size, comes: int | None, em: float
) -> Canvas:
    """Draw box, shadow and outline, which stay the same while words are highlighted; ``comes`` is
    how many words are shown, None for all."""
    canvas = Canvas(*size)
    opacity = look.letters.opacity
    if look.ground.box is not Box.NONE:
        canvas.lay(_boxes(seen, look, size, comes), look.ground.colour, look.ground.opacity)
    outline = look.letters.outline * em
    if outline <= 0 and look.letters.shadow <= 0:
        return canvas
    grown = _mask(seen, look, size, comes, max(outline, 0.0))
    if look.letters.shadow > 0:
        canvas.lay(_shadow(grown, look, em), look.letters.shadow_colour, 0.8 * opacity)
    if outline > 0:
        canvas.lay(grown, look.letters.outline_colour, opacity)
    return canvas


def _visible(line: SetLine, look: Look, said: int | None) -> list[tuple[float, SetWord]]:
    """Return the words of a line that are shown."""
    if look.words.coming is not Coming.WORDS or said is None:
        return list(line.words)
    return [pair for pair in line.words if pair[1].number is None or pair[1].number < said]


def _letter_masks(
    placed: Sequence[PlacedLine], caption: Caption, look: Look, size: Size, said: int | None
) -> dict[str, Image.Image]:
    """Return a mask of the letters for each colour."""
    usual_colour = look.letters.colour
    if look.words.speakers is SpeakerSign.COLOUR and caption.voice is not None:
        usual_colour = look.words.voices[caption.voice % len(look.words.voices)]
    lit = said - 1 if look.words.coming is Coming.LIT and said else None

    def colour_of(one: PlacedLine, word: SetWord) -> str:
        if lit is not None and word.number == lit:
            return look.words.lit
        return usual_colour if one.is_first else one.line.letters.colour

    colours = {colour_of(one, word) for one in placed for _, word in one.line.words}

    def mask(colour: str) -> Image.Image:
        return _mask(placed, look, size, said, 0.0, lambda *word: colour_of(*word) == colour)

    return {colour: mask(colour) for colour in sorted(colours)}


def _mask(
    placed: Sequence[PlacedLine],
    look: Look,
    size: Size,
    said: int | None,
    outline: float,
    wanted: Callable[[PlacedLine, SetWord], bool] | None = None,
) -> Image.Image:
    """Return the mask of letters (0 to 255), grown by an outline in pixels."""
    image = Image.new("L", size, 0)
    pen = ImageDraw.Draw(image)
    for one in placed:
        em, letters = round(one.line.size, 2), one.line.letters
        for at, word in _visible(one.line, look, said):
            if wanted is not None and not wanted(one, word):
                continue
            x = one.left + at
            for run, width in zip(word.runs, word.widths, strict=True):
                if run.font is not None and not run.is_emoji:
                    parts = [run.text]
                    if letters.spacing and not is_joined(run.text):
                        parts = clusters(run.text)
                    along = x
                    for part in parts:
                        (begun, x_whole), (lowered, y_whole) = modf(along), modf(one.baseline)
                        stamp, offset = _stamp(run.font, em, part, outline, (begun, lowered))
                        at_pixel = int(x_whole) + offset[0], int(y_whole) + offset[1]
                        pen.draw.draw_bitmap(at_pixel, stamp, 255)
                        along += _length(run.font, em, part) + letters.spacing * em
                x += width
    return image


@lru_cache(1_000)
def _stamp(
    font: FontFile, em: float, text: str, outline: float, start: tuple[float, float]
) -> tuple[Any, tuple[int, int]]:
    """Return the cached mask of a text at a subpixel position, with its offset."""
    return opened(font, em).getmask2(
        text, "L", stroke_width=outline, anchor="ls", ink=255, start=start, stroke_filled=True
    )


@lru_cache(2_000)
def _length(font: FontFile, em: float, text: str) -> float:
    return opened(font, em).getlength(text)


def _shadow(mask: Image.Image, look: Look, em: float) -> Image.Image:
    """Return a blurred and shifted mask; blurred at a small size, since it has no edges."""
    moved = Image.new("L", mask.size, 0)
    box = mask.getbbox()
    if box is None:
        return moved
    down = max(round(em * SHADOW_OFFSET), 1)
    radius = look.letters.shadow * em
    reach = round(radius * SHADOW_REACH) + SHADOW_STEP
    # On whole steps, so that the same letters have the same shadow wherever they stand.
    left, top = (max(edge - reach, 0) // SHADOW_STEP * SHADOW_STEP for edge in box[:2])
    part = mask.crop((left, top, box[2] + reach, box[3] + reach))
    soft = part.reduce(SHADOW_STEP).filter(ImageFilter.GaussianBlur(radius / SHADOW_STEP))
    moved.paste(soft.resize(part.size, Image.Resampling.BILINEAR), (left + down // 2, top + down))
    return moved


def _boxes(placed: Sequence[PlacedLine], look: Look, size: Size, said: int | None) -> Image.Image:
    """Return the mask of boxes with rounded corners and smooth edges."""
    ground = look.ground
    found: list[tuple[float, float, float, float]] = []
    for one in placed:
        words = _visible(one.line, look, said)
        if not words:
            continue
        pad = ground.padding * one.line.size
        ascent, descent = extent(one.line)
        room = (one.line.size * look.standing.line_height - ascent - descent) / 2
        up = room if ground.box is Box.LINES else pad * BOX_ABOVE
        found.append((
            one.left + words[0][0] - pad,
            one.baseline - ascent - max(up, 0.0),
            one.left + words[-1][0] + words[-1][1].width + pad,
            one.baseline + descent + max(up, 0.0),
        ))  # fmt: skip
    if ground.box is Box.BLOCK and found:
        lefts, tops, rights, bottoms = zip(*found, strict=True)
        found = [(min(lefts), min(tops), max(rights), max(bottoms))]
    radius = ground.rounding * placed[0].line.size
    masks = [_rounded(box, radius, size) for box in found]
    empty = np.zeros((size[1], size[0]), np.float32)
    covered = np.maximum.reduce([empty, *masks])
    return Image.fromarray(np.round(covered * np.float32(255)).astype(np.uint8))


def _rounded(box: tuple[float, float, float, float], radius: float, size: Size) -> Floats:
    """Return the coverage of a rectangle with rounded corners, by the distance to its edge (Quilez,
    "2D distance functions")."""
    left, top, right, bottom = box
    radius = min(radius, (right - left) / 2, (bottom - top) / 2)
    x = np.abs(np.arange(size[0], dtype=np.float32) + 0.5 - (left + right) / 2)
    y = np.abs(np.arange(size[1], dtype=np.float32) + 0.5 - (top + bottom) / 2)
    x = x - np.float32((right - left) / 2 - radius)
    y = y - np.float32((bottom - top) / 2 - radius)
    outside = np.hypot(np.maximum(x, 0)[None, :], np.maximum(y, 0)[:, None])
    inside = np.minimum(np.maximum(x[None, :], y[:, None]), 0)
    return np.asarray(np.clip(0.5 - (outside + inside - np.float32(radius)), 0, 1), np.float32)


def _emoji(
    placed: Sequence[PlacedLine], look: Look, size: Size, said: int | None
) -> Image.Image | None:
    """Return the coloured pictures among the letters; None where there are none."""
    image: Image.Image | None = None
    for one in placed:
        for at, word in _visible(one.line, look, said):
            x = one.left + at
            for run, width in zip(word.runs, word.widths, strict=True):
                if run.is_emoji and run.font is not None:
                    image = image or Image.new("RGBA", size, (0, 0, 0, 0))
                    _paste_emoji(image, run, x, one.baseline, one.line.size)
                x += width
    return image


def _paste_emoji(image: Image.Image, run: GlyphRun, x: float, baseline: float, em: float) -> None:
    assert run.font is not None
    font, scale = opened_emoji(run.font, round(em, 2))
    left, top, right, bottom = font.getbbox(run.text, anchor="ls")
    own = Image.new("RGBA", (max(int(right - left), 1), max(int(bottom - top), 1)), (0, 0, 0, 0))
    ImageDraw.Draw(own).text((-left, -top), run.text, font=font, anchor="ls", embedded_color=True)
    wanted = max(round(own.width * scale), 1), max(round(own.height * scale), 1)
    own = own.resize(wanted, Image.Resampling.LANCZOS)
    # Their own baseline differs from font to font: they stand on that of the letters.
    image.alpha_composite(own, (max(round(x), 0), max(round(baseline + 0.12 * em) - own.height, 0)))
