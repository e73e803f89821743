"""Read and write SubStation captions (.ass, .ssa) through pysubs2: formats, colours and the nine
places are kept, other styles and effects ignored. A caption style becomes the style of all
captions."""

from __future__ import annotations

import re
from functools import partial
from typing import Any

from tamarind.formats.captionfile import (
    FormatError,
    RawCue,
    Repairs,
    brief,
    names_of,
    transcript_of,
)
from tamarind.formats.colours import colour_of, colour_span
from tamarind.formats.format import DocumentKind, Format, FormatOption
from tamarind.formats.lookstyles import is_bold
from tamarind.formats.placing import anchor_of, placement_of
from tamarind.formats.spans import LOOKS, Spans, on_words, with_common_spans, with_tags
from tamarind.picture.looks import Box, Face, Ground, Letters, Look, Place, Side
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript, Word

_ANCHOR = re.compile(r"\\an([1-9])")
_EFFECT = re.compile(
    r"\\(?:pos|move|org|fade?|t|clip|iclip|k[fo]?\d|fn|fs\d|fr[xyz]?|bord|shad|blur|be\d|p\d)"
)

_CODES = re.compile(r"\{[^}]*\}")
_COLOUR = re.compile(r"\\1?c&H([0-9a-fA-F]{1,8})&?|\\r([a-zA-Z_0-9 ]*)")

_WIDTH, _HEIGHT = 1920, 1080
"""Of the picture that sizes and places are told for; a player scales them."""

_STYLE = "Captions"
_FAMILIES = {Face.PLAIN: "IBM Plex Sans", Face.BOOK: "Vollkorn", Face.TYPED: "JetBrains Mono"}
_LINE = 1.3
"""A line of the shipped faces in sizes of their letters, which the format counts by."""

_PLAIN = Look(_STYLE, Letters(outline=0.06), Ground(Box.NONE))
_LATEST = 35_999_990
"""Ten hours: from there on the library writes one and the same time."""

_LAST = 100 * 3_600_000
"""Programs read two digits of hours."""

MOST_TAGS = 200
"""An event with more is an effect; its looks are passed over."""


def write(transcript: Transcript, look: Look | None = None) -> str:
    """Write the captions as events in one style, speakers as names."""
    from pysubs2 import SSAEvent, SSAFile

    names = names_of(transcript)
    file = SSAFile()
    file.info |= {"PlayResX": str(_WIDTH), "PlayResY": str(_HEIGHT), "ScaledBorderAndShadow": "yes"}
    file.styles = {_STYLE: _style(look or _PLAIN)}
    if any("b" in word.spans for cue in transcript.cues for word in cue.words):
        # Where all letters are heavy, those of some words could not be told.
        file.styles[_STYLE].bold = False
    usual = file.styles[_STYLE].alignment
    tags = partial(_tags, usual=(look or _PLAIN).letters.colour)
    for cue in transcript.cues:
        if not cue.words:
            continue
        anchor = anchor_of(cue.placement)
        place = f"{{\\an{anchor}}}" if cue.placement and anchor != usual else ""
        if not cue.placement and look is not None:
            place = _put(look)
        text = with_tags(with_common_spans(cue), _escaped, is_kept=_is_kept, tags=tags)
        name = (names.get(cue.speaker) or "").replace(",", " ")
        lines = text.replace("\n", r"\N")
        file.append(SSAEvent(cue.start, cue.end, place + lines, style=_STYLE, name=name))
    if any(event.end >= _LAST for event in file):
        raise FormatError("SubStation holds times up to 99:59:59, and this text is longer.")
    late = any(event.end > _LATEST for event in file)
    return _with_times(file) if late else str(file.to_string("ass"))


def _with_times(file: Any) -> str:
    """Return a file with times beyond the library's last one."""
    times = [(event.start, event.end) for event in file]
    for event in file:
        event.start = event.end = 0
    waiting = iter(times)
    lines = []
    for line in str(file.to_string("ass")).split("\n"):
        if line.startswith("Dialogue: "):
            layer, _, _, rest = line.split(",", 3)
            line = ",".join([layer, *map(_clock, next(waiting)), rest])
        lines.append(line)
    return "\n".join(lines)


def _clock(time: int) -> str:
    hundredths = round(time / 10)
    seconds, hundredths = divmod(hundredths, 100)
    minutes, seconds = divmod(seconds, 60)
    return f"{minutes // 60}:{minutes % 60:02}:{seconds:02}.{hundredths:02}"


