"""Read TTML and DFXP (.ttml, .dfxp, .xml) through ttconv; write plain timed paragraphs."""

from __future__ import annotations

import html
import logging
import re
import xml.etree.ElementTree as ET

from tamarind.formats.captionfile import (
    FormatError,
    RawCue,
    Repairs,
    brief,
    names_of,
    transcript_of,
)
from tamarind.formats.captions.ttmodel import BETWEEN, CLOSE, OPEN, ms_of, paragraphs_of
from tamarind.formats.colours import colour_of, colour_span
from tamarind.formats.format import DocumentKind, Format, FormatOption
from tamarind.formats.lookstyles import background, region, ttml_style
from tamarind.formats.placing import placement_in, region_of
from tamarind.formats.spans import (
    LANGUAGE,
    Spans,
    head_of,
    language_of,
    on_words,
    with_common_spans,
    with_language,
    with_readings,
    with_tags,
)
from tamarind.formats.timecode import clock
from tamarind.picture.looks import Look
from tamarind.transcript.bounds import is_language
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Cue, Transcript, Word

_USUAL = "usual"
_ROWS = 15
"""Cells of a picture's height, unless a document says otherwise."""

_TT = "http://www.w3.org/ns/ttml"
_OLD = re.compile(r"http://www\.w3\.org/20\d\d/(?:\d\d/)?ttaf1")
_AGENT = f"{{{_TT}#metadata}}agent"
_STYLING = f"{{{_TT}#styling}}"
_ID = "{http://www.w3.org/XML/1998/namespace}id"
_REFERENCES = ("style", "region")
_WRITTEN = {
    "i": 'fontStyle="italic"', "b": 'fontWeight="bold"', "u": 'textDecoration="underline"'
}  # fmt: skip
_READ = {
    f"{_STYLING}fontStyle": ("i", {"italic": True, "oblique": True, "normal": False}),
    f"{_STYLING}fontWeight": ("b", {"bold": True, "normal": False}),
    f"{_STYLING}textDecoration": ("u", {"underline": True, "noUnderline": False, "none": False}),
}
"""What of styling is read: the look, and whether a value means it."""
_PARAMETER = f"{{{_TT}#parameter}}"
_COLOUR = f"{_STYLING}color"
_RUBY_ROLE = f"{_STYLING}ruby"
_PLACES = tuple(f"{_STYLING}{name}" for name in ("origin", "extent", "displayAlign", "textAlign"))
_KNOWN = (*_READ, _COLOUR, _RUBY_ROLE, *_PLACES, *_REFERENCES)
"""What of styling counts here; the rest is passed over."""

_PIXELS = re.compile(r"(-?\d+(?:\.\d+)?)px\s+(-?\d+(?:\.\d+)?)px")
_BARE_AND = re.compile(r"&(?!(?:#\d+|#x[0-9a-fA-F]+|amp|lt|gt|quot|apos);)(?:\w+;)?")
_BARE_LESS = re.compile(r"<(?![/!?a-zA-Z_])")
_TAG = re.compile(r"<[A-Za-z][^<>]*>")
_ATTRIBUTE = re.compile(r"""\s([\w:.-]+)\s*=\s*(?:"[^"]*"|'[^']*')""")
_STANDARD_TIME = re.compile(
    r"\d{2,}:\d\d:\d\d(?:\.\d+|:\d{2,}(?:\.\d+)?)?|\d+(?:\.\d+)?(?:h|m|s|ms|f|t)"
)
_PLAIN_SECONDS = re.compile(r"\d{1,9}(?:\.\d+)?")
_LOOSE_TIME = re.compile(r"(?:(\d{1,4}):)?(\d{1,2}):(\d{1,2})(\.\d+)?")
_DECLARED = re.compile(r"^\s*<\?xml[^>]*\?>")


