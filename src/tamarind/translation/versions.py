"""Other versions of one cue's translation: by the other routes, each spread over its sentence."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from tamarind.transcript.model import Cue
from tamarind.translation.draft import Brief, draft
from tamarind.translation.engines.base import TranslationError, going_on
from tamarind.translation.routes import Router


@dataclass(frozen=True, slots=True)
class Version:
    """A text for a cue, and how it came about."""

    text: str
    how: str


def versions(
    cues: Sequence[Cue],
    cue: Cue,
    brief: Brief,
    router: Router,
    is_stopped: Callable[[], bool] = going_on,
) -> list[Version]:
    """One for each route that says something else, the best route first; raises TranslationError
    if none gives any."""
    found: dict[str, Version] = {}
    why: TranslationError | None = None
    for route in router.routes(brief.source, brief.target):
        try:
            parts = list(draft(cues, [cue.id], replace(brief, route=route), router, is_stopped))
        except TranslationError as error:
            why = error
            continue
        for texts in parts:
            text = texts[cue.id]
            if text:
                found.setdefault(text, Version(text, route.described))
    if not found and why is not None:
        raise why
    return list(found.values())
