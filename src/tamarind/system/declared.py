"""Declare options once, with words, bounds and defaults: rules of house styles, options of caption
styles.

A field of a frozen dataclass becomes an option by its default value::

    line_length: int = option(42, whole(5, 200), "Characters per line", section="Lines")

Reading a file, its JSON Schema, the pages of editors and the reference in the guide all follow.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, fields, replace
from enum import Enum, StrEnum, auto
from typing import Any, TypeVar

Value = TypeVar("Value")
Declared = TypeVar("Declared")


class Entry(Enum):
    """How a person enters a value. SECONDS are kept in ms, HUNDREDTHS as a share of 1."""

    WHOLE = auto()
    NUMBER = auto()
    SECONDS = auto()
    HUNDREDTHS = auto()
    COLOUR = auto()
    CHOICE = auto()
    TICK = auto()
    LINE = auto()
    WORDS = auto()
    PHRASES = auto()
    TERMS = auto()
    DOCUMENTS = auto()
    LANGUAGES = auto()
    NONE = auto()


@dataclass(frozen=True, slots=True)
class Values:
    """The valid values: ``read`` returns the value of what is in a file, or raises ValueError or
    TypeError; ``schema`` says the same in JSON Schema.

    Numbers lie between two ``bounds``. ``choices`` are the values that are offered, by their words.
    """

    read: Callable[[Any], Any]
    schema: Mapping[str, Any]
    entry: Entry
    bounds: tuple[float, float] | None = None
    choices: Mapping[str, Any] | None = None


@dataclass(frozen=True, slots=True)
class Option:
    """One option: its values, and its words for people.

    ``section`` is the heading under which it stands, ``hint`` what stands behind the field. It has
    an effect only while the option ``only_with[0]`` has the value ``only_with[1]``. Editors fold
    it away if it is ``rare`` that it is changed.
    """

    name: str
    values: Values
    default: Any
    label: str
    section: str
    unit: str
    hint: str
    only_with: tuple[str, Any] | None
    rare: bool


def option(
    default: Value,
    values: Values,
    label: str,
    *,
    section: str,
    unit: str = "",
    hint: str = "",
    only_with: tuple[str, Any] | None = None,
    rare: bool = False,
) -> Value:
    """Declare a dataclass field as an option."""
    told = Option("", values, default, label, section, unit, hint, only_with, rare)
    declared: Value = field(default=default, metadata={"option": told})
    return declared


def options_of(kind: type[Any]) -> Mapping[str, Option]:
    """Return the options of a dataclass by name, in the order of its fields."""
    return {
        one.name: replace(one.metadata["option"], name=one.name)
        for one in fields(kind)
        if "option" in one.metadata
    }


def whole(low: int, high: int) -> Values:
    """Declare whole numbers in [low, high]."""

    def read(value: Any) -> int:
        number = int(value)
        if isinstance(value, bool) or number != value or not low <= number <= high:
            raise ValueError(f"a whole number from {low} to {high}")
        return number

    schema = {"type": "integer", "minimum": low, "maximum": high}
    return Values(read, schema, Entry.WHOLE, (low, high))


def milliseconds(low: int, high: int) -> Values:
    """Declare whole milliseconds in [low, high], which a person enters in seconds."""
    return replace(whole(low, high), entry=Entry.SECONDS)


def number(low: float, high: float) -> Values:
    """Declare numbers in [low, high]."""

    def read(value: Any) -> float:
        number = float(value)
        if isinstance(value, bool) or not low <= number <= high:
            raise ValueError(f"a number from {low:g} to {high:g}")
        return number

    schema = {"type": "number", "minimum": low, "maximum": high}
    return Values(read, schema, Entry.NUMBER, (low, high))


def share(low: float, high: float) -> Values:
    """Declare shares of 1 in [low, high], which a person enters in hundredths."""
    return replace(number(low, high), entry=Entry.HUNDREDTHS)


def or_none(values: Values, choices: Mapping[str, Any]) -> Values:
    """Declare other values or None; a person chooses among ``choices``."""
    return Values(
        lambda value: None if value is None else values.read(value),
        {"anyOf": [values.schema, {"type": "null"}]},
        Entry.CHOICE,
        choices=choices,
    )


def one_of(choices: Mapping[str, StrEnum]) -> Values:
    """Declare the members of an enumeration, by the words for each."""
    kind = type(next(iter(choices.values())))
    return Values(kind, {"enum": [one.value for one in kind]}, Entry.CHOICE, choices=choices)


def yes_or_no(choices: Mapping[str, bool] | None = None) -> Values:
    """Declare true or false: a tick, or a choice between two words."""
    entry = Entry.TICK if choices is None else Entry.CHOICE
    return Values(_read_yes, {"type": "boolean"}, entry, choices=choices)


def line() -> Values:
    """Declare a text of one line."""
    return Values(_read_line, {"type": "string"}, Entry.LINE)


def texts(entry: Entry) -> Values:
    """Declare a tuple of texts."""
    return Values(_read_texts, {"type": "array", "items": {"type": "string"}}, entry)


def _read_yes(value: Any) -> bool:
    if not isinstance(value, bool):
        raise ValueError("true or false")
    return value


def _read_line(value: Any) -> str:
    if not isinstance(value, str):
        raise ValueError("a text")
    return " ".join(value.split())


def _read_texts(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list) or not all(isinstance(one, str) for one in value):
        raise ValueError("a list of words")
    return tuple(value)


def read_options(kind: type[Declared], data: Any, title: str) -> Declared:
    """Return a dataclass with the options in ``data``, and the others at their defaults.

    ``title`` is what the set is called in the sentence of the ValueError that is raised.
    """
    if not isinstance(data, dict):
        raise ValueError(f"“{title}” is no set of values.")
    known = options_of(kind)
    found: dict[str, Any] = {}
    for key, value in data.items():
        if key not in known:
            raise ValueError(f"“{key}” is no rule that is known for {title}.")
        try:
            found[key] = known[key].values.read(value)
        except (ValueError, TypeError, OverflowError) as error:
            raise ValueError(f"“{key}” for {title} cannot be {value!r} ({error}).") from None
    return kind(**found)


def schema_of(kind: type[Any]) -> dict[str, Any]:
    """Return the JSON Schema of a dataclass of options."""
    properties = {key: dict(one.values.schema) for key, one in options_of(kind).items()}
    return {"type": "object", "properties": properties, "additionalProperties": False}


@dataclass(frozen=True, slots=True)
class FileKind:
    """A kind of JSON file that holds one style: ``format`` and ``version`` identify it, ``noun`` is
    the word for people. ``wrong`` is raised for anything else."""

    format: str
    version: int
    noun: str
    wrong: type[ValueError]

    def packed(self, name: str, parts: Mapping[str, Any]) -> str:
        """Return the text of a file."""
        data = {"format": self.format, "version": self.version, "name": name, **parts}
        return json.dumps(data, ensure_ascii=False, indent=1) + "\n"

    def read(self, text: str) -> tuple[str, dict[str, Any]]:
        """Return the name and the data of a file. Raises ``wrong`` with a sentence."""
        try:
            data = json.loads(text)
        except (ValueError, RecursionError) as error:
            raise self.wrong(f"The file is no {self.noun}: it is no JSON ({error}).") from None
        if not isinstance(data, dict) or data.get("format") != self.format:
            raise self.wrong(f"The file is JSON, but no {self.noun}.")
        if not isinstance(data.get("version"), int) or data["version"] > self.version:
            raise self.wrong(f"The {self.noun} was written by a newer Tamarind.")
        name = data.get("name")
        if not isinstance(name, str) or not name.strip():
            raise self.wrong(f"The {self.noun} has no name.")
        return " ".join(name.split()), data

    def part(self, data: Mapping[str, Any], name: str, kind: type[Declared]) -> Declared:
        """Return one part of the data as a dataclass of options. Raises ``wrong``."""
        try:
            return read_options(kind, data.get(name, {}), name)
        except ValueError as error:
            raise self.wrong(str(error)) from None

    def schema(self, description: str, parts: Mapping[str, Any]) -> dict[str, Any]:
        """Return the JSON Schema (draft 2020-12) of such files; ``parts`` has a schema for each."""
        return {
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            "title": f"A {self.noun} of Tamarind",
            "description": f"{description} What is left out has its default.",
            "type": "object",
            "required": ["format", "version", "name"],
            "properties": {
                "format": {"const": self.format},
                "version": {"type": "integer", "minimum": 1, "maximum": self.version},
                "name": {"type": "string", "pattern": "\\S"},
                **parts,
            },
        }