def write(transcript: Transcript, look: Look | None = None) -> str:
    """Write cues as paragraphs with times in ms, speakers as agents, and a caption style if
    given."""
    names = names_of(transcript)
    spoken = {cue.speaker for cue in transcript.cues if cue.words}
    agents = [s.id for s in transcript.speakers if s.id in spoken]
    looks = any(word.spans for cue in transcript.cues for word in cue.words)
    places = dict.fromkeys(cue.placement for cue in transcript.cues if cue.words and cue.placement)
    regions = {placement: f"r{number}" for number, placement in enumerate(places, 1)}
    styled = look is not None
    styling = f' xmlns:tts="{_TT}#styling"' if looks or regions or styled else ""
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<tt xmlns="{_TT}" xmlns:ttm="{_TT}#metadata"{styling}'
        f" xml:lang={_quoted(transcript.language)}>",
        " <head>",
        "  <metadata>",
        *(
            f'   <ttm:agent xml:id="s{number}" type="person"><ttm:name type="full">'
            f"{_escaped(names[number] or '')}</ttm:name></ttm:agent>"
            for number in agents
        ),
        "  </metadata>",
        *_layout(regions, look),
        " </head>",
        f" <body{_styling(look)}>",
        "  <div>",
    ]
    usual = f' region="{_USUAL}"' if styled else ""
    for cue in transcript.cues:
        if cue.words:
            agent = f' ttm:agent="s{cue.speaker}"' if cue.speaker in agents else ""
            if cue.placement:
                agent += f' region="{regions[cue.placement]}"'
            else:
                agent += usual
            body = _body(cue).replace("\n", "<br/>")
            lines.append(
                f'   <p begin="{clock(cue.start)}" end="{clock(cue.end)}"{agent}>{body}</p>'
            )
    return "\n".join([*lines, "  </div>", " </body>", "</tt>", ""])


def _styling(look: Look | None) -> str:
    """Return the attributes that give all text a caption style."""
    if look is None:
        return ""
    attributes = ttml_style(look, _ROWS, may_outline=True)
    behind = background(look)
    if behind:
        attributes["backgroundColor"] = behind
    return "".join(f' tts:{name}="{value}"' for name, value in attributes.items())


def _layout(regions: dict[str, str], look: Look | None) -> list[str]:
    """Return the regions of the captions by their placement; the style's for all others."""
    places = {name: region_of(placement) for placement, name in regions.items()}
    if look is not None:
        places[_USUAL] = region(look)
    if not places:
        return []
    lines = ["  <layout>"]
    for name, one in places.items():
        lines.append(
            f'   <region xml:id="{name}" tts:origin="{one.origin}" tts:extent="{one.extent}"'
            f' tts:displayAlign="{one.edge}" tts:textAlign="{one.align}"/>'
        )
    return [*lines, "  </layout>"]


def _body(cue: Cue) -> str:
    """Return a cue's lines, with words in italics, bold, underline or colour in spans."""
    cue = with_language(cue)
    if not any(word.spans for word in cue.words):
        return _escaped("\n".join(cue.lines))
    return with_tags(with_common_spans(cue), _with_readings, tags=_tags_of)


def _tags_of(span: str) -> tuple[str, str]:
    if head_of(span) == LANGUAGE:
        return f"<span xml:lang={_quoted(language_of((span,)))}>", "</span>"
    colour = colour_of(span)
    styling = f'color="{colour}"' if colour else _WRITTEN[span]
    return f"<span tts:{styling}>", "</span>"


