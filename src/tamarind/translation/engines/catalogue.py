"""All translation engines that are here, and the router over them."""

from __future__ import annotations

from functools import cache

from tamarind.translation.engines import carried, ownserver, shelf
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import Engine
from tamarind.translation.engines.neural import NeuralEngine
from tamarind.translation.routes import Router


@cache
def router() -> Router:
    """Return the router over all engines, searched once; see ``look_again``."""
    server = ownserver.engine()
    return Router([*_engines(), *([server] if server is not None else [])])


@cache
def local_router() -> Router:
    """Return the router over engines that need no network."""
    return Router(_engines())


def look_again() -> None:
    """Search for engines again."""
    router.cache_clear()
    local_router.cache_clear()


def _engines() -> list[Engine]:
    own: dict[str, Engine] = {}
    for model in shelf.models():
        name = model.folder.name
        own.setdefault(name, NeuralEngine(f"model {name}", f"by the model {name}", [model]))
    came_along = NeuralEngine("carried", "by the network that came along", carried.models())
    return [*own.values(), came_along, Apertium()]
