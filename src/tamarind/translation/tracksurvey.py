"""Count the progress of a translation, updated at the cost of the change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import NamedTuple

from tamarind.captions.limits import Limits
from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Cue, Transcript
from tamarind.translation.entries import changed_cues
from tamarind.translation.states import CueState, state_of
from tamarind.translation.tracks import Track, Translated, wants_translating


class _Counted(NamedTuple):
    """What a cue contributes."""

    cue: Cue
    state: CueState
    is_wanted: bool
    done: int


class TrackSurvey:
    """States, words, and what is to be translated, of one track after the other."""

    def __init__(self) -> None:
        self._forget("", None)

    def _forget(self, language: str, limits: Limits | None) -> None:
        self._language, self._limits = language, limits
        self._cues: tuple[Cue, ...] = ()
        self._texts: Mapping[int, Translated] = {}
        self._own: dict[int, _Counted] = {}
        self.states: Counter[CueState] = Counter()
        self.to_translate = self.words = self.done = 0
        """Cues to be translated; words of the source, and those whose translation a person has
        written or taken."""

    def follow(self, track: Track, transcript: Transcript, limits: Limits) -> TrackSurvey:
        """Update to another version; returns itself."""
        if (track.language, limits) != (self._language, self._limits):
            self._forget(track.language, limits)
        first, old_last, new_last = changed_range(self._cues, transcript.cues)
        changed = {cue.id: cue for cue in transcript.cues[first:new_last]}
        for cue in self._cues[first:old_last]:
            self._take_out(cue.id)
        for cue_id in changed_cues(self._texts, track.texts):
            if cue_id in self._own:
                changed[cue_id] = self._own[cue_id].cue
                self._take_out(cue_id)
        for cue in changed.values():
            self._put_in(cue, track, limits)
        self._cues, self._texts = transcript.cues, track.texts
        return self

    def _put_in(self, cue: Cue, track: Track, limits: Limits) -> None:
        entry = track.texts.get(cue.id)
        is_done = entry is not None and entry.is_settled and not entry.doubtful
        own = _Counted(
            cue,
            state_of(track, cue, limits),
            wants_translating(track, cue),
            len(cue.words) if is_done else 0,
        )
        self._own[cue.id] = own
        self._count(own, 1)

    def _take_out(self, cue_id: int) -> None:
        own = self._own.pop(cue_id, None)
        if own is not None:
            self._count(own, -1)

    def _count(self, own: _Counted, sign: int) -> None:
        self.states[own.state] += sign
        self.to_translate += sign * own.is_wanted
        self.words += sign * len(own.cue.words)
        self.done += sign * own.done
