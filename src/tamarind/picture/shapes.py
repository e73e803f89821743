"""Change the shape of a picture: square, upright, wide; and fill what is missing."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from pathlib import Path

import av
from av.filter import Graph
from av.filter.context import FilterContext

from tamarind.picture.compose import FORMAT

Size = tuple[int, int]


class ShapeKind(StrEnum):
    """Shapes, by their use."""

    AS_IS = "asis"
    SQUARE = "square"
    UPRIGHT = "upright"
    WIDE = "wide"


class Filling(StrEnum):
    """How a picture is fitted to another shape: cropped, or whole on a colour, on itself blurred,
    or beside another picture."""

    CUT = "cut"
    COLOUR = "colour"
    BLURRED = "blurred"
    PICTURE = "picture"


@dataclass(frozen=True, slots=True)
class Shape:
    """``across`` and ``down`` are the middle of the crop in shares of the picture; ``picture`` is a
    file for ``Filling.PICTURE``."""

    kind: ShapeKind = ShapeKind.AS_IS
    filling: Filling = Filling.BLURRED
    colour: str = "#10181a"
    across: float = 0.5
    down: float = 0.5
    picture: Path | None = None


AS_IS = Shape()

_RATIOS = {ShapeKind.SQUARE: (1, 1), ShapeKind.UPRIGHT: (9, 16), ShapeKind.WIDE: (16, 9)}


def shaped_size(size: Size, shape: Shape) -> Size:
    """Return the size of a picture in another shape: as high as it was, or as wide if it is
    upright."""
    if shape.kind is ShapeKind.AS_IS:
        return size
    across, down = _RATIOS[shape.kind]
    short = min(size)
    if across >= down:
        width, height = short * across // down, short
    else:
        width, height = short, short * down // across
    return max(width // 2 * 2, 2), max(height // 2 * 2, 2)


def shaped(frame: av.VideoFrame, shape: Shape) -> av.VideoFrame:
    """Return one frame in a shape, in ``FORMAT``."""
    if shape.kind is ShapeKind.AS_IS:
        return frame
    graph = Graph()
    base = Fraction(1, 1000)
    last = graph.add_buffer(
        width=frame.width, height=frame.height, format=frame.format, time_base=base
    )
    last = add_shape(graph, last, (frame.width, frame.height), shape)
    sink = graph.add("buffersink")
    last.link_to(sink)
    graph.configure()
    frame.pts, frame.time_base = 0, base
    graph.vpush(frame)
    graph.vpush(None)
    return graph.vpull()


def add_shape(graph: Graph, last: FilterContext, size: Size, shape: Shape) -> FilterContext:
    """Add filters after ``last`` that give frames of a size the shape; return the new last one."""
    if shape.kind is ShapeKind.AS_IS:
        return last
    width, height = shaped_size(size, shape)
    fitted = _scaled_by(size, min(width / size[0], height / size[1]))
    filled = _scaled_by(size, max(width / size[0], height / size[1]))
    if shape.filling is Filling.CUT:
        left = _start(filled[0], width, shape.across)
        top = _start(filled[1], height, shape.down)
        return _chain(graph, last, ("scale", f"{filled[0]}:{filled[1]}:flags=bicubic"),
                      ("crop", f"{width}:{height}:{left}:{top}"), ("setsar", "1"))  # fmt: skip
    left, top = (width - fitted[0]) // 4 * 2, (height - fitted[1]) // 4 * 2
    if shape.filling in (Filling.COLOUR, Filling.PICTURE):
        colour = "0x" + shape.colour[1:]
        padded = _chain(graph, last, ("scale", f"{fitted[0]}:{fitted[1]}:flags=bicubic"),
                        ("pad", f"{width}:{height}:{left}:{top}:color={colour}"),
                        ("setsar", "1"))  # fmt: skip
        if shape.filling is Filling.COLOUR or shape.picture is None:
            return padded
        # The other picture lies over all with a hole, since a filter goes by the frames below.
        inside = f"between(X,{left},{left + fitted[0] - 1})*between(Y,{top},{top + fitted[1] - 1})"
        beside = _chain(graph, (graph.add("movie", f"filename={_quoted(shape.picture)}"), 0),
                        ("scale", f"{width}:{height}:force_original_aspect_ratio=increase"
                         ":out_range=tv"),
                        ("crop", f"{width}:{height}"), ("format", "yuva420p"),
                        ("geq", f"lum='lum(X,Y)':cb='cb(X,Y)':cr='cr(X,Y)':a='255-255*{inside}'"),
                        ("setsar", "1"))  # fmt: skip
        return _over(graph, padded, beside, 0, 0)
    parted = graph.add("split", "2")
    last.link_to(parted)
    # Blurred small and made large again, which looks the same and is quicker.
    small = max(width // 16 * 2, 2), max(height // 16 * 2, 2)
    behind = _chain(graph, (parted, 0),
                    ("scale", f"{_even(filled[0] / 8)}:{_even(filled[1] / 8)}:flags=area"),
                    ("crop", f"{small[0]}:{small[1]}"), ("gblur", "sigma=4"),
                    ("scale", f"{width}:{height}:flags=bicubic"),
                    ("setsar", "1"))  # fmt: skip
    before = _chain(graph, (parted, 1),
                    ("scale", f"{fitted[0]}:{fitted[1]}:flags=bicubic"),
                    ("setsar", "1"))  # fmt: skip
    return _over(graph, behind, before, left, top)


def _over(
    graph: Graph, behind: FilterContext, before: FilterContext, left: int, top: int
) -> FilterContext:
    """Lay one picture over another, both for as long as the one before lasts."""
    over = graph.add("overlay", f"{left}:{top}:shortest=0:eof_action=repeat")
    behind.link_to(over, 0, 0)
    before.link_to(over, 0, 1)
    return _chain(graph, over, ("format", FORMAT))


def _quoted(path: Path) -> str:
    """Quote a path as an option of a filter."""
    return re.sub(r"([\\':,;\[\]])", r"\\\1", str(path.absolute()))


def _chain(
    graph: Graph, begin: FilterContext | tuple[FilterContext, int], *steps: tuple[str, str]
) -> FilterContext:
    last, output = begin if isinstance(begin, tuple) else (begin, 0)
    for name, how in steps:
        following = graph.add(name, how)
        last.link_to(following, output, 0)
        last, output = following, 0
    return last


def _scaled_by(size: Size, factor: float) -> Size:
    return _even(size[0] * factor), _even(size[1] * factor)


def _even(length: float) -> int:
    return max(round(length / 2) * 2, 2)


def _start(whole: int, part: int, middle: float) -> int:
    return max(min(round(whole * middle - part / 2), whole - part), 0) // 2 * 2
