"""TTML and DFXP (.ttml, .dfxp, .xml): read through ttconv, written as plain timed paragraphs."""

from __future__ import annotations

import html
import logging
import re
import xml.etree.ElementTree as ET
from collections.abc import Iterator
from fractions import Fraction
from typing import Any
from xml.sax.saxutils import escape, quoteattr

from tamarind.formats.captionfile import FormatError, Mended, RawCue, names_of, transcript_of
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Transcript

_TT = "http://www.w3.org/ns/ttml"
_OLD = re.compile(r"http://www\.w3\.org/20\d\d/(?:\d\d/)?ttaf1")
_AGENT = f"{{{_TT}#metadata}}agent"
_STYLING = f"{{{_TT}#styling}}"
_LOOKS = ("style", "region")
_PARAMETER = f"{{{_TT}#parameter}}"
_BARE_AND = re.compile(r"&(?!(?:#\d+|#x[0-9a-fA-F]+|amp|lt|gt|quot|apos);)(?:\w+;)?")
_BARE_LESS = re.compile(r"<(?![/!?a-zA-Z_])")
_TAG = re.compile(r"<[A-Za-z][^<>]*>")
_ATTRIBUTE = re.compile(r"""\s([\w:.-]+)\s*=\s*(?:"[^"]*"|'[^']*')""")
_STANDARD_TIME = re.compile(
    r"\d{2,}:\d\d:\d\d(?:\.\d+|:\d{2,}(?:\.\d+)?)?|\d+(?:\.\d+)?(?:h|m|s|ms|f|t)"
)
_PLAIN_SECONDS = re.compile(r"\d{1,9}(?:\.\d+)?")
_LOOSE_TIME = re.compile(r"(?:(\d{1,4}):)?(\d{1,2}):(\d{1,2})(\.\d+)?")
_LONE_MARK = re.compile(r" ([,.])(?= |$)")
_DECLARED = re.compile(r"^\s*<\?xml[^>]*\?>")


def write(transcript: Transcript) -> str:
    """Cues as paragraphs with times in ms, speakers as agents."""
    names = names_of(transcript)
    spoken = {cue.speaker for cue in transcript.cues if cue.words}
    agents = [s.id for s in transcript.speakers if s.id in spoken]
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<tt xmlns="{_TT}" xmlns:ttm="{_TT}#metadata" xml:lang={quoteattr(transcript.language)}>',
        " <head>",
        "  <metadata>",
        *(
            f'   <ttm:agent xml:id="s{number}" type="person"><ttm:name type="full">'
            f"{escape(names[number] or '')}</ttm:name></ttm:agent>"
            for number in agents
        ),
        "  </metadata>",
        " </head>",
        " <body>",
        "  <div>",
    ]
    for cue in transcript.cues:
        if cue.words:
            agent = f' ttm:agent="s{cue.speaker}"' if cue.speaker in agents else ""
            body = "<br/>".join(map(escape, cue.lines))
            lines.append(
                f'   <p begin="{clock(cue.start)}" end="{clock(cue.end)}"{agent}>{body}</p>'
            )
    return "\n".join([*lines, "  </div>", " </body>", "</tt>", ""])


def read(text: str, language: str, mended: Mended | None = None) -> Transcript:
    """The paragraphs with a time, with who speaks where that is said.

    Older namespaces (DFXP) are taken for that of TTML. Raises FormatError.
    """
    import ttconv.imsc.reader
    import ttconv.model

    mended = Mended() if mended is None else mended
    root = _parsed(text, mended)
    if root.tag != f"{{{_TT}}}tt":
        raise FormatError("The file is XML, but no TTML.")
    names = _names(root)
    _put_right(root, mended)
    # Its warnings about styling are of no use to a person.
    logging.getLogger("ttconv").setLevel(logging.CRITICAL)
    try:
        document = ttconv.imsc.reader.to_model(ET.ElementTree(root))
    except Exception as error:
        raise FormatError(f"The file is no TTML that makes sense ({error}).") from None
    body = document.get_body() if document is not None else None
    found = _timed(body, mended) if body is not None else []
    speakers = _speakers(root, names, len(found), mended)
    raw = [
        RawCue(_ms(start), _ms(end if end is not None else start + 2), lines, speaker)
        for (start, end, lines), speaker in zip(found, speakers, strict=True)
        if lines
    ]
    open_ended = sum(end is None for _, end, lines in found if lines)
    if open_ended:
        mended.note(f"{open_ended} cues had no end and were given 2 seconds.")
    if not raw:
        raise FormatError("The file holds no TTML paragraph with text.")
    spoken = root.get("{http://www.w3.org/XML/1998/namespace}lang") or language
    return transcript_of(raw, spoken, mended)


