"""The looks of captions that are kept with a job, so that it is complete wherever it is opened."""

from __future__ import annotations

from collections.abc import Mapping

from tamarind.picture.lookbook import SHIPPED, USUAL_LOOK
from tamarind.picture.looks import Look


def look_of(keys: tuple[str, ...], own: Mapping[str, Look]) -> Look:
    """The first look of these keys that is here; else the usual one."""
    for key in keys:
        found = own.get(key) or SHIPPED.get(key)
        if found is not None:
            return found
    return SHIPPED[USUAL_LOOK]
