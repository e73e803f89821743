"""A look: how captions stand on the picture. One named set of choices, a value like a house style.

Sizes are shares, so that a look is the same at any height of the picture: ``size`` of the picture's
height, everything beside the letters (outline, padding, spacing) of the letters' size.
"""

from __future__ import annotations

import json
import re
from dataclasses import asdict, dataclass, field
from enum import StrEnum
from typing import Any

from tamarind.system.checkedvalues import YES, Rule, changed, number, one_of, schema_of, whole

FORMAT = "tamarind-look"
VERSION = 1
SUFFIX = ".look.json"

_COLOUR = re.compile(r"#[0-9a-f]{6}")


class LookError(ValueError):
    """A look cannot be read; the message is one sentence."""


class Face(StrEnum):
    """The kinds of letters that ship."""

    PLAIN = "plain"
    BOOK = "book"
    TYPED = "typed"


class Weight(StrEnum):
    """How heavy letters are."""

    REGULAR = "regular"
    SEMIBOLD = "semibold"
    BOLD = "bold"


class Box(StrEnum):
    """What lies behind the letters."""

    NONE = "none"
    LINES = "a line each"
    BLOCK = "one for all"


class Place(StrEnum):
    """Where the block stands: at an edge of the safe area, or where it was put."""

    BOTTOM = "bottom"
    TOP = "top"
    FREE = "free"


class Side(StrEnum):
    """To which side lines are set."""

    LEFT = "left"
    CENTRE = "centre"
    RIGHT = "right"


class SpeakerSign(StrEnum):
    """How it is shown who speaks: not at all, by the name, or by a colour and a dash."""

    NONE = "none"
    NAME = "name"
    COLOUR = "colour and dash"


class Coming(StrEnum):
    """How the words of a caption come: all at once, each when it is said, or all with the said one
    lit."""

    WHOLE = "whole"
    WORDS = "word by word"
    LIT = "said word lit"


@dataclass(frozen=True, slots=True)
class Letters:
    """``size`` is a share of the picture's height; ``outline`` and ``spacing`` of the size."""

    face: Face = Face.PLAIN
    weight: Weight = Weight.SEMIBOLD
    size: float = 0.052
    colour: str = "#ffffff"
    opacity: float = 1.0
    outline: float = 0.0
    outline_colour: str = "#000000"
    shadow: float = 0.0
    shadow_colour: str = "#000000"
    spacing: float = 0.0
    capitals: bool = False


@dataclass(frozen=True, slots=True)
class Ground:
    """What lies behind the letters; ``padding`` and ``rounding`` are shares of their size."""

    box: Box = Box.LINES
    colour: str = "#000000"
    opacity: float = 0.75
    padding: float = 0.28
    rounding: float = 0.12


@dataclass(frozen=True, slots=True)
class Standing:
    """``across`` and ``down`` are the middle of the block where it is ``free``, shares of the
    picture; ``safe`` is the margin that stays empty, ``width`` what the block may take."""

    place: Place = Place.BOTTOM
    side: Side = Side.CENTRE
    across: float = 0.5
    down: float = 0.85
    safe: float = 0.06
    width: float = 0.8
    line_height: float = 1.24


@dataclass(frozen=True, slots=True)
class Words:
    """How words come, and who says them. ``lit`` is the colour of the said word, ``voices`` those
    of the speakers in turn."""

    coming: Coming = Coming.WHOLE
    lit: str = "#ffd166"
    speakers: SpeakerSign = SpeakerSign.NONE
    voices: tuple[str, ...] = ("#ffffff", "#ffe08a", "#9fe0d0", "#f4b8c4", "#b9d7ff", "#d9e8a0")


@dataclass(frozen=True, slots=True)
class Second:
    """The look of a second language: ``size`` is a share of the first's letters."""

    above: bool = False
    size: float = 0.8
    colour: str = "#e8e2d0"
    weight: Weight = Weight.REGULAR


@dataclass(frozen=True, slots=True)
class Fit:
    """What a look asks of captions: so many letters a line and lines; 0 is the house style's."""

    line_length: int = 0
    lines: int = 0


