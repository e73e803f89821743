"""House style: one named set of a client's rules for captions, transcripts and wording.

A style is a value; as a file it is JSON that says what it is and may leave out whatever is as
usual.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, field, replace
from enum import StrEnum
from typing import Any, TypeVar

from tamarind.captions.limits import ORDINARY, Limits, SpeakerMarks
from tamarind.formats.paragraphs import PLAIN, SpeakerForm, Stamps, TextOptions

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

    Numbers from ``figures_from`` on are in figures with ``Numbers.WORDS_BELOW``. ``spelling`` is
    the variant as a region (GB, US, AU, CA, IN) where the language has such. ``terms`` are the
    client's names and terms, each as a line of a glossary.
    """

    clean: bool = False
    fillers: tuple[str, ...] = FILLERS
    numbers: Numbers = Numbers.AS_THEY_ARE
    figures_from: int = 10
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
    captions = _part(Limits(), data.get("captions", {}), "captions", _CAPTIONS)
    transcript = _part(TextOptions(), data.get("transcript", {}), "transcript", _TRANSCRIPT)
    wording = _part(Wording(), data.get("wording", {}), "wording", _WORDING)
    levels = data.get("checks", {})
    try:
        read = {str(rule): Level(level) for rule, level in dict(levels).items()}
    except (TypeError, ValueError):
        raise StyleError("A check in the house style is neither off, hint nor must.") from None
    if captions.shortest > captions.longest:
        raise StyleError("The shortest time of a caption is longer than the longest.")
    return HouseStyle(" ".join(name.split()), captions, transcript, wording, read)


@dataclass(frozen=True, slots=True)
class _Rule:
    """``read`` gives the value of what stands in a file, or raises ValueError or TypeError;
    ``schema`` says the same in JSON Schema."""

    read: Callable[[Any], Any]
    schema: Mapping[str, Any]


def _whole(low: int, high: int) -> _Rule:
    def read(value: Any) -> int:
        number = int(value)
        if isinstance(value, bool) or number != value or not low <= number <= high:
            raise ValueError(f"a whole number from {low} to {high}")
        return number

    return _Rule(read, {"type": "integer", "minimum": low, "maximum": high})


def _number(low: float, high: float) -> _Rule:
    def read(value: Any) -> float:
        number = float(value)
        if isinstance(value, bool) or not low <= number <= high:
            raise ValueError(f"a number from {low:g} to {high:g}")
        return number

    return _Rule(read, {"type": "number", "minimum": low, "maximum": high})


def _or_none(rule: _Rule) -> _Rule:
    return _Rule(
        lambda value: None if value is None else rule.read(value),
        {"anyOf": [rule.schema, {"type": "null"}]},
    )


def _one_of(kind: type[StrEnum]) -> _Rule:
    return _Rule(kind, {"enum": [one.value for one in kind]})


def _read_yes(value: Any) -> bool:
    if not isinstance(value, bool):
        raise ValueError("true or false")
    return value


def _read_texts(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list) or not all(isinstance(one, str) for one in value):
        raise ValueError("a list of words")
    return tuple(value)


def _read_region(value: Any) -> str:
    if not isinstance(value, str):
        raise ValueError("a region such as GB")
    return value.upper()


_YES = _Rule(_read_yes, {"type": "boolean"})
_TEXTS = _Rule(_read_texts, {"type": "array", "items": {"type": "string"}})
_REGION = _Rule(_read_region, {"type": "string"})

_CAPTIONS: dict[str, _Rule] = {
    "line_length": _whole(5, 200),
    "lines": _whole(1, 6),
    "shortest": _whole(100, 60_000),
    "longest": _whole(500, 120_000),
    "gap": _whole(0, 2_000),
    "lead_in": _whole(0, 2_000),
    "lead_out": _whole(0, 5_000),
    "reading_speed": _number(3, 100),
    "counts_spaces": _YES,
    "frame_rate": _or_none(_number(1, 240)),
    "speakers": _one_of(SpeakerMarks),
    "wide_line_length": _whole(4, 100),
    "wide_reading_speed": _number(1, 50),
}
_TRANSCRIPT: dict[str, _Rule] = {
    "speakers": _one_of(SpeakerForm),
    "repeats_speaker": _YES,
    "stamps": _one_of(Stamps),
    "stamp_minutes": _whole(1, 120),
    "longest_paragraph": _whole(0, 10_000),
    "paragraph_words": _whole(10, 2_000),
}
_WORDING: dict[str, _Rule] = {
    "clean": _YES,
    "fillers": _TEXTS,
    "numbers": _one_of(Numbers),
    "figures_from": _whole(2, 1_000_001),
    "quotes": _one_of(Quotes),
    "dashes": _one_of(Dashes),
    "spelling": _REGION,
    "terms": _TEXTS,
}


def schema() -> dict[str, Any]:
    """What a file with a house style holds, as JSON Schema (draft 2020-12)."""

    def part(rules: Mapping[str, _Rule]) -> dict[str, Any]:
        properties = {key: dict(rule.schema) for key, rule in rules.items()}
        return {"type": "object", "properties": properties, "additionalProperties": False}

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
            "captions": part(_CAPTIONS),
            "transcript": part(_TRANSCRIPT),
            "wording": part(_WORDING),
            "checks": {
                "type": "object",
                "additionalProperties": {"enum": [level.value for level in Level]},
            },
        },
    }


_Part = TypeVar("_Part", Limits, TextOptions, Wording)


def _part(usual: _Part, data: Any, title: str, rules: Mapping[str, _Rule]) -> _Part:
    if not isinstance(data, dict):
        raise StyleError(f"“{title}” of the house style is no set of rules.")
    changes: dict[str, Any] = {}
    for key, value in data.items():
        if key not in rules:
            raise StyleError(f"“{key}” is no rule that is known for {title}.")
        try:
            changes[key] = rules[key].read(value)
        except (ValueError, TypeError, OverflowError) as error:
            raise StyleError(f"“{key}” for {title} cannot be {value!r} ({error}).") from None
    return replace(usual, **changes)
