"""Places of captions on the picture: WebVTT cue settings, which a text keeps, as one of nine places
(SubRip and SubStation, numbered as on a keypad) and as a TTML region."""

from __future__ import annotations

import re
from dataclasses import dataclass

USUAL = 2
"""The place below in the middle."""

_SIDES = {1: " position:0% align:left", 2: "", 0: " position:100% align:right"}
_ROWS = {0: "", 1: "line:50%", 2: "line:0"}
_MARGIN = 5.0
"""Percent of the picture that captions leave free at its edges."""

_LINES = 15
"""Lines of captions into which a picture is parted where a place is given in lines."""

_SETTING = re.compile(r"(\w+):(\S+)")
_PERCENT = re.compile(r"(-?\d+(?:\.\d+)?)%")
_LENGTHS = re.compile(r"(-?\d+(?:\.\d+)?)%\s+(-?\d+(?:\.\d+)?)%")
_LEFT, _RIGHT = ("left", "start"), ("right", "end")


def placement_of(anchor: int) -> str:
    """Return the settings for one of nine places, from 1 at the lower left to 9 at the upper
    right."""
    return (_ROWS[(anchor - 1) // 3] + _SIDES[anchor % 3]).strip()


def anchor_of(placement: str) -> int:
    """Return the one of the nine places that settings come nearest to."""
    settings = dict(_SETTING.findall(placement))
    top, _edge = _line(settings.get("line", ""))
    row = 0 if top is None or top > 66 else 2 if top < 34 else 1
    align = settings.get("align", "")
    position = _percent(settings.get("position", ""))
    column = 2
    if align in _LEFT or (not align and position is not None and position < 34):
        column = 1
    elif align in _RIGHT or (not align and position is not None and position > 66):
        column = 3
    return 3 * row + column


def is_exact(placement: str) -> bool:
    """Whether settings are one of the nine places and nothing finer."""
    return placement_of(anchor_of(placement)) == placement


@dataclass(frozen=True, slots=True)
class Region:
    """A part of the picture in percent; ``edge`` is where its text begins (before, center, after),
    ``align`` how its lines are aligned."""

    left: float
    top: float
    width: float
    height: float
    edge: str
    align: str

    @property
    def origin(self) -> str:
        """Its upper left corner in TTML."""
        return f"{self.left:g}% {self.top:g}%"

    @property
    def extent(self) -> str:
        """Its size in TTML."""
        return f"{self.width:g}% {self.height:g}%"


def region_of(placement: str) -> Region:
    """Return the region that settings stand for."""
    settings = dict(_SETTING.findall(placement))
    top, edge = _line(settings.get("line", ""))
    align = settings.get("align", "center")
    align = "left" if align in _LEFT else "right" if align in _RIGHT else "center"
    width = _percent(settings.get("size", "")) or 100 - 2 * _MARGIN
    position = _percent(settings.get("position", ""))
    at = {"left": 0.0, "right": 100.0}.get(align, 50.0) if position is None else position
    left = {"left": at, "right": at - width}.get(align, at - width / 2)
    left = min(max(left, _MARGIN), 100 - 2 * _MARGIN)
    width = min(width, 100 - _MARGIN - left)
    if top is None:
        return Region(left, _MARGIN, width, height=100 - 2 * _MARGIN, edge="after", align=align)
    if edge == "center":
        reach = min(top, 100 - top)
        return Region(
            left,
            round(top - reach, 2),
            width,
            height=round(2 * reach, 2),
            edge="center",
            align=align,
        )
    if edge == "after":
        return Region(left, 0, width, height=top, edge="after", align=align)
    top = max(top, _MARGIN)
    return Region(
        left, top, width, height=round(max(100 - top - _MARGIN, 1), 2), edge="before", align=align
    )


def placement_in(origin: str, extent: str, edge: str, align: str) -> str:
    """Return the settings for a TTML region; "" for the default place and for units other than
    percent."""
    corner, size = _LENGTHS.fullmatch(origin.strip()), _LENGTHS.fullmatch(extent.strip())
    left, top = map(float, corner.groups()) if corner else (_MARGIN, _MARGIN)
    whole = 100 - 2 * _MARGIN
    width, height = map(float, size.groups()) if size else (whole, whole)
    bottom = top + height
    line = ""
    if edge == "before" and (corner or not size):
        line = "line:0" if top <= 2 * _MARGIN else f"line:{top:g}%"
    elif edge == "center":
        line = (
            "line:50%" if abs(top + height / 2 - 50) < 2 else f"line:{top + height / 2:g}%,center"
        )
    elif bottom < 80:
        line = f"line:{bottom:g}%,end"
    parts = [line] if line else []
    if align in _LEFT:
        parts += [f"position:{0 if left <= 2 * _MARGIN else left:g}%", "align:left"]
    elif align in _RIGHT:
        right = left + width
        parts += [f"position:{100 if right >= 100 - 2 * _MARGIN else right:g}%", "align:right"]
    elif abs(left + width / 2 - 50) > 2:
        parts.append(f"position:{left + width / 2:g}%")
    return " ".join(parts)


def _line(value: str) -> tuple[float | None, str]:
    """Return how far below the top a caption stands (percent), and which of its edges; None for the
    bottom."""
    where, _comma, edge = value.partition(",")
    edge = {"center": "center", "end": "after"}.get(edge, "before")
    percent = _percent(where)
    if percent is not None:
        return (50.0, "center") if value == "50%" else (percent, edge)
    try:
        number = int(where)
    except ValueError:
        return None, edge
    if number >= 0:
        return min(100.0 * number / _LINES, 95.0), "before"
    if number == -1:
        return None, "after"
    return max(100.0 + 100.0 * (number + 1) / _LINES, 5.0), "after"


def _percent(value: str) -> float | None:
    match = _PERCENT.match(value)
    return min(max(float(match[1]), 0.0), 100.0) if match else None
