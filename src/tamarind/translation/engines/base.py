"""The one small interface that every translation engine has."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol


class TranslationError(Exception):
    """A translation cannot be made; the message is one or two sentences for the person."""


class Engine(Protocol):
    """Translates texts."""

    def pairs(self) -> list[tuple[str, str]]:
        """(from, to) as BCP 47 tags, for all that is installed; empty if nothing is."""

    def translate(self, texts: Sequence[str], source: str, target: str) -> list[str]:
        """One translation for each text, in order; raises TranslationError."""
