"""Caption styles: how captions stand on the picture, as a named set of options.

Sizes are shares, so that a look is the same at any height of the picture: ``size`` of the picture's
height, everything beside the letters (outline, padding, spacing) of the letters' size.
"""

from __future__ import annotations

import re
from dataclasses import asdict, dataclass, field
from enum import StrEnum
from typing import Any

from tamarind.system.declared import (
    Entry,
    FileKind,
    Values,
    one_of,
    option,
    schema_of,
    share,
    whole,
    yes_or_no,
)
from tamarind.system.errors import ToldError

SUFFIX = ".look.json"

LEAST_CONTRAST = 4.5
"""To 1, between letters and what is behind them (WCAG 2.2, 1.4.3)."""

_HEX = re.compile(r"#[0-9a-f]{6}")


class LookError(ToldError, ValueError):
    """A caption style cannot be read; the message is one sentence."""


FILE = FileKind("tamarind-look", 1, "caption style", LookError)


class Face(StrEnum):
    """The shipped fonts."""

    PLAIN = "plain"
    BOOK = "book"
    TYPED = "typed"


class Weight(StrEnum):
    """The weight of letters."""

    REGULAR = "regular"
    SEMIBOLD = "semibold"
    BOLD = "bold"


class Box(StrEnum):
    """The kind of box behind the letters."""

    NONE = "none"
    LINES = "a line each"
    BLOCK = "one for all"


class Place(StrEnum):
    """Where the block stands: at an edge of the safe area, or at a point."""

    BOTTOM = "bottom"
    TOP = "top"
    FREE = "free"


class Side(StrEnum):
    """How lines are aligned."""

    LEFT = "left"
    CENTRE = "centre"
    RIGHT = "right"


class SpeakerSign(StrEnum):
    """How speakers are shown: not at all, by name, or by a colour and a dash."""

    NONE = "none"
    NAME = "name"
    COLOUR = "colour and dash"


class Coming(StrEnum):
    """How the words of a caption appear: all at once, each when it is said, or all with the spoken
    one highlighted."""

    WHOLE = "whole"
    WORDS = "word by word"
    LIT = "said word lit"


def _read_colour(value: Any) -> str:
    if not isinstance(value, str) or not _HEX.fullmatch(value.lower()):
        raise ValueError("a colour such as #ffe08a")
    return value.lower()


def _read_colours(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list) or not 1 <= len(value) <= 12:
        raise ValueError("one to twelve colours")
    return tuple(map(_read_colour, value))


_HEX_SCHEMA = {"type": "string", "pattern": "^#[0-9a-fA-F]{6}$"}
COLOUR = Values(_read_colour, _HEX_SCHEMA, Entry.COLOUR)
_COLOURS = Values(
    _read_colours,
    {"type": "array", "items": _HEX_SCHEMA, "minItems": 1, "maxItems": 12},
    Entry.NONE,
)
_SHARE = share(0.0, 1.0)
_WEIGHTS = one_of({"regular": Weight.REGULAR, "semibold": Weight.SEMIBOLD, "bold": Weight.BOLD})


@dataclass(frozen=True, slots=True)
class Letters:
    """The letters: ``size`` is a share of the picture's height; ``outline`` and ``spacing`` of the
    size."""

    face: Face = option(
        Face.PLAIN,
        one_of({"sans serif": Face.PLAIN, "serif": Face.BOOK, "monospaced": Face.TYPED}),
        "Font",
        section="Letters",
    )
    weight: Weight = option(Weight.SEMIBOLD, _WEIGHTS, "Weight", section="Letters")
    size: float = option(
        0.052, share(0.01, 0.3), "Size", section="Letters", hint="of the picture's height"
    )
    spacing: float = option(
        0.0, share(-0.1, 0.5), "Letter spacing", section="Letters", hint="of the size", rare=True
    )
    colour: str = option("#ffffff", COLOUR, "Colour", section="Letters")
    opacity: float = option(1.0, _SHARE, "Opacity", section="Letters", rare=True)
    capitals: bool = option(False, yes_or_no(), "Capitals only", section="Letters")
    outline: float = option(
        0.0, share(0.0, 0.3), "Outline", section="Outline and shadow", hint="of the size; 0: none"
    )
    outline_colour: str = option("#000000", COLOUR, "Outline colour", section="Outline and shadow")
    shadow: float = option(
        0.0,
        share(0.0, 0.5),
        "Shadow",
        section="Outline and shadow",
        hint="softness; 0: none",
        rare=True,
    )
    shadow_colour: str = option(
        "#000000", COLOUR, "Shadow colour", section="Outline and shadow", rare=True
    )


@dataclass(frozen=True, slots=True)
class Ground:
    """What is behind the letters; ``padding`` and ``rounding`` are shares of their size."""

    box: Box = option(
        Box.LINES,
        one_of({"none": Box.NONE, "one per line": Box.LINES, "one for all lines": Box.BLOCK}),
        "Box",
        section="Box",
    )
    colour: str = option("#000000", COLOUR, "Colour", section="Box")
    opacity: float = option(0.75, _SHARE, "Opacity", section="Box")
    padding: float = option(
        0.28, share(0.0, 2.0), "Padding", section="Box", hint="of the letters' size", rare=True
    )
    rounding: float = option(
        0.12,
        share(0.0, 1.0),
        "Rounded corners",
        section="Box",
        hint="of the letters' size",
        rare=True,
    )


