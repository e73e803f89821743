"""Values of sets that are kept as JSON: what each may be, how it is read, and its schema."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any, TypeVar

Kept = TypeVar("Kept")


@dataclass(frozen=True, slots=True)
class Rule:
    """``read`` gives the value of what stands in a file, or raises ValueError or TypeError;
    ``schema`` says the same in JSON Schema. Numbers lie between two ``bounds``, which editors go
    by too."""

    read: Callable[[Any], Any]
    schema: Mapping[str, Any]
    bounds: tuple[float, float] | None = None


def whole(low: int, high: int) -> Rule:
    """A whole number between two."""

    def read(value: Any) -> int:
        number = int(value)
        if isinstance(value, bool) or number != value or not low <= number <= high:
            raise ValueError(f"a whole number from {low} to {high}")
        return number

    return Rule(read, {"type": "integer", "minimum": low, "maximum": high}, (low, high))


def number(low: float, high: float) -> Rule:
    """A number between two."""

    def read(value: Any) -> float:
        number = float(value)
        if isinstance(value, bool) or not low <= number <= high:
            raise ValueError(f"a number from {low:g} to {high:g}")
        return number

    return Rule(read, {"type": "number", "minimum": low, "maximum": high}, (low, high))


def or_none(rule: Rule) -> Rule:
    """What another rule allows, or nothing."""
    return Rule(
        lambda value: None if value is None else rule.read(value),
        {"anyOf": [rule.schema, {"type": "null"}]},
    )


def one_of(kind: type[StrEnum]) -> Rule:
    """One of some words."""
    return Rule(kind, {"enum": [one.value for one in kind]})


def _read_yes(value: Any) -> bool:
    if not isinstance(value, bool):
        raise ValueError("true or false")
    return value


def _read_texts(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list) or not all(isinstance(one, str) for one in value):
        raise ValueError("a list of words")
    return tuple(value)


YES = Rule(_read_yes, {"type": "boolean"})
TEXTS = Rule(_read_texts, {"type": "array", "items": {"type": "string"}})


def changed(usual: Kept, data: Any, title: str, rules: Mapping[str, Rule]) -> Kept:
    """A dataclass with the values that stand in ``data``; what it does not say is as usual.

    Raises ValueError with a sentence; ``title`` is what the set is called in it.
    """
    if not isinstance(data, dict):
        raise ValueError(f"“{title}” is no set of values.")
    changes: dict[str, Any] = {}
    for key, value in data.items():
        if key not in rules:
            raise ValueError(f"“{key}” is no rule that is known for {title}.")
        try:
            changes[key] = rules[key].read(value)
        except (ValueError, TypeError, OverflowError) as error:
            raise ValueError(f"“{key}” for {title} cannot be {value!r} ({error}).") from None
    return replace(usual, **changes)  # type: ignore[type-var]


def schema_of(rules: Mapping[str, Rule]) -> dict[str, Any]:
    """The JSON Schema of a set with these values."""
    properties = {key: dict(rule.schema) for key, rule in rules.items()}
    return {"type": "object", "properties": properties, "additionalProperties": False}