def _parsed(text: str, mended: Mended) -> ET.Element:
    """The XML of a file; what is not escaped in its text is, if that helps."""
    # The text is decoded already, so that what the file says of its encoding is past.
    text = _OLD.sub(_TT, _DECLARED.sub("", text))
    try:
        return ET.fromstring(text)
    except (ET.ParseError, ValueError) as error:
        first = error
    text = _BARE_AND.sub(lambda found: escape(html.unescape(found[0])), text)
    text = _TAG.sub(_with_each_once, _BARE_LESS.sub("&lt;", text))
    try:
        root = ET.fromstring(text)
    except (ET.ParseError, ValueError):
        raise FormatError(f"The file is no TTML: it is no whole XML ({first}).") from None
    if "duplicate attribute" in str(first):
        mended.note("A tag had an attribute twice; the first one counts.")
    else:
        mended.note("Characters that XML has for itself stood in the text.")
    return root


def _with_each_once(tag: re.Match[str]) -> str:
    """A tag with the first of each of its attributes."""
    seen: set[str] = set()

    def once(attribute: re.Match[str]) -> str:
        name = attribute[1]
        known = name in seen
        seen.add(name)
        return "" if known else attribute[0]

    return _ATTRIBUTE.sub(once, tag[0])


def _put_right(root: ET.Element, mended: Mended) -> None:
    """Without styling, and with times as the standard has them: two digits, a unit, ticks as long
    as they should be."""
    frames, ticks = root.get(f"{_PARAMETER}frameRate"), root.get(f"{_PARAMETER}tickRate")
    if frames and frames.isdecimal() and not ticks:
        parts = root.get(f"{_PARAMETER}subFrameRate", "1")
        root.set(f"{_PARAMETER}tickRate", str(int(frames) * int(parts if parts.isdecimal() else 1)))
    for element in root.findall(f"{{{_TT}}}head"):
        root.remove(element)
    odd = 0
    for element in root.iter():
        # Looks do not matter here, and mistakes in them would keep a file from being read.
        for name in [n for n in element.attrib if n.startswith(_STYLING) or n in _LOOKS]:
            del element.attrib[name]
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
        mended.note(f"{odd} times were not written as the standard has them.")


def _standard(value: str) -> str | None:
    """ "0:00:02.07", "1:02.5" or "39.5" as a time of the standard, None for what is no time."""
    if _PLAIN_SECONDS.fullmatch(value):
        return f"{value}s"
    match = _LOOSE_TIME.fullmatch(value)
    if match is None:
        return None
    hours, minutes, seconds, rest = match.groups()
    return f"{int(hours or 0):02}:{int(minutes):02}:{int(seconds):02}{rest or ''}"


_Found = tuple[Fraction, Fraction | None, tuple[str, ...]]


def _timed(body: Any, mended: Mended) -> list[_Found]:
    """The paragraphs of a body. Their times count from what they stand in, but where that puts
    them past its end and counted from zero they are within it."""
    zero = _counts_from_zero(body)
    if zero:
        mended.note("Times within timed parts were counted from the start of the file.")
    return list(_paragraphs(body, Fraction(0), None, zero))


