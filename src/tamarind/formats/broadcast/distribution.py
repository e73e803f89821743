"""TTML for players and broadcasters: EBU-TT-D (EBU Tech 3380) and IMSC 1.1 text (W3C).

All styling is by reference, as EBU-TT-D wants it, and lengths are in percent. What differs is what
a document says it is, and that EBU-TT-D knows no outline and no shadow. Read as any TTML.
"""

from __future__ import annotations

import html
from collections.abc import Iterable
from dataclasses import dataclass

from tamarind.formats import lookstyles
from tamarind.formats.broadcast.rows import lines_of
from tamarind.formats.colours import colour_of
from tamarind.formats.format import DocumentKind, Format, FormatOption, Options, Origin
from tamarind.formats.placing import Region, region_of
from tamarind.formats.spans import language_of, looks_of, with_language
from tamarind.formats.timecode import clock
from tamarind.picture.looks import Look
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Cue, Transcript, Word

_TT = "http://www.w3.org/ns/ttml"
_COLUMNS, _ROWS = 50, 30
"""Cells of a picture, of which sizes of letters are a share."""

_PLAIN = {
    "fontFamily": "proportionalSansSerif", "fontSize": "160%", "lineHeight": "125%",
    "textAlign": "center", "color": "#ffffff",
}  # fmt: skip
_PLAIN_BACKGROUND = "#000000c0"
_LOOKS = {"i": ("fontStyle", "italic"), "b": ("fontWeight", "bold"),
          "u": ("textDecoration", "underline")}  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Profile:
    """What a document declares itself to be."""

    attributes: str
    metadata: tuple[str, ...]
    may_outline: bool


_EBU = _Profile(
    "",
    (
        "<ebuttm:documentMetadata>",
        " <ebuttm:conformsToStandard>urn:ebu:tt:distribution:2018-04</ebuttm:conformsToStandard>",
        "</ebuttm:documentMetadata>",
    ),
    False,
)
_IMSC = _Profile(f' ttp:contentProfiles="{_TT}/profile/imsc1.1/text"', (), True)


def write(transcript: Transcript, profile: _Profile, look: Look | None) -> str:
    """Write cues as paragraphs, each in a region, with all text in spans that refer to styles."""
    cues = [with_language(cue) for cue in transcript.cues if cue.words]
    places = list(dict.fromkeys(cue.placement for cue in cues)) or [""]
    regions = {placement: f"r{number}" for number, placement in enumerate(places, 1)}
    kinds = dict.fromkeys(kind for cue in cues for kind in map(_kind_of, cue.words) if any(kind))
    styles = {kind: f"s{number}" for number, kind in enumerate(kinds, 1)}
    usual = lookstyles.region(look) if look is not None else region_of("")
    base = lookstyles.ttml_style(look, _ROWS, profile.may_outline) if look is not None else _PLAIN
    behind = lookstyles.background(look) if look is not None else _PLAIN_BACKGROUND
    align = base["textAlign"]
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<tt xmlns="{_TT}" xmlns:ttp="{_TT}#parameter" xmlns:tts="{_TT}#styling"'
        ' xmlns:ebuttm="urn:ebu:tt:metadata" xmlns:ebutts="urn:ebu:tt:style"'
        f' ttp:timeBase="media" ttp:cellResolution="{_COLUMNS} {_ROWS}"{profile.attributes}'
        f' xml:space="preserve" xml:lang="{html.escape(transcript.language)}">',
        "<head>",
        "<metadata>",
        *profile.metadata,
        "</metadata>",
        "<styling>",
        _style("base", {**base, "textAlign": align}, ' ebutts:linePadding="0.5c"'),
        _style("letters", {"backgroundColor": behind} if behind else {"color": base["color"]}),
        *(_style(name, {"textAlign": side}) for name, side in _ALIGNS.items()),
        *(_style(name, _attributes(kind)) for kind, name in styles.items()),
        "</styling>",
        "<layout>",
        *(_region(name, region_of(one) if one else usual) for one, name in regions.items()),
        "</layout>",
        "</head>",
        "<body>",
        '<div style="base">',
    ]
    for number, cue in enumerate(cues, 1):
        own = f' style="{_side(region_of(cue.placement))}"' if cue.placement else ""
        lines.append(
            f'<p xml:id="c{number}" region="{regions[cue.placement]}" begin="{clock(cue.start)}"'
            f' end="{clock(cue.end)}"{own}>{_body(cue, styles)}</p>'
        )
    return "\n".join([*lines, "</div>", "</body>", "</tt>", ""])


_ALIGNS = {"left": "left", "middle": "center", "right": "right"}
_Kind = tuple[str, str, str]


def _side(region: Region) -> str:
    return next(name for name, side in _ALIGNS.items() if side == region.align)


def _kind_of(word: Word) -> _Kind:
    """Return a word's format, colour and language."""
    colours = [colour for colour in map(colour_of, word.spans) if colour]
    return looks_of(word), colours[-1] if colours else "", language_of(word.spans)


def _attributes(kind: _Kind) -> dict[str, str]:
    looks, colour, _ = kind
    found = dict(_LOOKS[look] for look in looks)
    return {**found, "color": colour} if colour else found


def _style(name: str, attributes: dict[str, str], more: str = "") -> str:
    said = "".join(f' tts:{key}="{value}"' for key, value in attributes.items())
    return f'<style xml:id="{name}"{said}{more}/>'


def _region(name: str, one: Region) -> str:
    return (
        f'<region xml:id="{name}" tts:origin="{one.origin}" tts:extent="{one.extent}"'
        f' tts:displayAlign="{one.edge}" tts:overflow="visible" style="{_side(one)}"/>'
    )


def _body(cue: Cue, styles: dict[_Kind, str]) -> str:
    """Return a cue's lines, with a span for each run of words of the same format."""
    return "<br/>".join("".join(_runs(line, styles)) for line in lines_of(cue))


def _runs(line: Iterable[Word], styles: dict[_Kind, str]) -> Iterable[str]:
    text, before = "", None
    for place, word in enumerate(line):
        kind = _kind_of(word)
        space = " " if place and not word.glued else ""
        if before is not None and kind != before:
            yield _span(text + space, before, styles)
            text, space = "", ""
        text += space + word.text
        before = kind
    if before is not None:
        yield _span(text, before, styles)


def _span(text: str, kind: _Kind, styles: dict[_Kind, str]) -> str:
    own = f" {styles[kind]}" if kind in styles and any(kind[:2]) else ""
    tag = f' xml:lang="{html.escape(kind[2])}"' if kind[2] else ""
    return f'<span style="letters{own}"{tag}>{html.escape(text, quote=False)}</span>'


_HOLDS = frozenset({Holds.LOOK, Holds.COLOUR, Holds.PLACE, Holds.FINE_PLACE, Holds.LANGUAGE})


def _format(suffix: str, label: str, profile: _Profile) -> Format:
    def made(transcript: Transcript, source: Origin, options: Options) -> str:
        return write(transcript, profile, options.look)

    return Format(
        (suffix,),
        label,
        DocumentKind.BROADCAST,
        read=None,
        write=made,
        holds=_HOLDS,
        choices=frozenset({FormatOption.LOOK}),
        is_utf8=True,
        may_mark=False,
        rank=7,
    )


FORMATS = (
    _format("ebuttd.xml", "EBU-TT-D", _EBU),
    _format("imsc.ttml", "IMSC", _IMSC),
)
