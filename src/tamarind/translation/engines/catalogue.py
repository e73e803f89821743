"""All translation engines, each for the pairs of languages that it has."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import Engine, TranslationError

ENGINES: tuple[Callable[[], Engine], ...] = (Apertium,)
"""The first that has a pair translates it."""


class AllEngines:
    """Every engine behind the interface of one."""

    def __init__(self, engines: Sequence[Engine] | None = None) -> None:
        self._engines = [make() for make in ENGINES] if engines is None else list(engines)

    def pairs(self) -> list[tuple[str, str]]:
        """All pairs that any has."""
        return list(dict.fromkeys(pair for engine in self._engines for pair in engine.pairs()))

    def translate(self, texts: Sequence[str], source: str, target: str) -> list[str]:
        """By the first engine that has the pair; the last one says why not."""
        for engine in self._engines[:-1]:
            if (source, target) in engine.pairs():
                return engine.translate(texts, source, target)
        if not self._engines:
            raise TranslationError("There is no translation engine.")
        return self._engines[-1].translate(texts, source, target)
