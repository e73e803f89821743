"""House style: one named set of a client's rules for captions, transcripts and wording.

A style is a value; as a file it is JSON that says what it is and may leave out whatever is as
usual.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from enum import StrEnum
from typing import Any, TypeVar

from tamarind.captions.limits import ORDINARY, Limits, SpeakerMarks
from tamarind.formats.paragraphs import PLAIN, SpeakerForm, Stamps, TextOptions
from tamarind.system.checkedvalues import (
    TEXTS,
    YES,
    Rule,
    changed,
    number,
    one_of,
    or_none,
    schema_of,
    whole,
)

FORMAT = "tamarind-house-style"
VERSION = 1
SUFFIX = ".style.json"

FILLERS = ("um", "uh", "er", "erm", "uhm", "mm", "hmm", "ah", "eh", "mhm")


class StyleError(ValueError):
    """A style cannot be read; the message is one sentence."""


class Level(StrEnum):
    """How much a rule counts."""

    OFF = "off"
    HINT = "hint"
    MUST = "must"


class Numbers(StrEnum):
    """How numbers are written: as they are, in figures, or in words below some number."""

    AS_THEY_ARE = "as they are"
    FIGURES = "figures"
    WORDS_BELOW = "words below"


class Written(StrEnum):
    """How money or a measure is written: as it is, with a sign ("£350", "5 km"), or in full."""

    AS_IT_IS = "as it is"
    SHORT = "short"
    IN_FULL = "in full"


class Dates(StrEnum):
    """How a date is written: as it is, or in figures with the name of its month."""

    AS_THEY_ARE = "as they are"
    FIGURES = "figures"


class Times(StrEnum):
    """How a time of day is written: as it is, "3:30 pm", or "15:30"."""

    AS_THEY_ARE = "as they are"
    HALF_DAY = "12 hours"
    WHOLE_DAY = "24 hours"


class Letters(StrEnum):
    """How letters that are said one by one are written: as they are, "P-E-N" or "PEN"."""

    AS_THEY_ARE = "as they are"
    HYPHENS = "hyphens"
    TOGETHER = "together"


class Quotes(StrEnum):
    """Which quotation marks are written."""

    AS_THEY_ARE = "as they are"
    STRAIGHT = "straight"
    DOUBLE = "double"
    SINGLE = "single"
    ANGLED = "angled"
    OF_THE_LANGUAGE = "of the language"


class Dashes(StrEnum):
    """How a dash between words is written."""

    AS_THEY_ARE = "as they are"
    SPACED_EN = "spaced en"
    EM = "em"
    HYPHEN = "hyphen"


@dataclass(frozen=True, slots=True)
class Wording:
    """``clean`` leaves out fillers, repeats and false starts; else every word stays.

    Numbers from ``figures_from`` on are in figures with ``Numbers.WORDS_BELOW``. Dates, times,
    amounts of money, measures and spelt-out letters have a rule each. ``spelling`` is
    the variant as a region (GB, US, AU, CA, IN) where the language has such. ``terms`` are the
    client's names and terms, each as a line of a glossary.
    """

    clean: bool = False
    fillers: tuple[str, ...] = FILLERS
    numbers: Numbers = Numbers.AS_THEY_ARE
    figures_from: int = 10
    dates: Dates = Dates.AS_THEY_ARE
    times: Times = Times.AS_THEY_ARE
    amounts: Written = Written.AS_IT_IS
    measures: Written = Written.AS_IT_IS
    letters: Letters = Letters.AS_THEY_ARE
    quotes: Quotes = Quotes.AS_THEY_ARE
    dashes: Dashes = Dashes.AS_THEY_ARE
    spelling: str = "GB"
    terms: tuple[str, ...] = ()


AS_HEARD = Wording()


@dataclass(frozen=True)
class HouseStyle:
    """A client's rules; ``levels`` has only the rules that do not count as they usually do."""

    name: str
    captions: Limits = ORDINARY
    transcript: TextOptions = PLAIN
    wording: Wording = AS_HEARD
    levels: Mapping[str, Level] = field(default_factory=dict)

    def packed(self) -> str:
        """The style as the text of a file, every rule written out."""
        data = {
            "format": FORMAT,
            "version": VERSION,
            "name": self.name,
            "captions": asdict(self.captions),
            "transcript": asdict(self.transcript),
            "wording": asdict(self.wording),
            "checks": {rule: level.value for rule, level in sorted(self.levels.items())},
        }
        return json.dumps(data, ensure_ascii=False, indent=1) + "\n"


