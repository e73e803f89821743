"""Other versions of one cue's translation, each spread over its sentence: from similar sentences,
by other routes, and shortened."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from tamarind.transcript.model import Cue
from tamarind.translation.draft import Brief, draft
from tamarind.translation.engines.base import TranslationError, going_on
from tamarind.translation.memory import Like, TranslationMemory
from tamarind.translation.routes import Router
from tamarind.translation.sentences import sentences_of, touched
from tamarind.translation.shorter import left_out, without


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
    """Return the versions that differ, each once. Raises TranslationError if there are none because
    no engine gave any."""
    found: dict[str, Version] = {}
    why: TranslationError | None = None
    for own, text, how in _ways(cues, cue, brief, router):
        like: dict[int, Like] = {}
        try:
            for texts in draft(text, [cue.id], own, router, is_stopped, like.__setitem__):
                said = f"{how} “{like[cue.id].said}”" if cue.id in like else how
                if texts[cue.id]:
                    found.setdefault(texts[cue.id], Version(texts[cue.id], said))
        except TranslationError as error:
            why = error
    if not found and why is not None:
        raise why
    return list(found.values())


def _ways(
    cues: Sequence[Cue], cue: Cue, brief: Brief, router: Router
) -> Iterator[tuple[Brief, Sequence[Cue], str]]:
    """Yield how it may be translated, of which text, and a note on that."""
    said = [sentence.text for sentence in touched(sentences_of(cues, brief.source), [cue.id])]
    if any(brief.known.exact(text) is not None for text in said):
        yield brief, cues, "as it was translated before"
    elif any(brief.known.like(text) is not None for text in said):
        yield brief, cues, "adapted from"
    anew = replace(brief, known=TranslationMemory())
    for route in router.routes(brief.source, brief.target):
        yield replace(anew, route=route), cues, route.described
    if len(said) == 1:
        for route in router.routes(brief.source, brief.target):
            for other in router.alternatives(route, said[0]):
                yield (
                    replace(brief, known=TranslationMemory({said[0]: other})),
                    cues,
                    "another wording",
                )
    padding = left_out(cue.words, brief.source)
    if padding:
        shorter = without(cue, padding)
        fewer = [shorter if one.id == cue.id else one for one in cues]
        words = " ".join(cue.words[place].text.strip(",") for place in padding)
        yield anew, fewer, f"shorter, without “{words}”"
