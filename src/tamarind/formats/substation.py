"""SubStation captions (.ass, .ssa), read through pysubs2: looks, colours and the nine places are
kept, other styles and effects passed over."""

from __future__ import annotations

import re
from typing import Any

from tamarind.formats.captionfile import FormatError, Mended, RawCue, brief, transcript_of
from tamarind.formats.colours import colour_span
from tamarind.formats.format import Format, Kind
from tamarind.formats.placing import placement_of
from tamarind.formats.spans import Spans, on_words
from tamarind.transcript.model import Transcript

_ANCHOR = re.compile(r"\\an([1-9])")
_EFFECT = re.compile(
    r"\\(?:pos|move|org|fade?|t|clip|iclip|k[fo]?\d|fn|fs\d|fr[xyz]?|bord|shad|blur|be\d|p\d)"
)

_CODES = re.compile(r"\{[^}]*\}")
_COLOUR = re.compile(r"\\1?c&H([0-9a-fA-F]{1,8})&?|\\r([a-zA-Z_0-9 ]*)")

MOST_TAGS = 200
"""An event with more is an effect; its looks are passed over."""


def read(text: str, language: str, mended: Mended | None = None) -> Transcript:
    """The events that show text, with the name of who speaks; comments and drawings are not.

    Raises FormatError when there is no such event.
    """
    import pysubs2

    mended = Mended() if mended is None else mended
    form = "ass" if "[v4+ styles]" in text.casefold() else "ssa"
    try:
        file = pysubs2.SSAFile.from_string(text, format_=form)
    except Exception as error:
        # The library raises whatever its parsing ran into.
        raise FormatError(f"The file is no SubStation file ({brief(error)}).") from None
    raw = []
    drawn = 0
    for event in file:
        drawn += event.is_drawing
        if event.is_text:
            lines = tuple(filter(None, (line.strip() for line in event.plaintext.split("\n"))))
            spans = on_words(_pieces(event, file.styles))
            times = max(event.start, 0), max(event.end, 0)
            placement = _placement(event, file.styles)
            raw.append(RawCue(*times, lines, event.name or None, (), placement, 0, spans))
            if _EFFECT.search(event.text):
                mended.drop("effects and exact places")
    if drawn:
        mended.note(f"{drawn} drawings were left out.")
    if not raw:
        raise FormatError("The file holds no SubStation event with text.")
    return transcript_of(raw, language, mended)


def _placement(event: Any, styles: dict[str, Any]) -> str:
    """Where an event stands: by a code in it, or by its style."""
    from pysubs2 import SSAStyle

    found = _ANCHOR.search(event.text)
    if found:
        return placement_of(int(found[1]))
    return placement_of(int(styles.get(event.style, SSAStyle.DEFAULT_STYLE).alignment))


def _colours(text: str, usual: Any, styles: dict[str, Any]) -> list[Any]:
    """The colour of each stretch of text between codes."""
    from pysubs2 import Color

    colours = [usual]
    for codes in _CODES.findall(text):
        colour = colours[-1]
        for number, style in _COLOUR.findall(codes):
            if number:
                value = int(number, 16)
                colour = Color(value & 255, value >> 8 & 255, value >> 16 & 255)
            else:
                colour = styles[style].primarycolor if style in styles else usual
        colours.append(colour)
    return colours


def _pieces(event: Any, styles: dict[str, Any]) -> list[tuple[str, Spans]]:
    """An event's text by its looks: italics by tag or style, the rest where a tag says so."""
    from pysubs2 import SSAStyle
    from pysubs2.formats.substation import parse_tags

    style = styles.get(event.style, SSAStyle.DEFAULT_STYLE)
    if event.text.count("{") > MOST_TAGS:
        return []
    pieces: list[tuple[str, Spans]] = []
    colours = _colours(event.text, style.primarycolor, styles)
    for (text, look), colour in zip(parse_tags(event.text, style, styles), colours, strict=True):
        heads = {
            "i": look.italic,
            "b": look.bold and not style.bold,
            "u": look.underline and not style.underline,
        }
        coloured = colour_span(f"#{colour.r:02x}{colour.g:02x}{colour.b:02x}")
        plain = text.replace(r"\h", " ").replace(r"\n", "\n").replace(r"\N", "\n")
        spans = tuple(head for head, has in heads.items() if has)
        # White is what captions are anyhow.
        if coloured and coloured != "c.white":
            spans = (coloured, *spans)
        pieces.append((plain, spans))
    return pieces


FORMAT = Format(
    ("ass", "ssa"),
    "SubStation captions",
    Kind.CAPTIONS,
    read,
    sign=re.compile(r"\s*\[Script Info\]", re.IGNORECASE),
)
