"""Convert what ttconv reads from a broadcaster's file to cues with places."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tamarind.formats.captionfile import RawCue, Repairs
from tamarind.formats.captions.ttmodel import TimedParagraph, ms_of, paragraphs_of
from tamarind.formats.spans import on_words


def cues_of(
    document: Any, repairs: Repairs, place: Callable[[TimedParagraph], str]
) -> list[RawCue]:
    """Return the cues of a document; ``place`` returns a cue's place as WebVTT settings."""
    body = document.get_body()
    found = paragraphs_of(body, repairs) if body is not None else []
    cues = []
    for one in found:
        if not one.lines:
            continue
        end = one.end if one.end is not None else one.start + 2
        cues.append(
            RawCue(
                ms_of(one.start),
                ms_of(end),
                one.lines,
                placement=place(one),
                spans=on_words(one.pieces),
            )
        )
    open_ended = sum(one.end is None for one in found if one.lines)
    if open_ended:
        repairs.note(f"{open_ended} cues had no end and were given 2 seconds.")
    return cues


def box_of(region: Any) -> tuple[float, float, float, float] | None:
    """Return left, top, right and bottom of a region in percent of the picture; None if it does not
    say."""
    from ttconv.style_properties import StyleProperties

    if region is None:
        return None
    origin = region.get_style(StyleProperties.Origin)
    extent = region.get_style(StyleProperties.Extent)
    if origin is None or extent is None:
        return None
    left, top = float(origin.x.value), float(origin.y.value)
    return left, top, left + float(extent.width.value), top + float(extent.height.value)
