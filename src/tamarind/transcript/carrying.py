"""What becomes of each field of a cue where cues are cut, joined, or cut anew.

Every act asks here, so that a field which is added to the model is said once, and lost nowhere.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum
from typing import Any

from tamarind.transcript.model import Cue


class Belongs(Enum):
    """To what a field belongs: to all that a cue says, or to the place where it begins."""

    TO_ALL = "all"
    TO_BEGINNING = "beginning"


@dataclass(frozen=True, slots=True)
class Carried:
    """``together`` makes one value of those of the cues that are in a new one, in order."""

    belongs: Belongs
    together: Callable[[Sequence[Any]], Any]


def _first_said(values: Sequence[Any]) -> Any:
    """The first that says something."""
    return next((value for value in values if value), values[0])


def _joined_notes(values: Sequence[str]) -> str:
    return "\n\n".join(value for value in values if value)


CARRIED = {
    "speaker": Carried(Belongs.TO_ALL, lambda values: values[0]),
    "settled": Carried(Belongs.TO_ALL, all),
    "placement": Carried(Belongs.TO_ALL, _first_said),
    "language": Carried(Belongs.TO_ALL, lambda values: values[0]),
    "look": Carried(Belongs.TO_ALL, _first_said),
    "opens_paragraph": Carried(Belongs.TO_BEGINNING, lambda values: values[0]),
    "paragraph_set": Carried(Belongs.TO_BEGINNING, any),
    "note": Carried(Belongs.TO_BEGINNING, _joined_notes),
    "heading": Carried(Belongs.TO_BEGINNING, _first_said),
}

SET_BY_ACTS = frozenset({"id", "start", "end", "words", "breaks", "locked"})
"""What is cut or joined is these; every act says itself what becomes of them."""

_OTHERWISE = {name: Cue.__dataclass_fields__[name].default for name in CARRIED}


def carried(parts: Sequence[Cue], begun: Sequence[Cue]) -> dict[str, Any]:
    """The fields of a cue that is made of parts of others, in order; ``begun`` are those of them
    whose beginning is in it."""
    speaking = [cue for cue in parts if cue.words] or list(parts)
    found: dict[str, Any] = {}
    for name, how in CARRIED.items():
        of = speaking if how.belongs is Belongs.TO_ALL else begun
        values = [getattr(cue, name) for cue in of]
        found[name] = how.together(values) if values else _OTHERWISE[name]
    return found