def _counts_from_zero(body: Any) -> bool:
    """Whether paragraphs in parts with a time make sense only if theirs count from zero."""
    spans = list(_spans_within(body))
    return any(begin >= last - first for first, last, begin in spans) and all(
        first <= begin <= last for first, last, begin in spans
    )


def _spans_within(element: Any) -> Iterator[tuple[Fraction, Fraction, Fraction]]:
    """Start and end of each part that has both, with the start of each paragraph in it (s)."""
    import ttconv.model as model

    first, last = element.get_begin(), element.get_end()
    if isinstance(element, model.P):
        return
    for child in element:
        begin = child.get_begin()
        if first and last is not None and begin is not None:
            yield first, last, begin
        yield from _spans_within(child)


def _paragraphs(
    element: Any, origin: Fraction, end: Fraction | None, zero: bool
) -> Iterator[_Found]:
    """Start, end (s) and lines of each paragraph; its times count from its parent's start, or,
    with ``zero``, from that of the file."""
    import ttconv.model as model

    start, own = element.get_begin(), element.get_end()
    base = Fraction(0) if zero else origin
    start = origin if start is None else base + start
    if own is not None:
        end = base + own if end is None else min(end, base + own)
    if not isinstance(element, model.P):
        for child in element:
            yield from _paragraphs(child, start, end, zero)
        return
    spans = [span for span in element if _has_time(span)]
    rest = [child for child in element if child not in spans]
    if spans and element.get_begin() is None and not any(map(_text, rest)):
        # Captions that carry their times on spans: each is a cue of its own.
        for span in spans:
            until = span.get_end()
            begun = start + (span.get_begin() or 0)
            yield begun, None if until is None else start + until, _lines(span)
        return
    yield start, end, _lines(element)


def _has_time(element: Any) -> bool:
    import ttconv.model as model

    timed = element.get_begin() is not None or element.get_end() is not None
    return isinstance(element, model.Span) and timed


def _text(element: Any) -> str:
    import ttconv.model as model

    own = element.get_text() if isinstance(element, model.Text) else "".join(_pieces(element))
    return (own or "").strip()


def _lines(element: Any) -> tuple[str, ...]:
    lines = (" ".join(line.split()) for line in "".join(_pieces(element)).split("\n"))
    # A mark is not parted from its word by the indent of a span.
    return tuple(filter(None, (_LONE_MARK.sub(r"\1", line) for line in lines)))


def _pieces(element: Any) -> Iterator[str]:
    """The text below an element; a break is a newline, white space in the file is a space."""
    import ttconv.model as model

    for child in element:
        if isinstance(child, model.Br):
            yield "\n"
        elif isinstance(child, model.Text):
            yield " ".join(re.split(r"\s", child.get_text() or ""))
        elif not isinstance(child, model.Rt | model.Rp):
            yield from _pieces(child)


def _names(root: ET.Element) -> dict[str, str]:
    """The names of agents by their ids."""
    names = {}
    for agent in root.iter(_AGENT):
        name = agent.find(f"{{{_TT}#metadata}}name")
        key = agent.get("{http://www.w3.org/XML/1998/namespace}id")
        if name is not None and name.text and key:
            names[key] = name.text
    return names


def _speakers(
    root: ET.Element, names: dict[str, str], count: int, mended: Mended
) -> list[str | None]:
    """Who speaks in each paragraph: its agent's name, or that of what it stands in."""
    found: list[str | None] = []

    def walk(element: ET.Element, speaker: str | None) -> None:
        speaker = names.get(element.get(_AGENT, ""), speaker)
        if element.tag == f"{{{_TT}}}p":
            found.append(speaker)
        for child in element:
            walk(child, speaker)

    for body in root.iter(f"{{{_TT}}}body"):
        walk(body, None)
    if len(found) == count:
        return found
    if any(found):
        mended.note("Who speaks could not be told and was left out.")
    return [None] * count


def _ms(seconds: Fraction) -> int:
    return max(round(seconds * 1000), 0)