def read_style(text: str) -> HouseStyle:
    """The style in a file's text; raises StyleError. What a rule does not say is as usual."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise StyleError(f"The file is no house style: it is no JSON ({error}).") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise StyleError("The file is JSON, but no house style.")
    if not isinstance(data.get("version"), int) or data["version"] > VERSION:
        raise StyleError("The house style was written by a newer Tamarind.")
    name = data.get("name")
    if not isinstance(name, str) or not name.strip():
        raise StyleError("The house style has no name.")
    captions = _part(Limits(), data.get("captions", {}), "captions", CAPTIONS)
    transcript = _part(TextOptions(), data.get("transcript", {}), "transcript", TRANSCRIPT)
    wording = _part(Wording(), data.get("wording", {}), "wording", WORDING)
    levels = data.get("checks", {})
    try:
        read = {str(rule): Level(level) for rule, level in dict(levels).items()}
    except (TypeError, ValueError):
        raise StyleError("A check in the house style is neither off, hint nor must.") from None
    if captions.shortest > captions.longest:
        raise StyleError("The shortest time of a caption is longer than the longest.")
    return HouseStyle(" ".join(name.split()), captions, transcript, wording, read)


def _read_region(value: Any) -> str:
    if not isinstance(value, str):
        raise ValueError("a region such as GB")
    return value.upper()


_Part = TypeVar("_Part", Limits, TextOptions, Wording)


CAPTIONS: dict[str, Rule] = {
    "line_length": whole(5, 200),
    "lines": whole(1, 6),
    "shortest": whole(100, 60_000),
    "longest": whole(500, 120_000),
    "gap": whole(0, 2_000),
    "lead_in": whole(0, 2_000),
    "lead_out": whole(0, 5_000),
    "reading_speed": number(3, 100),
    "counts_spaces": YES,
    "frame_rate": or_none(number(1, 240)),
    "speakers": one_of(SpeakerMarks),
    "wide_line_length": whole(4, 100),
    "wide_reading_speed": number(1, 50),
    "own_frames": YES,
    "to_shots": YES,
}
TRANSCRIPT: dict[str, Rule] = {
    "speakers": one_of(SpeakerForm),
    "repeats_speaker": YES,
    "stamps": one_of(Stamps),
    "stamp_minutes": whole(1, 120),
    "longest_paragraph": whole(0, 10_000),
    "paragraph_words": whole(10, 2_000),
}
_REGION = Rule(_read_region, {"type": "string"})
WORDING: dict[str, Rule] = {
    "clean": YES,
    "fillers": TEXTS,
    "numbers": one_of(Numbers),
    "figures_from": whole(2, 1_000_001),
    "dates": one_of(Dates),
    "times": one_of(Times),
    "amounts": one_of(Written),
    "measures": one_of(Written),
    "letters": one_of(Letters),
    "quotes": one_of(Quotes),
    "dashes": one_of(Dashes),
    "spelling": _REGION,
    "terms": TEXTS,
}


def schema() -> dict[str, Any]:
    """What a file with a house style holds, as JSON Schema (draft 2020-12)."""

    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A house style of Tamarind",
        "description": "Times are in milliseconds. What a style does not say is as usual.",
        "type": "object",
        "required": ["format", "version", "name"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"type": "integer", "minimum": 1, "maximum": VERSION},
            "name": {"type": "string", "pattern": "\\S"},
            "captions": schema_of(CAPTIONS),
            "transcript": schema_of(TRANSCRIPT),
            "wording": schema_of(WORDING),
            "checks": {
                "type": "object",
                "additionalProperties": {"enum": [level.value for level in Level]},
            },
        },
    }


def _part(usual: _Part, data: Any, title: str, rules: Mapping[str, Rule]) -> _Part:
    try:
        return changed(usual, data, title, rules)
    except ValueError as error:
        raise StyleError(str(error)) from None
