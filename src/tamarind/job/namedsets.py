"""Keep styles with a job as JSON."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from typing import Any, Protocol, TypeVar


class Packed(Protocol):
    """A style that can be written as the text of a file."""

    def packed(self) -> str:
        """Return the text of the file."""


Kept = TypeVar("Kept", bound=Packed)


class NamedSets(dict[str, Kept]):
    """Styles by key. ``unread`` are those that could not be read, and ``reasons`` why, in a
    sentence: they are told, and go back into the job unchanged."""

    def __init__(self, sets: Mapping[str, Kept] | None = None) -> None:
        super().__init__(sets or {})
        self.unread: dict[str, Any] = {}
        self.reasons: dict[str, str] = {}


def unpacked(kept: str, read: Callable[[str], Kept]) -> NamedSets[Kept]:
    """Return the styles by key; for those of which ``read`` raises ValueError, the reason. Raises
    ValueError or AttributeError if the text holds none."""
    found: NamedSets[Kept] = NamedSets()
    for key, data in json.loads(kept).items():
        try:
            found[key] = read(json.dumps(data))
        except ValueError as error:
            found.unread[key] = data
            found.reasons[key] = str(error)
    return found


def packed(sets: Mapping[str, Kept]) -> str:
    """Return styles as they are kept with the job."""
    unread = sets.unread if isinstance(sets, NamedSets) else {}
    data = unread | {key: json.loads(one.packed()) for key, one in sets.items()}
    return json.dumps(data, ensure_ascii=False)
