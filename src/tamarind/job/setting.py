"""What a job setting is: a key, a type and a default, kept as text."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Any, Generic, TypeVar

Value = TypeVar("Value")
Choice = TypeVar("Choice", bound=StrEnum)


@dataclass(frozen=True, slots=True)
class Setting(Generic[Value]):
    """``read`` raises ValueError, TypeError, KeyError or AttributeError for an invalid text; the
    default counts then."""

    key: str
    default: Value
    read: Callable[[str], Value]
    write: Callable[[Value], str]

    def of(self, text: str | None) -> Value:
        """Return the value of a kept text; the default for None."""
        if text is None:
            return self.default
        try:
            return self.read(text)
        except (ValueError, TypeError, KeyError, AttributeError):
            return self.default

    def is_unread(self, text: str | None) -> bool:
        """Whether an invalid text is kept, so that the default counts."""
        if text is None:
            return False
        try:
            self.read(text)
        except (ValueError, TypeError, KeyError, AttributeError):
            return True
        return False

    def numbered(self, number: int) -> Setting[Value]:
        """Return the same setting for one recording."""
        return Setting(f"{self.key} {number}", self.default, self.read, self.write)


def text(key: str, default: str = "") -> Setting[str]:
    """Declare any text."""
    return Setting(key, default, str, str)


def flag(key: str, default: bool = False) -> Setting[bool]:
    """Declare yes or no."""
    return Setting(key, default, lambda kept: kept == "yes", lambda on: "yes" if on else "no")


def whole(key: str, default: int, low: int = 0, high: int = 10**9) -> Setting[int]:
    """Declare a whole number between two bounds."""
    return Setting(key, default, lambda kept: _bounded(int(kept), low, high), str)


def share(key: str, default: float) -> Setting[float]:
    """Declare a share from 0 to 1."""
    return Setting(
        key, default, lambda kept: _bounded(float(kept), 0.0, 1.0), lambda value: f"{value:.2f}"
    )


def choice(key: str, default: Choice) -> Setting[Choice]:
    """Declare one of several values."""
    return Setting(key, default, type(default), lambda value: value.value)


def words(key: str, default: Iterable[str] = ()) -> Setting[tuple[str, ...]]:
    """Declare a list of words without spaces."""
    return Setting(key, tuple(default), _words_in, " ".join)


def _words_in(kept: str) -> tuple[str, ...]:
    return tuple(kept.split())


def named_texts(key: str) -> Setting[dict[str, str]]:
    """Declare texts by name."""

    def read(kept: str) -> dict[str, str]:
        found = json.loads(kept)
        return {str(name): str(value) for name, value in found.items()}

    return Setting(key, {}, read, lambda value: json.dumps(value, ensure_ascii=False))


def numbers(key: str) -> Setting[frozenset[int]]:
    """Declare a set of whole numbers."""
    return Setting(
        key,
        frozenset(),
        lambda kept: frozenset(int(one) for one in kept.split() if one.isdecimal()),
        lambda value: " ".join(map(str, sorted(value))),
    )


def path(key: str) -> Setting[Path | None]:
    """Declare a file or folder, or none."""
    return Setting(
        key, None, lambda kept: Path(kept) if kept else None, lambda value: str(value or "")
    )


def texts(key: str) -> Setting[tuple[str, ...]]:
    """Declare a list of texts."""
    return Setting(
        key,
        (),
        lambda kept: tuple(map(str, _list_in(kept))),
        lambda value: json.dumps(list(value), ensure_ascii=False),
    )


def _list_in(kept: str) -> list[Any]:
    found = json.loads(kept)
    if not isinstance(found, list):
        raise ValueError("no list")
    return found


Number = TypeVar("Number", int, float)


def _bounded(value: Number, low: Number, high: Number) -> Number:
    if not low <= value <= high:
        raise ValueError(f"{value} is not between {low} and {high}")
    return value
