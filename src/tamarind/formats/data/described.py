"""Write audio descriptions as a WebVTT track, which players read aloud."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.formats.format import DocumentKind, Format
from tamarind.formats.timecode import clock
from tamarind.transcript.descriptions import Description


def as_webvtt(descriptions: Sequence[Description]) -> str:
    """Return a cue for each description, from its start until it has been read, or the next
    begins."""
    blocks = ["WEBVTT\n"]
    found = sorted(descriptions, key=lambda one: one.start)
    for place, one in enumerate(found):
        end = max(one.end, one.start + 1)
        if place + 1 < len(found):
            end = max(min(end, found[place + 1].start), one.start + 1)
        text = one.text.replace("&", "&amp;").replace("<", "&lt;").replace("-->", "→")
        blocks.append(f"{clock(one.start)} --> {clock(end)}\n{text}\n")
    return "\n".join(blocks)


FORMAT = Format(
    ("descriptions.vtt",),
    "Descriptions",
    DocumentKind.DATA,
    write=lambda text, source, options: as_webvtt(source.descriptions),
    is_utf8=True,
    rank=9,
)
FORMATS = (FORMAT,)
