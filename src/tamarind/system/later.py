"""Import modules when they are first used, not when the program starts."""

from __future__ import annotations

from importlib import import_module
from types import ModuleType
from typing import Any


class Later:
    """Stands for a module, which is imported when an attribute is asked for.

    Beside it stands the import itself for whoever checks types::

        if TYPE_CHECKING:
            import av
        else:
            av = Later("av")
    """

    def __init__(self, name: str) -> None:
        self._name = name
        self._module: ModuleType | None = None

    def __getattr__(self, name: str) -> Any:
        if self._module is None:
            self._module = import_module(self._name)
        return getattr(self._module, name)
