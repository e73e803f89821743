"""The interface of translation engines."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol, runtime_checkable

from tamarind.system.errors import ToldError


class TranslationError(ToldError):
    """A translation failed; the message is one or two sentences for the person."""


class Stopped(Exception):
    """The work was cancelled."""


def going_on() -> bool:
    """Return False: nobody has cancelled."""
    return False


class Engine(Protocol):
    """Translates texts, each a sentence of its own."""

    @property
    def name(self) -> str:
        """Its unique name, as kept with a route."""

    @property
    def label(self) -> str:
        """Its name for people."""

    @property
    def kind(self) -> str:
        """How it works, from which its quality is guessed if nobody has measured it."""

    def pairs(self) -> Sequence[tuple[str, str]]:
        """Return (from, to) as BCP 47 tags for all that it has here."""

    def translate(
        self,
        texts: Sequence[str],
        source: str,
        target: str,
        is_stopped: Callable[[], bool] = going_on,
    ) -> list[str]:
        """Return one translation for each text, in order. Raises TranslationError, and Stopped if
        ``is_stopped`` returns true between texts."""


@runtime_checkable
class HasAlternatives(Protocol):
    """An engine that can give several translations."""

    def alternatives(self, text: str, source: str, target: str) -> list[str]:
        """Return translations, best first; none if the pair's model gives only one. Raises
        TranslationError."""
