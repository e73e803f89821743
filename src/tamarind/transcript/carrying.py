"""Combine the fields of cues when one is made of parts of others, by the table of fields."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from tamarind.transcript.fields import OF_A_CUE, Belongs
from tamarind.transcript.model import Cue

_CARRIED = tuple(one for one in OF_A_CUE if one.belongs is not Belongs.SET_BY_ACTS)


def carried(parts: Sequence[Cue], begun: Sequence[Cue]) -> dict[str, Any]:
    """Return the fields of a cue made of ``parts`` of others, in order; ``begun`` are those parts
    that include their cue's beginning."""
    speaking = [cue for cue in parts if cue.words] or list(parts)
    found: dict[str, Any] = {}
    for one in _CARRIED:
        of = speaking if one.belongs is Belongs.TO_ALL else begun
        values = [getattr(cue, one.name) for cue in of]
        found[one.name] = one.together(values) if values else one.default
    return found