def _with_readings(word: Word) -> str:
    """Return a word whose parts have ruby annotations."""

    def ruby(text: str, reading: str) -> str:
        base = f'<span tts:ruby="base">{text}</span>'
        said = f'<span tts:ruby="text">{reading}</span>'
        return f'<span tts:ruby="container">{base}{said}</span>'

    return with_readings(word, _escaped, ruby)


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read the timed paragraphs, with their speakers where these are given.

    Older namespaces (DFXP) are taken for that of TTML. Raises FormatError.
    """
    import ttconv.imsc.reader
    import ttconv.model

    repairs = Repairs() if repairs is None else repairs
    root = _parsed(text, repairs)
    if root.tag != f"{{{_TT}}}tt":
        raise FormatError("The file is XML, but no TTML.")
    told = _told_of_paragraphs(root, _names(root), _Regions(root, repairs))
    _mark_readings(root)
    _put_right(root, repairs)
    # Its warnings about styling are of no use to a person.
    logging.getLogger("ttconv").setLevel(logging.CRITICAL)
    try:
        document = ttconv.imsc.reader.to_model(ET.ElementTree(root))
    except Exception as error:
        raise FormatError(f"The file is no TTML that makes sense ({brief(error)}).") from None
    body = document.get_body() if document is not None else None
    found = paragraphs_of(body, repairs) if body is not None else []
    declared = root.get("{http://www.w3.org/XML/1998/namespace}lang") or ""
    spoken = declared if is_language(declared) else language
    usual = f"{LANGUAGE} {declared}"
    raw = [
        RawCue(
            ms_of(one.start),
            ms_of(one.end if one.end is not None else one.start + 2),
            one.lines,
            speaker,
            placement=placement,
            spans=on_words([(text, _without(looks, usual)) for text, looks in one.pieces]),
        )
        for one, (speaker, placement) in zip(
            found, _of_each(told, len(found), repairs), strict=True
        )
        if one.lines
    ]
    open_ended = sum(one.end is None for one in found if one.lines)
    if open_ended:
        repairs.note(f"{open_ended} cues had no end and were given 2 seconds.")
    if not raw:
        raise FormatError("The file holds no TTML paragraph with text.")
    return transcript_of(raw, spoken, repairs)


def _without(looks: Spans, span: str) -> Spans:
    return tuple(look for look in looks if look != span)


def _parsed(text: str, repairs: Repairs) -> ET.Element:
    """Parse the XML of a file; if that fails, escape bare characters and try again."""
    # The text is decoded already, so that what the file says of its encoding is past.
    text = _OLD.sub(_TT, _DECLARED.sub("", text))
    try:
        return ET.fromstring(text)
    except (ET.ParseError, ValueError) as error:
        first = error
    text = _BARE_AND.sub(lambda found: _escaped(html.unescape(found[0])), text)
    text = _TAG.sub(_with_each_once, _BARE_LESS.sub("&lt;", text))
    try:
        root = ET.fromstring(text)
    except (ET.ParseError, ValueError):
        raise FormatError(f"The file is no TTML: it is no whole XML ({brief(first)}).") from None
    if "duplicate attribute" in str(first):
        repairs.note("A tag had an attribute twice; the first one counts.")
    else:
        repairs.note("Characters that XML has for itself stood in the text.")
    return root


def _with_each_once(tag: re.Match[str]) -> str:
    """Return a tag with the first of each of its attributes."""
    seen: set[str] = set()

    def once(attribute: re.Match[str]) -> str:
        name = attribute[1]
        known = name in seen
        seen.add(name)
        return "" if known else attribute[0]

    return _ATTRIBUTE.sub(once, tag[0])


def _put_right(root: ET.Element, repairs: Repairs) -> None:
    """Return the text without styling except formats, and with standard times: two digits, a unit,
    ticks of a possible length."""
    frames, ticks = root.get(f"{_PARAMETER}frameRate"), root.get(f"{_PARAMETER}tickRate")
    if frames and frames.isdecimal() and not ticks:
        parts = root.get(f"{_PARAMETER}subFrameRate", "1")
        root.set(f"{_PARAMETER}tickRate", str(int(frames) * int(parts if parts.isdecimal() else 1)))
    styles: dict[str, dict[str, str]] = {}
    for style in root.iter(f"{{{_TT}}}style"):
        styles.setdefault(style.get(_ID, ""), _own_looks(style, styles))
    for element in root.findall(f"{{{_TT}}}head"):
        root.remove(element)
    odd = 0
    for element in root.iter():
        # The rest does not matter here, and mistakes in it would keep a file from being read.
        looks = _own_looks(element, styles)
        for name in [n for n in element.attrib if n.startswith(_STYLING) or n in _REFERENCES]:
            if name not in _KNOWN:
                repairs.drop("other styling")
            del element.attrib[name]
        element.attrib.update(looks)
        for key in ("begin", "end", "dur"):
            value = element.get(key)
            if value is not None and not _STANDARD_TIME.fullmatch(value.strip()):
                right = _standard(value.strip())
                odd += 1
                if right is None:
                    del element.attrib[key]
                else:
                    element.set(key, right)
    if odd:
        repairs.note(f"{odd} times were not written as the standard has them.")


def _own_looks(element: ET.Element, styles: dict[str, dict[str, str]]) -> dict[str, str]:
    """Return the formats that an element has itself or by styles before it in the file."""
    looks: dict[str, str] = {}
    for name in element.get("style", "").split():
        looks |= styles.get(name, {})
    colour = colour_span(element.get(_COLOUR, ""))
    if colour:
        looks = looks | {_COLOUR: colour_of(colour) or ""}
    return looks | {
        name: value for name, (_, means) in _READ.items() if (value := element.get(name)) in means
    }


def _standard(value: str) -> str | None:
    """Return "0:00:02.07", "1:02.5" or "39.5" as a standard time; None for anything else."""
    if _PLAIN_SECONDS.fullmatch(value):
        return f"{value}s"
    match = _LOOSE_TIME.fullmatch(value)
    if match is None:
        return None
    hours, minutes, seconds, rest = match.groups()
    return f"{int(hours or 0):02}:{int(minutes):02}:{int(seconds):02}{rest or ''}"


def _names(root: ET.Element) -> dict[str, str]:
    """Return the names of agents by their ids."""
    names = {}
    for agent in root.iter(_AGENT):
        name = agent.find(f"{{{_TT}#metadata}}name")
        key = agent.get(_ID)
        if name is not None and name.text and key:
            names[key] = name.text
    return names


class _Regions:
    """Places of captions by the regions of a file."""

    def __init__(self, root: ET.Element, repairs: Repairs) -> None:
        self._mended = repairs
        self._size = _PIXELS.fullmatch(root.get(f"{_STYLING}extent", "").strip())
        styles: dict[str, dict[str, str]] = {}
        for style in root.iter(f"{{{_TT}}}style"):
            if style.get(_ID):
                styles[style.get(_ID, "")] = self._own(style, styles)
        self._places = {
            region.get(_ID, ""): self._own(region, styles)
            for region in root.iter(f"{{{_TT}}}region")
        }

    def _own(self, element: ET.Element, styles: dict[str, dict[str, str]]) -> dict[str, str]:
        own: dict[str, str] = {}
        for name in element.get("style", "").split():
            own |= styles.get(name, {})
        for inner in element.findall(f"{{{_TT}}}style"):
            own |= self._own(inner, styles)
        return own | {name: element.get(name, "") for name in _PLACES if element.get(name)}

    def placement(self, name: str | None) -> str:
        """Return the WebVTT settings for a region; "" for the default place."""
        place = self._places.get(name or "")
        if place is None:
            return ""
        origin, extent = (self._percent(place.get(key, "")) for key in _PLACES[:2])
        if origin is None or extent is None:
            self._mended.drop("places on the picture")
            return ""
        edge, align = place.get(_PLACES[2], "before"), place.get(_PLACES[3], "")
        return placement_in(origin, extent, edge, align)

    def _percent(self, lengths: str) -> str | None:
        """Return two lengths in percent; None for units that cannot be converted."""
        pixels = _PIXELS.fullmatch(lengths.strip())
        if pixels is None:
            known = not lengths or lengths == "auto" or lengths.count("%") == 2
            return ("" if lengths == "auto" else lengths) if known else None
        if self._size is None or 0.0 in map(float, self._size.groups()):
            return None
        parts = zip(map(float, pixels.groups()), map(float, self._size.groups()), strict=True)
        return " ".join(f"{100 * length / whole:g}%" for length, whole in parts)


def _told_of_paragraphs(
    root: ET.Element, names: dict[str, str], regions: _Regions
) -> list[tuple[str | None, str]]:
    """Return the speaker and region of each paragraph, its own or inherited."""
    found: list[tuple[str | None, str]] = []

    def walk(element: ET.Element, speaker: str | None, region: str | None) -> None:
        speaker = names.get(element.get(_AGENT, ""), speaker)
        region = element.get("region", region)
        if element.tag == f"{{{_TT}}}p":
            found.append((speaker, regions.placement(region)))
        for child in element:
            walk(child, speaker, region)

    for body in root.iter(f"{{{_TT}}}body"):
        walk(body, None, None)
    return found


def _of_each(
    told: list[tuple[str | None, str]], count: int, repairs: Repairs
) -> list[tuple[str | None, str]]:
    """Return what paragraphs say if there is a cue for each."""
    if len(told) == count:
        return told
    if any(speaker for speaker, _ in told):
        repairs.note("Who speaks could not be told and was left out.")
    if any(placement for _, placement in told):
        repairs.drop("places on the picture")
    return [(None, "")] * count


def _mark_readings(root: ET.Element) -> None:
    """Return ruby as plain text with our own marks, which ttconv passes through."""
    for container in root.iter(f"{{{_TT}}}span"):
        if container.get(_RUBY_ROLE) != "container":
            continue
        said: dict[str, list[str]] = {"base": [], "text": []}
        for inner in container.iter(f"{{{_TT}}}span"):
            said.get(inner.get(_RUBY_ROLE, ""), []).append("".join(inner.itertext()))
        tail = container.tail
        for child in list(container):
            container.remove(child)
        base, reading = ("".join(said[role]).strip() for role in ("base", "text"))
        container.text, container.tail = f"{OPEN}{base}{BETWEEN}{reading}{CLOSE}", tail


def _escaped(text: str) -> str:
    return html.escape(text, quote=False)


def _quoted(text: str) -> str:
    """Quote a text as the value of an attribute, where line ends would become spaces."""
    return '"' + html.escape(text).replace("\n", "&#10;").replace("\r", "&#13;") + '"'


FORMAT = Format(
    ("ttml", "dfxp", "xml"),
    "TTML captions",
    DocumentKind.CAPTIONS,
    read=read,
    write=lambda transcript, source, options: write(transcript, options.look),
    holds=frozenset(
        {
            Holds.LOOK,
            Holds.COLOUR,
            Holds.RUBY,
            Holds.PLACE,
            Holds.FINE_PLACE,
            Holds.SPEAKER,
            Holds.LANGUAGE,
        }
    ),
    choices=frozenset({FormatOption.LOOK}),
    is_utf8=True,
    may_mark=False,
    sign=re.compile(r"\s*(?:<\?xml|<tt\b)"),
    rank=3,
)
FORMATS = (FORMAT,)
