"""Many fixes of one kind, shown before and after and taken one by one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import replace
from itertools import pairwise

from tamarind.captions.limits import Limits
from tamarind.captions.lines import as_read
from tamarind.captions.relayout import Regrouped, regrouped, taken
from tamarind.checks.catalogue import CHECKS
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import Checker
from tamarind.checks.finding import Finding, Fix, Reword
from tamarind.checks.fixing import fixed
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Cue, Transcript

LEFT_OUT = "(left out)"


class ManyFixes:
    """What fixes would make of a text, as ``count`` changes that are independent of each other.

    New words change their cue alone. Times and cuts may reach into neighbours: there a change is
    all that became of cues that lie together.
    """

    def __init__(self, text: Transcript, fixes: Sequence[Fix], limits: Limits) -> None:
        self._text, self._limits = text, limits
        self._reworded: list[tuple[int, list[Fix]]] = []
        self._groups: list[Regrouped] = []
        self._new = text
        if all(isinstance(fix, Reword) for fix in fixes):
            places = {cue.id: place for place, cue in enumerate(text.cues)}
            by_place: dict[int, list[Fix]] = {}
            for fix in fixes:
                if fix.cue in places and fixed(self._alone(places[fix.cue]), [fix], limits)[1]:
                    by_place.setdefault(places[fix.cue], []).append(fix)
            self._reworded = sorted(by_place.items())
        else:
            self._new, _ = fixed(text, fixes, limits)
            self._groups = regrouped(text, self._new)
        self.count = len(self._reworded) + len(self._groups)

    def cues(self, number: int) -> set[int]:
        """Return the cues of a change, by their ids before and after."""
        if self._reworded:
            return {self._text.cues[self._reworded[number][0]].id}
        group = self._groups[number]
        old = self._text.cues[group.old : group.old_last]
        return {cue.id for cue in (*old, *self._new.cues[group.new : group.new_last])}

    def start(self, number: int) -> int:
        """Return when the first cue of a change starts (ms)."""
        place = self._reworded[number][0] if self._reworded else self._groups[number].old
        return self._text.cues[place].start

    def shown(self, number: int) -> tuple[str, str]:
        """Return the text before and after as a viewer sees it, or the times where only they
        differ."""
        limits = self._limits
        if self._reworded:
            place, fixes = self._reworded[number]
            new, _ = fixed(self._alone(place), fixes, limits)
            before = as_read(self._text, place, place + 1, limits)
            return before, as_read(new, 0, len(new.cues), limits) or LEFT_OUT
        group = self._groups[number]
        old = self._text.cues[group.old : group.old_last]
        now = self._new.cues[group.new : group.new_last]
        if [(cue.text, cue.breaks) for cue in old] == [(cue.text, cue.breaks) for cue in now]:
            return _times(old), _times(now)
        before = as_read(self._text, group.old, group.old_last, limits)
        return before, as_read(self._new, group.new, group.new_last, limits)

    def taken(self, chosen: Sequence[int]) -> Transcript:
        """Return the text with the chosen changes."""
        if self._reworded:
            fixes = [fix for number in chosen for fix in self._reworded[number][1]]
            return fixed(self._text, fixes, self._limits)[0]
        return taken(self._text, self._new, [self._groups[number] for number in chosen])

    def _alone(self, place: int) -> Transcript:
        return replace(self._text, cues=self._text.cues[place : place + 1])


def is_certain(finding: Finding) -> bool:
    """Whether a finding has a fix that follows from its rule alone, so that many can be made at
    once; a guess is for a person to take, one by one."""
    return bool(finding.fixes) and CHECKS[finding.rule].certain and not finding.is_guess


def harmless_changes(
    many: ManyFixes, text: Transcript, context: CheckContext, checker: Checker | None = None
) -> list[int]:
    """Return the numbers of the changes after which no cue breaks a rule that it kept before."""
    checker = checker or Checker()
    before = _broken(checker, text, context)
    chosen = list(range(many.count))
    while chosen:
        after = _broken(checker, many.taken(chosen), context)
        spoilt = {cue for cue, rule in after - before}
        near = _with_neighbours(spoilt, text)
        rest = [number for number in chosen if not many.cues(number) & near]
        if not spoilt or len(rest) == len(chosen):
            return chosen if not spoilt else []
        chosen = rest
    return []


def _broken(checker: Checker, text: Transcript, context: CheckContext) -> Counter[tuple[int, str]]:
    """Count how often each cue breaks each rule."""
    told = checker.check(text, context)
    return Counter((one.finding.cue, one.finding.rule) for one in told)


def _with_neighbours(ids: set[int], text: Transcript) -> set[int]:
    """Return some cues and those beside them, since a change may break what is next to it."""
    found = set(ids)
    for one, other in pairwise(text.cues):
        if one.id in ids or other.id in ids:
            found |= {one.id, other.id}
    return found


def fixed_by_kinds(
    text: Transcript, context: CheckContext, kinds: Collection[str]
) -> tuple[Transcript, list[tuple[int, str, str, str]]]:
    """Return the text with all certain fixes of these rules, and each change: when (ms), by which
    rule, before and after. Fixing the result again changes nothing."""
    told: list[tuple[int, str, str, str]] = []
    checker = Checker()
    for _ in range(MOST_ROUNDS):
        before = text
        for kind in kinds:
            fixes = [
                one.finding.fixes[0]
                for one in checker.check(text, context)
                if one.finding.rule == kind and is_certain(one.finding)
            ]
            if not fixes:
                continue
            many = ManyFixes(text, fixes, context.style.captions)
            chosen = harmless_changes(many, text, context, checker)
            told += [(many.start(number), kind, *many.shown(number)) for number in chosen]
            text = many.taken(chosen) if chosen else text
        if text == before:
            break
    return text, told


MOST_ROUNDS = 8
"""Mending one rule may make room for another."""


def _times(cues: Sequence[Cue]) -> str:
    spans = (f"{clock(c.start, 2, hours=False)} – {clock(c.end, 2, hours=False)}" for c in cues)
    return "\n".join(spans)
