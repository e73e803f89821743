"""All translation engines that are here, and the routes over them."""

from __future__ import annotations

from functools import cache

from tamarind.translation.engines import carried, ownserver, shelf
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import Engine
from tamarind.translation.engines.neural import NeuralEngine
from tamarind.translation.routes import Router


@cache
def router() -> Router:
    """Over every engine, looked for once; ``look_again`` where that has changed."""
    server = ownserver.engine()
    return Router([*_engines(), *([server] if server is not None else [])])


@cache
def local_router() -> Router:
    """Over those that need no network."""
    return Router(_engines())


def look_again() -> None:
    """There may be other engines now."""
    router.cache_clear()
    local_router.cache_clear()


def _engines() -> list[Engine]:
    own: dict[str, Engine] = {}
    for model in shelf.models():
        name = model.folder.name
        own.setdefault(name, NeuralEngine(f"model {name}", f"by the model {name}", [model]))
    came_along = NeuralEngine("carried", "by the network that came along", carried.models())
    return [*own.values(), came_along, Apertium()]
