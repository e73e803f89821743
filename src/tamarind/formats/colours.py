"""Colours of words, kept as WebVTT classes, in the terms of other formats."""

from __future__ import annotations

import re
from functools import cache

CLASSES = {
    "white": "ffffff", "lime": "00ff00", "cyan": "00ffff", "red": "ff0000",
    "yellow": "ffff00", "magenta": "ff00ff", "blue": "0000ff", "black": "000000",
}  # fmt: skip
"""The colours that WebVTT has classes for."""

NAMES = CLASSES | {
    "aqua": "00ffff", "fuchsia": "ff00ff", "gray": "808080", "grey": "808080", "green": "008000",
    "maroon": "800000", "navy": "000080", "olive": "808000", "orange": "ffa500",
    "purple": "800080", "silver": "c0c0c0", "teal": "008080",
}  # fmt: skip
"""Colours by the names that CSS and TTML have for them."""

_BY_NUMBER = {number: name for name, number in CLASSES.items()}
_HEX = re.compile(r"#?([0-9a-fA-F]{3}|[0-9a-fA-F]{6})(?:[0-9a-fA-F]{2})?")
_RGB = re.compile(r"rgba?\(\s*(\d{1,3})\s*,\s*(\d{1,3})\s*,\s*(\d{1,3})\s*(?:,[^)]*)?\)")
_CLASS = re.compile(r"c\.(?:colour-([0-9a-f]{6})|(\w+))")


def colour_span(text: str) -> str | None:
    """Return a colour ("yellow", "#ff0", "rgb(255, 255, 0)") as a span; None if it is none."""
    text = text.strip().strip("\"'").lower()
    number = NAMES.get(text)
    if number is None and (match := _RGB.fullmatch(text)):
        number = "".join(f"{min(int(part), 255):02x}" for part in match.groups())
    if number is None and (match := _HEX.fullmatch(text)):
        number = match[1] if len(match[1]) == 6 else "".join(2 * letter for letter in match[1])
    if number is None:
        return None
    name = _BY_NUMBER.get(number)
    return f"c.{name}" if name else f"c.colour-{number}"


def colour_of(span: str) -> str | None:
    """Return the colour of a span as "#rrggbb"; None if it is no colour."""
    match = _CLASS.fullmatch(span)
    if match is None:
        return None
    number = match[1] or CLASSES.get(match[2])
    return f"#{number}" if number else None


@cache
def nearest(colour: str, among: tuple[int, ...]) -> int:
    """Return which of some colours (0xRRGGBB) is nearest to "#rrggbb"."""
    value = int(colour[1:], 16)

    def distance(other: int) -> int:
        parts = ((value >> shift & 255) - (other >> shift & 255) for shift in (0, 8, 16))
        return sum(part * part for part in parts)

    return min(range(len(among)), key=lambda place: distance(among[place]))


def style_for(span: str) -> str:
    """Return the WebVTT rule that colours a span; "" for one that every player knows."""
    match = _CLASS.fullmatch(span)
    if match is None or not match[1]:
        return ""
    return f"::cue(.colour-{match[1]}) {{ color: #{match[1]}; }}"
