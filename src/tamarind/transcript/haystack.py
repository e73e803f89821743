"""A text as one string for searching, a cue a line, cached between searches."""

from __future__ import annotations

import threading
from bisect import bisect_right
from itertools import accumulate

from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Cue

_MOST = 256


class Haystack:
    """The texts of some cues, one a line, and where each begins."""

    def __init__(self) -> None:
        self._cues: tuple[Cue, ...] = ()
        self._texts: list[str] = []
        self._starts: list[int] = []
        self.whole = ""

    def follow(self, cues: tuple[Cue, ...]) -> Haystack:
        """Update to another version, at the cost of the change; returns itself."""
        if cues is not self._cues:
            first, old_last, new_last = changed_range(self._cues, cues)
            self._texts[first:old_last] = [
                cue.text.replace("\n", " ") for cue in cues[first:new_last]
            ]
            self._starts = [0, *accumulate(len(text) + 1 for text in self._texts)]
            self.whole = "\n".join(self._texts)
            self._cues = cues
        return self

    def place_of(self, at: int) -> tuple[int, int]:
        """Return the cue of a character, and its index in that cue."""
        row = bisect_right(self._starts, at) - 1
        return row, at - self._starts[row]


def haystack_of(cues: tuple[Cue, ...]) -> Haystack:
    """Return the haystack of a text, updated from the version searched last."""
    key = id(cues[0]) if cues else 0
    kept = _kept.texts
    found = (kept.pop(key, None) or Haystack()).follow(cues)
    kept[key] = found
    while len(kept) > _MOST:
        del kept[next(iter(kept))]
    return found


class _Kept(threading.local):
    """The haystacks of a thread, by first cue; latest last."""

    def __init__(self) -> None:
        self.texts: dict[int, Haystack] = {}


_kept = _Kept()
