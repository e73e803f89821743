"""Choose the font for each character: the shipped ones first, then the system's."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path

import regex
from PIL import ImageFont

from tamarind.picture.looks import Face, Weight
from tamarind.picture.shippedfonts import file_of
from tamarind.picture.systemfaces import face_with

_EMOJI = regex.compile(
    r"(?:\p{RI}\p{RI}|(?:\p{Emoji_Presentation}|\p{Extended_Pictographic}\ufe0f?)\p{EMod}?"
    r"(?:\u200d\p{Extended_Pictographic}\ufe0f?\p{EMod}?)*)+"
)
_INVISIBLE = regex.compile(r"[\p{Default_Ignorable_Code_Point}\p{Cc}\s]")
_BITMAP_SIZE = 109
"""At which the usual fonts of coloured pictures have theirs."""


@dataclass(frozen=True, slots=True)
class FontFile:
    """A font in a file that may have several."""

    path: Path
    number: int = 0


@dataclass(frozen=True, slots=True)
class GlyphRun:
    """Characters drawn in one font; ``font`` is None if none has them all. ``is_emoji`` are
    coloured pictures."""

    text: str
    font: FontFile | None
    is_emoji: bool = False


def runs(text: str, face: Face, weight: Weight, italic: bool = False) -> Iterator[GlyphRun]:
    """Split a word into runs by font."""
    at = 0
    for found in _EMOJI.finditer(text):
        if found.start() > at:
            yield _run(text[at : found.start()], face, weight, italic)
        own = system_font(found[0][0], False)
        yield GlyphRun(found[0], own, is_emoji=own is not None)
        at = found.end()
    if at < len(text):
        yield _run(text[at:], face, weight, italic)


@lru_cache(8192)
def _run(text: str, face: Face, weight: Weight, italic: bool) -> GlyphRun:
    needed = {ord(letter) for letter in _INVISIBLE.sub("", text)}
    first = FontFile(file_of(face, weight, italic))
    others = [FontFile(file_of(kind, weight)) for kind in Face if kind is not face]
    for font in (first, *others):
        if needed <= letters_of(font):
            return GlyphRun(text, font)
    lacking = needed - letters_of(first)
    for letter in sorted(lacking, reverse=True):
        font_of_system = system_font(chr(letter), weight is not Weight.REGULAR)
        if font_of_system is not None and lacking <= letters_of(font_of_system):
            return GlyphRun(text, font_of_system)
    return GlyphRun(text, None)


@lru_cache(4096)
def system_font(character: str, bold: bool) -> FontFile | None:
    """Return a font of the system that has a character."""
    found = face_with(character, bold)
    if found is None:
        return None
    font = FontFile(*found)
    return font if ord(character) in letters_of(font) else None


@cache
def letters_of(font: FontFile) -> frozenset[int]:
    """Return the code points of a font; none if it cannot be read."""
    from fontTools.ttLib import TTFont, TTLibError  # slow to import

    try:
        with TTFont(font.path, fontNumber=font.number, lazy=True) as file:
            return frozenset(file.getBestCmap() or ())
    except (OSError, TTLibError, KeyError, ValueError):
        return frozenset()


@lru_cache(256)
def opened(font: FontFile, size: float) -> ImageFont.FreeTypeFont:
    """Open a font at a size in pixels, with text shaped by HarfBuzz. Raises OSError."""
    layout = ImageFont.Layout.RAQM
    return ImageFont.truetype(str(font.path), size, font.number, layout_engine=layout)


@lru_cache(16)
def opened_emoji(font: FontFile, size: float) -> tuple[ImageFont.FreeTypeFont, float]:
    """Open a font of coloured pictures; return it and the factor by which to enlarge what it
    draws."""
    try:
        return opened(font, _BITMAP_SIZE), size / _BITMAP_SIZE
    except OSError:
        return opened(font, size), 1.0


def usual(face: Face, weight: Weight, italic: bool = False) -> FontFile:
    """Return the default shipped font."""
    return FontFile(file_of(face, weight, italic))


def missing(text: str, face: Face, weight: Weight) -> str:
    """Return the characters of a text that no font here can draw, each once."""
    lacking = [
        letter
        for word in text.split()
        for run in runs(word, face, weight)
        if run.font is None
        for letter in run.text
        if not _drawn_by_any(letter, face, weight)
    ]
    return "".join(dict.fromkeys(lacking))


def _drawn_by_any(letter: str, face: Face, weight: Weight) -> bool:
    return _run(letter, face, weight, False).font is not None
