"""The one small interface that every translation engine has."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol, runtime_checkable

from tamarind.system.errors import ToldError


class TranslationError(ToldError):
    """A translation cannot be made; the message is one or two sentences for the person."""


class Stopped(Exception):
    """Somebody has called the work off."""


def going_on() -> bool:
    """Return False: nobody has called the work off."""
    return False


class Engine(Protocol):
    """Translates texts, each for a sentence of its own."""

    @property
    def name(self) -> str:
        """What it is called where a route is kept; no two engines have the same."""

    @property
    def label(self) -> str:
        """What it is called where a person reads of it."""

    @property
    def kind(self) -> str:
        """How it works, by which its quality is guessed where nobody has measured it."""

    def pairs(self) -> Sequence[tuple[str, str]]:
        """(from, to) as BCP 47 tags, for all that it has here; empty if nothing is."""

    def translate(
        self,
        texts: Sequence[str],
        source: str,
        target: str,
        is_stopped: Callable[[], bool] = going_on,
    ) -> list[str]:
        """One translation for each text, in order; raises TranslationError, and Stopped when
        ``is_stopped`` says so between texts."""


@runtime_checkable
class HasAlternatives(Protocol):
    """An engine that can say a text in several ways."""

    def alternatives(self, text: str, source: str, target: str) -> list[str]:
        """The best first; none where the model for the pair knows only one. Raises
        TranslationError."""
