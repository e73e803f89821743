"""All translation engines that are here, and the routes over them."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from tamarind.translation.engines import carried
from tamarind.translation.engines.apertium import Apertium
from tamarind.translation.engines.base import Engine
from tamarind.translation.engines.neural import NeuralEngine
from tamarind.translation.routes import Router


def _carried() -> Engine:
    return NeuralEngine("carried", "by the network that came along", carried.models())


ENGINES: tuple[Callable[[], Engine], ...] = (_carried, Apertium)


@cache
def router() -> Router:
    """Over every engine, looked for once."""
    return Router([make() for make in ENGINES])