@dataclass(frozen=True, slots=True)
class Look:
    """All choices together."""

    name: str
    letters: Letters = field(default_factory=Letters)
    ground: Ground = field(default_factory=Ground)
    standing: Standing = field(default_factory=Standing)
    words: Words = field(default_factory=Words)
    second: Second = field(default_factory=Second)
    fit: Fit = field(default_factory=Fit)

    def packed(self) -> str:
        """The look as the text of a file, every choice written out."""
        data = {"format": FORMAT, "version": VERSION, **asdict(self)}
        return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def read_look(text: str) -> Look:
    """The look in a file's text; raises LookError. What it does not say is as usual."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise LookError(f"The file is no look: it is no JSON ({error}).") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise LookError("The file is JSON, but no look.")
    if not isinstance(data.get("version"), int) or data["version"] > VERSION:
        raise LookError("The look was written by a newer Tamarind.")
    name = data.get("name")
    if not isinstance(name, str) or not name.strip():
        raise LookError("The look has no name.")
    try:
        return Look(
            " ".join(name.split()),
            changed(Letters(), data.get("letters", {}), "letters", LETTERS),
            changed(Ground(), data.get("ground", {}), "ground", GROUND),
            changed(Standing(), data.get("standing", {}), "standing", STANDING),
            changed(Words(), data.get("words", {}), "words", WORDS),
            changed(Second(), data.get("second", {}), "second", SECOND),
            changed(Fit(), data.get("fit", {}), "fit", FIT),
        )
    except ValueError as error:
        raise LookError(str(error)) from None


def _read_colour(value: Any) -> str:
    if not isinstance(value, str) or not _COLOUR.fullmatch(value.lower()):
        raise ValueError("a colour such as #ffe08a")
    return value.lower()


def _read_colours(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list) or not 1 <= len(value) <= 12:
        raise ValueError("one to twelve colours")
    return tuple(map(_read_colour, value))


_COLOUR_SCHEMA = {"type": "string", "pattern": "^#[0-9a-fA-F]{6}$"}
COLOUR = Rule(_read_colour, _COLOUR_SCHEMA)
_COLOURS = Rule(
    _read_colours, {"type": "array", "items": _COLOUR_SCHEMA, "minItems": 1, "maxItems": 12}
)
_SHARE = number(0.0, 1.0)

LETTERS: dict[str, Rule] = {
    "face": one_of(Face),
    "weight": one_of(Weight),
    "size": number(0.01, 0.3),
    "colour": COLOUR,
    "opacity": _SHARE,
    "outline": number(0.0, 0.3),
    "outline_colour": COLOUR,
    "shadow": number(0.0, 0.5),
    "shadow_colour": COLOUR,
    "spacing": number(-0.1, 0.5),
    "capitals": YES,
}
GROUND: dict[str, Rule] = {
    "box": one_of(Box),
    "colour": COLOUR,
    "opacity": _SHARE,
    "padding": number(0.0, 2.0),
    "rounding": number(0.0, 1.0),
}
STANDING: dict[str, Rule] = {
    "place": one_of(Place),
    "side": one_of(Side),
    "across": _SHARE,
    "down": _SHARE,
    "safe": number(0.0, 0.25),
    "width": number(0.1, 1.0),
    "line_height": number(0.9, 2.5),
}
WORDS: dict[str, Rule] = {
    "coming": one_of(Coming),
    "lit": COLOUR,
    "speakers": one_of(SpeakerSign),
    "voices": _COLOURS,
}
SECOND: dict[str, Rule] = {
    "above": YES,
    "size": number(0.3, 1.5),
    "colour": COLOUR,
    "weight": one_of(Weight),
}
FIT: dict[str, Rule] = {"line_length": whole(0, 200), "lines": whole(0, 6)}


def schema() -> dict[str, Any]:
    """What a file with a look holds, as JSON Schema (draft 2020-12)."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A look of Tamarind",
        "description": "Sizes are shares. What a look does not say is as usual.",
        "type": "object",
        "required": ["format", "version", "name"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"type": "integer", "minimum": 1, "maximum": VERSION},
            "name": {"type": "string", "pattern": "\\S"},
            "letters": schema_of(LETTERS),
            "ground": schema_of(GROUND),
            "standing": schema_of(STANDING),
            "words": schema_of(WORDS),
            "second": schema_of(SECOND),
            "fit": schema_of(FIT),
        },
    }
