"""The looks of captions that are kept with a job, so that it is complete wherever it is opened."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Mapping

from tamarind.picture.lookbook import SHIPPED, USUAL_LOOK
from tamarind.picture.looks import Look, LookError, read_look


def unpacked(kept: str) -> dict[str, Look]:
    """The job's own looks by key; what cannot be read is left out. Raises ValueError or
    AttributeError for what are no looks at all."""
    found: dict[str, Look] = {}
    for key, data in json.loads(kept).items():
        with contextlib.suppress(LookError):
            found[key] = read_look(json.dumps(data))
    return found


def packed(looks: Mapping[str, Look]) -> str:
    """Looks as they are kept with the job."""
    data = {key: json.loads(look.packed()) for key, look in looks.items()}
    return json.dumps(data, ensure_ascii=False)


def look_of(keys: tuple[str, ...], own: Mapping[str, Look]) -> Look:
    """The first look of these keys that is here; else the usual one."""
    for key in keys:
        found = own.get(key) or SHIPPED.get(key)
        if found is not None:
            return found
    return SHIPPED[USUAL_LOOK]
