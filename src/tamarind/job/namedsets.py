"""Named sets that are kept with a job as JSON: house styles, looks."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Callable, Mapping
from typing import Protocol, TypeVar


class Packed(Protocol):
    """A set that is the text of a file, too."""

    def packed(self) -> str:
        """The text of the file."""


Kept = TypeVar("Kept", bound=Packed)


def unpacked(kept: str, read: Callable[[str], Kept]) -> dict[str, Kept]:
    """The sets by key; what ``read`` raises ValueError for is left out. Raises ValueError or
    AttributeError for what are none at all."""
    found: dict[str, Kept] = {}
    for key, data in json.loads(kept).items():
        with contextlib.suppress(ValueError):
            found[key] = read(json.dumps(data))
    return found


def packed(sets: Mapping[str, Kept]) -> str:
    """Sets as they are kept with the job."""
    data = {key: json.loads(one.packed()) for key, one in sets.items()}
    return json.dumps(data, ensure_ascii=False)