@dataclass(frozen=True, slots=True)
class Standing:
    """Where captions stand: ``across`` and ``down`` are the middle of a ``free`` block in shares of
    the picture; ``safe`` is the margin that stays empty, ``width`` the most that the block may
    take."""

    place: Place = option(
        Place.BOTTOM,
        one_of({"bottom": Place.BOTTOM, "top": Place.TOP, "anywhere": Place.FREE}),
        "Position",
        section="Position",
    )
    across: float = option(
        0.5,
        _SHARE,
        "Across",
        section="Position",
        hint="or drag them on the picture",
        only_with=("place", Place.FREE),
    )
    down: float = option(0.85, _SHARE, "Down", section="Position", only_with=("place", Place.FREE))
    side: Side = option(
        Side.CENTRE,
        one_of({"left": Side.LEFT, "centre": Side.CENTRE, "right": Side.RIGHT}),
        "Alignment",
        section="Position",
    )
    width: float = option(
        0.8, share(0.1, 1.0), "Width, at most", section="Position", hint="of the picture", rare=True
    )
    safe: float = option(0.06, share(0.0, 0.25), "Margin", section="Position", rare=True)
    line_height: float = option(
        1.24,
        share(0.9, 2.5),
        "Line spacing",
        section="Position",
        hint="of the letters' size",
        rare=True,
    )


@dataclass(frozen=True, slots=True)
class Words:
    """How words appear, and who says them. ``lit`` is the colour of the spoken word, ``voices``
    those of the speakers in turn."""

    coming: Coming = option(
        Coming.WHOLE,
        one_of(
            {
                "all at once": Coming.WHOLE,
                "each when it is spoken": Coming.WORDS,
                "all, the spoken one highlighted": Coming.LIT,
            }
        ),
        "Words appear",
        section="Words",
    )
    lit: str = option(
        "#ffd166", COLOUR, "Highlight", section="Words", only_with=("coming", Coming.LIT)
    )
    speakers: SpeakerSign = option(
        SpeakerSign.NONE,
        one_of(
            {
                "not shown": SpeakerSign.NONE,
                "name first": SpeakerSign.NAME,
                "a colour and a dash": SpeakerSign.COLOUR,
            }
        ),
        "Speakers",
        section="Words",
    )
    voices: tuple[str, ...] = option(
        ("#ffffff", "#ffe08a", "#9fe0d0", "#f4b8c4", "#b9d7ff", "#d9e8a0"),
        _COLOURS,
        "Colours of the speakers",
        section="Words",
    )


@dataclass(frozen=True, slots=True)
class SecondLanguage:
    """The second language: ``size`` is a share of the first's letters."""

    above: bool = option(False, yes_or_no(), "Above the first", section="Second language")
    size: float = option(
        0.8, share(0.3, 1.5), "Size", section="Second language", hint="of the first's letters"
    )
    weight: Weight = option(Weight.REGULAR, _WEIGHTS, "Weight", section="Second language")
    colour: str = option("#e8e2d0", COLOUR, "Colour", section="Second language")


@dataclass(frozen=True, slots=True)
class Fit:
    """The limits that a caption style sets: characters a line and lines; 0 for the house
    style's."""

    line_length: int = option(
        0, whole(0, 200), "Characters per line", section="Lines", hint="0: as in the house style"
    )
    lines: int = option(
        0, whole(0, 6), "Lines in a caption", section="Lines", hint="0: as in the house style"
    )


@dataclass(frozen=True, slots=True)
class Look:
    """A caption style."""

    name: str
    letters: Letters = field(default_factory=Letters)
    ground: Ground = field(default_factory=Ground)
    standing: Standing = field(default_factory=Standing)
    words: Words = field(default_factory=Words)
    second: SecondLanguage = field(default_factory=SecondLanguage)
    fit: Fit = field(default_factory=Fit)

    def packed(self) -> str:
        """Return the style as the text of a file, with every option."""
        parts = asdict(self)
        return FILE.packed(parts.pop("name"), parts)


def read_look(text: str) -> Look:
    """Return the caption style in a file's text; missing options have their defaults. Raises
    LookError."""
    name, data = FILE.read(text)
    return Look(
        name,
        FILE.part(data, "letters", Letters),
        FILE.part(data, "ground", Ground),
        standing=FILE.part(data, "standing", Standing),
        words=FILE.part(data, "words", Words),
        second=FILE.part(data, "second", SecondLanguage),
        fit=FILE.part(data, "fit", Fit),
    )


def schema() -> dict[str, Any]:
    """Return the JSON Schema of files with a look."""
    return FILE.schema(
        "Sizes are shares.",
        {
            "letters": schema_of(Letters),
            "ground": schema_of(Ground),
            "standing": schema_of(Standing),
            "words": schema_of(Words),
            "second": schema_of(SecondLanguage),
            "fit": schema_of(Fit),
        },
    )
