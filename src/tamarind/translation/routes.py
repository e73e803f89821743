"""Routes from one language to another over the available engines.

An engine's pair is a leg; a route has one leg or several, each from the language that the one
before ends in. What is known of the quality of each leg is kept as data (``quality.json``): figures
that were measured where there are any, else what its kind of engine usually has. A route is as good
as the product of its legs, since what one has lost the next cannot find again.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources

from tamarind.transcript.languages import base_of, name_of
from tamarind.translation.engines.base import Engine, HasAlternatives, TranslationError, going_on

MOST_LEGS = 3
MOST_ROUTES = 6
_AROUND = " \t\n-–—♪♫#*"
"""What stands around a text and is nobody's words: signs of a song, a dash before a speaker."""


@dataclass(frozen=True, slots=True)
class Leg:
    """One engine between two languages; ``quality`` from 0 to 1."""

    engine: str
    label: str
    source: str
    target: str
    quality: float

    @property
    def key(self) -> str:
        """The form in which it is kept."""
        return f"{self.engine}:{self.source}-{self.target}"


@dataclass(frozen=True, slots=True)
class Route:
    """Legs, each starting where the one before ends."""

    legs: tuple[Leg, ...]

    @property
    def key(self) -> str:
        """The form in which it is kept in a job and named on the command line."""
        return "/".join(leg.key for leg in self.legs)

    @property
    def source(self) -> str:
        """The source language."""
        return self.legs[0].source

    @property
    def target(self) -> str:
        """The target language."""
        return self.legs[-1].target

    @property
    def quality(self) -> float:
        """The product of its legs' qualities."""
        product = 1.0
        for leg in self.legs:
            product *= leg.quality
        return product

    @property
    def short(self) -> str:
        """Name the intermediate languages in a few words."""
        between = " and ".join(name_of(leg.target) for leg in self.legs[:-1])
        return f"by way of {between}" if between else "directly"

    @property
    def described(self) -> str:
        """Describe the engines and intermediate languages."""
        hows = list(dict.fromkeys(leg.label for leg in self.legs))
        how = ", then ".join(hows)
        return f"{self.short}, {how}"


class Router:
    """All engines, and the routes over them."""

    def __init__(self, engines: Sequence[Engine]) -> None:
        self._engines = {engine.name: engine for engine in engines}
        self._legs: list[Leg] = []
        for engine in engines:
            for source, target in engine.pairs():
                quality = quality_of(engine, source, target)
                self._legs.append(Leg(engine.name, engine.label, source, target, quality))

    def legs(self) -> Sequence[Leg]:
        """Return what every engine translates directly."""
        return self._legs

    def routes(self, source: str, target: str) -> list[Route]:
        """Return all routes, best first; none through a language twice."""
        found = [Route(legs) for legs in self._ways(base_of(source), base_of(target), ())]
        found.sort(key=lambda route: (-route.quality, len(route.legs), route.key))
        return found[:MOST_ROUTES]

    def route(self, source: str, target: str, key: str = "") -> Route:
        """Return the route kept by this key if it is still available, else the best.

        Raises TranslationError if there is none.
        """
        found = self.routes(source, target)
        if not found:
            raise TranslationError(
                f"Nothing here translates from {name_of(source)} to {name_of(target)}. A model "
                "folder can be added, and Debian’s apertium-… packages bring more languages."
            )
        return next((route for route in found if route.key == key), found[0])

    def targets(self, source: str) -> list[str]:
        """Return the languages that can be reached, best first."""
        best: dict[str, float] = {}
        for target in {leg.target for leg in self._legs}:
            if target != base_of(source) and (found := self.routes(source, target)):
                best[target] = found[0].quality
        return sorted(best, key=lambda target: (-best[target], name_of(target)))

    def translate(
        self,
        route: Route,
        texts: Sequence[str],
        is_stopped: Callable[[], bool] = going_on,
    ) -> list[str]:
        """Translate each text by all legs. Raises TranslationError or Stopped.

        Engines expect whole sentences: a text that begins small or has no mark at its end is put to
        them as one, and becomes again what it was.
        """
        said = [text for text in texts if _has_words(text)]
        result = [_as_sentence(text) for text in said]
        for leg in route.legs:
            engine = self._engines.get(leg.engine)
            if engine is None:
                raise TranslationError(f"{leg.label} is no longer here.")
            result = engine.translate(result, leg.source, leg.target, is_stopped)
        answers = iter(result)
        return [
            _around(text, _like_source(_core(text), next(answers))) if _has_words(text) else text
            for text in texts
        ]

    def alternatives(self, route: Route, text: str) -> list[str]:
        """Return other translations of a sentence by the last leg's engine. Raises
        TranslationError."""
        *before, last = route.legs
        engine = self._engines.get(last.engine)
        if not isinstance(engine, HasAlternatives) or not _has_words(text):
            return []
        said = _as_sentence(text)
        for leg in before:
            (said,) = self._engines[leg.engine].translate([said], leg.source, leg.target)
        found = engine.alternatives(said, last.source, last.target)
        return [_around(text, _like_source(_core(text), one)) for one in found]

    def _ways(self, at: str, target: str, so_far: tuple[Leg, ...]) -> Iterator[tuple[Leg, ...]]:
        been = {leg.source for leg in so_far} | {at}
        for leg in self._legs:
            if base_of(leg.source) != at or leg.target in been:
                continue
            legs = (*so_far, leg)
            if base_of(leg.target) == target:
                yield legs
            elif len(legs) < MOST_LEGS:
                yield from self._ways(base_of(leg.target), target, legs)


def quality_of(engine: Engine, source: str, target: str) -> float:
    """Return an engine's known quality between two languages, from 0 to 1."""
    known = _qualities()
    pair = f"{base_of(source)}-{base_of(target)}"
    own = known.get(engine.name, {})
    of_kind = known[engine.kind]
    return own.get(pair) or of_kind.get(pair) or of_kind["any"]


@cache
def _qualities() -> dict[str, dict[str, float]]:
    text = resources.files("tamarind.translation").joinpath("quality.json").read_text("utf-8")
    read: dict[str, dict[str, float]] = json.loads(text)
    return read


def _has_words(text: str) -> bool:
    """Whether there is anything to translate; signs alone stay as they are."""
    return any(letter.isalpha() for letter in text)


def _core(text: str) -> str:
    """Return a text without song signs or a dash before it."""
    return text.strip(_AROUND)


def _around(text: str, core: str) -> str:
    head = text[: len(text) - len(text.lstrip(_AROUND))]
    tail = text[len(text.rstrip(_AROUND)) :]
    return f"{head.lstrip()}{core}{tail.rstrip()}"


def _as_sentence(text: str) -> str:
    text = _core(text)
    if text[-1:].isalnum() and len(text.split()) > 1:
        text += "."
    return text[:1].upper() + text[1:]


def _like_source(source: str, text: str) -> str:
    """Return a translation without the final mark and capital that made the source a sentence for
    the engine, which may also write short words in capitals. Return the source if the result is not
    readable, as for a script that the engine does not know."""
    if not _has_words(text):
        return source
    source = source.strip()
    if source[-1:].isalnum():
        text = text.rstrip().removesuffix(".")
    first = text.split(" ", 1)[0]
    if len(first) > 1 and first.isupper() and not source.split(" ", 1)[0].isupper():
        text = first.capitalize() + text[len(first) :]
    if source[:1].islower() and not text[1:2].isupper():
        return text[:1].lower() + text[1:]
    return text
