"""Run all checks over a text; after an edit only what it concerns is checked again."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from operator import attrgetter

from tamarind.checks.catalogue import CHECKS, level_of
from tamarind.checks.check import Around, CaptionCheck, Check, CheckContext, CheckMemory
from tamarind.checks.finding import Finding, PlacedFinding
from tamarind.language.housestyle import Level
from tamarind.transcript.model import Transcript


@dataclass
class _Kept:
    """The findings of a cue, valid as long as it, its neighbours and its translations are the
    same."""

    around: tuple[object, ...]
    findings: tuple[Finding, ...]


_Found = tuple[object, tuple[Finding, ...]]


@dataclass
class Checker:
    """Checks one text after the other; not for use by two threads at a time."""

    _cues: dict[int, _Kept] = field(default_factory=dict)
    _kept: dict[object, _Found] = field(default_factory=dict)
    _by: object = None

    def check(
        self,
        transcript: Transcript,
        context: CheckContext,
        stopped: Callable[[], bool] = lambda: False,
    ) -> list[PlacedFinding]:
        """Return every finding whose check counts, in the order of the text.

        ``stopped`` is asked between cues; nothing is told then.
        """
        levels = {key: level_of(context.style, key) for key in CHECKS}
        counting = [
            check
            for check in CHECKS.values()
            if levels[check.key] is not Level.OFF
            and (context.captions or not isinstance(check, CaptionCheck))
        ]
        found: list[Finding] = []
        for own in self._in_cues(transcript, context, counting):
            if stopped():
                return []
            found += own
        memory = CheckMemory(stopped, self._kept)
        for check in counting:
            found += check.in_text(transcript, context, memory)
        if stopped():
            return []
        places = {cue.id: place for place, cue in enumerate(transcript.cues)}
        told = [PlacedFinding(one, levels[one.rule], places.get(one.cue, 0)) for one in found]
        return sorted(told, key=lambda one: (one.place, one.finding.first, one.finding.start))

    def _in_cues(
        self, transcript: Transcript, context: CheckContext, counting: Sequence[Check]
    ) -> Iterator[tuple[Finding, ...]]:
        looking = [check for check in counting if type(check).in_cue is not Check.in_cue]
        uses = sorted({name for check in looking for name in check.uses})
        by = (looking, [attrgetter(name)(context) for name in uses], transcript.language)
        if self._by != by:
            self._cues.clear()
            self._by = by
        cues = transcript.cues
        for place, cue in enumerate(cues):
            if not cue.words:
                continue
            before = cues[place - 1] if place else None
            following = cues[place + 1] if place + 1 < len(cues) else None
            around = before, cue, following, *(one.texts.get(cue.id) for one in context.tracks)
            kept = self._cues.get(cue.id)
            if kept is None or not _same(kept.around, around):
                own = Around(before, cue, following, cue.language or transcript.language, context)
                found = tuple(one for check in looking for one in check.in_cue(own))
                kept = self._cues[cue.id] = _Kept(around, found)
            yield kept.findings


def caption_findings(text: Transcript, place: int, context: CheckContext) -> Iterator[Finding]:
    """Yield what breaks the limits of captions in a cue, or between it and the next."""
    cue, following = text.cues[place], text.cues[place + 1 : place + 2]
    if not cue.words:
        return
    language = cue.language or text.language
    around = Around(None, cue, following[0] if following else None, language, context)
    for check in CHECKS.values():
        if isinstance(check, CaptionCheck):
            yield from check.in_cue(around)


def _same(one: Sequence[object], other: Sequence[object]) -> bool:
    """Whether two sequences hold the identical objects."""
    return len(one) == len(other) and all(a is b for a, b in zip(one, other, strict=True))