def _style(look: Look) -> Any:
    """Return a caption style in the format's terms; sizes are pixels of the picture that the file
    declares."""
    from pysubs2 import Alignment, SSAStyle

    letters, standing = look.letters, look.standing
    size = letters.size * _HEIGHT
    margin = round(standing.safe * _HEIGHT)
    beside = max(round((1 - standing.width) / 2 * _WIDTH), margin)
    boxed = look.ground.box is not Box.NONE
    row = {Place.BOTTOM: 0, Place.FREE: 1, Place.TOP: 2}[standing.place]
    side = {Side.LEFT: 1, Side.CENTRE: 2, Side.RIGHT: 3}[standing.side]
    behind = _colour_of(look.ground.colour, look.ground.opacity)
    return SSAStyle(
        fontname=_FAMILIES[letters.face],
        fontsize=round(size * _LINE, 1),
        bold=is_bold(look),
        primarycolor=_colour_of(letters.colour, letters.opacity),
        outlinecolor=behind if boxed else _colour_of(letters.outline_colour, 1),
        backcolor=behind if boxed else _colour_of(letters.shadow_colour, 0.7),
        borderstyle=3 if boxed else 1,
        outline=round(size * (look.ground.padding if boxed else letters.outline), 1),
        shadow=0 if boxed else round(size * letters.shadow, 1),
        spacing=round(size * letters.spacing, 1),
        alignment=Alignment(3 * row + side),
        marginl=beside,
        marginr=beside,
        marginv=margin,
    )


def _put(look: Look) -> str:
    """Return the code for a caption style's place, if that is no edge."""
    standing = look.standing
    if standing.place is not Place.FREE:
        return ""
    across, down = round(standing.across * _WIDTH), round(standing.down * _HEIGHT)
    return f"{{\\an5\\pos({across},{down})}}"


def _colour_of(colour: str, opacity: float) -> Any:
    from pysubs2 import Color

    red, green, blue = (int(colour[place : place + 2], 16) for place in (1, 3, 5))
    return Color(red, green, blue, round(255 * (1 - opacity)))


def _escaped(word: Word) -> str:
    """Escape a word so that nothing in it is taken for a code."""
    return word.text.replace("{", "(").replace("}", ")").replace("\\", "/")


def _is_kept(span: str) -> bool:
    return span in LOOKS or colour_of(span) is not None


def _tags(span: str, usual: str) -> tuple[str, str]:
    colour = colour_of(span)
    if colour is None:
        return f"{{\\{span}1}}", f"{{\\{span}0}}"
    begun, ended = (one[5:7] + one[3:5] + one[1:3] for one in (colour, usual))
    return f"{{\\1c&H{begun.upper()}&}}", f"{{\\1c&H{ended.upper()}&}}"


def read(text: str, language: str, repairs: Repairs | None = None) -> Transcript:
    """Read the events that show text, with their speakers; comments and drawings are ignored.

    Raises FormatError when there is no such event.
    """
    import pysubs2

    repairs = Repairs() if repairs is None else repairs
    form = "ass" if "[v4+ styles]" in text.casefold() else "ssa"
    try:
        file = pysubs2.SSAFile.from_string(text, format_=form)
    except Exception as error:
        # The library raises whatever its parsing ran into.
        raise FormatError(f"The file is no SubStation file ({brief(error)}).") from None
    raw = []
    drawn = 0
    # The colour of the only style is what captions are anyhow.
    used = {event.style for event in file if event.is_text}
    style = file.styles.get(used.pop()) if len(used) == 1 else None
    plain = style.primarycolor if style is not None else None
    for event in file:
        drawn += event.is_drawing
        if event.is_text:
            lines = tuple(filter(None, (line.strip() for line in event.plaintext.split("\n"))))
            spans = on_words(_pieces(event, file.styles, plain))
            times = max(event.start, 0), max(event.end, 0)
            placement = _placement(event, file.styles)
            raw.append(RawCue(*times, lines, event.name or None, (), placement, 0, spans))
            if _EFFECT.search(event.text):
                repairs.drop("effects and exact places")
    if drawn:
        repairs.note(f"{drawn} drawings were left out.")
    if not raw:
        raise FormatError("The file holds no SubStation event with text.")
    return transcript_of(raw, language, repairs)


def _is_alike(colour: Any, other: Any) -> bool:
    return other is not None and (colour.r, colour.g, colour.b) == (other.r, other.g, other.b)


def _placement(event: Any, styles: dict[str, Any]) -> str:
    """Return an event's place, by a code in it or by its style."""
    from pysubs2 import SSAStyle

    found = _ANCHOR.search(event.text)
    if found:
        return placement_of(int(found[1]))
    return placement_of(int(styles.get(event.style, SSAStyle.DEFAULT_STYLE).alignment))


def _colours(text: str, usual: Any, styles: dict[str, Any]) -> list[Any]:
    """Return the colour of each stretch of text between codes."""
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


def _pieces(event: Any, styles: dict[str, Any], usual: Any) -> list[tuple[str, Spans]]:
    """Return an event's text by format: italics by tag or style, the rest by tags."""
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
        if coloured and coloured != "c.white" and not _is_alike(colour, usual):
            spans = (coloured, *spans)
        pieces.append((plain, spans))
    return pieces


FORMAT = Format(
    ("ass", "ssa"),
    "SubStation",
    DocumentKind.CAPTIONS,
    read=read,
    write=lambda transcript, source, options: write(transcript, options.look),
    holds=frozenset({Holds.LOOK, Holds.COLOUR, Holds.PLACE, Holds.SPEAKER}),
    choices=frozenset({FormatOption.LOOK}),
    is_utf8=True,
    sign=re.compile(r"\s*\[Script Info\]", re.IGNORECASE),
    rank=4,
)
FORMATS = (FORMAT,)
