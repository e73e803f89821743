"""Many fixes of one kind, to be looked at before and after, and taken one by one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.captions.limits import Limits
from tamarind.captions.lines import as_read
from tamarind.captions.relayout import Regrouped, regrouped, taken
from tamarind.checks.finding import Fix, Reword
from tamarind.checks.fixing import fixed
from tamarind.formats.timecode import clock
from tamarind.transcript.model import Cue, Transcript

LEFT_OUT = "(left out)"


class Mending:
    """What fixes would make of a text, as ``count`` changes that do not hang on each other.

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

    def start(self, number: int) -> int:
        """When the first cue of a change starts (ms)."""
        place = self._reworded[number][0] if self._reworded else self._groups[number].old
        return self._text.cues[place].start

    def shown(self, number: int) -> tuple[str, str]:
        """Before and after as a viewer would have them, or the times where only these differ."""
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
        """The text with the changes that were chosen."""
        if self._reworded:
            fixes = [fix for number in chosen for fix in self._reworded[number][1]]
            return fixed(self._text, fixes, self._limits)[0]
        return taken(self._text, self._new, [self._groups[number] for number in chosen])

    def _alone(self, place: int) -> Transcript:
        return replace(self._text, cues=self._text.cues[place : place + 1])


def _times(cues: Sequence[Cue]) -> str:
    spans = (f"{clock(c.start, 2, hours=False)} – {clock(c.end, 2, hours=False)}" for c in cues)
    return "\n".join(spans)
