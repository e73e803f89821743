"""Count words, doubts and proofed words of a text, updated at the cost of the change.

Versions of a text share the cues that are alike, so what differs between two is found by identity.
"""

from __future__ import annotations

from itertools import chain

from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript
from tamarind.transcript.tokens import words_in

Place = tuple[int, int]
"""A cue's place in the text, and a word's in the cue."""


def words_of(cue: Cue) -> int:
    """Return how many words a cue counts for."""
    if cue.text.isascii():
        return len(cue.words)
    return sum(words_in(word.text) for word in cue.words)


def _expected_wrong(cue: Cue, threshold: float) -> tuple[float, float]:
    """Return how many words of a cue may be wrong, and how many of these are doubts; none in a
    proofed one."""
    if cue.settled:
        return 0.0, 0.0
    sure = [word.confidence for word in cue.words if word.confidence is not None]
    marked = [confidence for confidence in sure if confidence < threshold]
    return len(sure) - sum(sure), len(marked) - sum(marked)


def _doubts_of(cue: Cue, threshold: float) -> tuple[int, ...]:
    """Return the indices of doubts, as ``Word.is_doubt``, inlined for speed."""
    return tuple(
        [
            place
            for place, word in enumerate(cue.words)
            if word.confidence is not None and word.confidence < threshold
        ]
    )


class Survey:
    """Words, doubts and proofed words of one text after the other."""

    def __init__(self, threshold: float = DOUBTFUL_BELOW) -> None:
        self._threshold = threshold
        self._forget()

    def _forget(self) -> None:
        self._cues: tuple[Cue, ...] = ()
        self._own: list[tuple[int, ...]] = []
        """The places of its doubts, for each cue."""
        self._doubts: list[Place] | None = []
        self._doubt_count = self._words = self._proofed = 0
        self._wrong = self._marked = 0.0

    def follow(self, transcript: Transcript, threshold: float = DOUBTFUL_BELOW) -> Survey:
        """Update to another version or confidence threshold; returns itself."""
        if threshold != self._threshold:
            self._threshold = threshold
            self._forget()
        if transcript.cues is not self._cues:
            first, old_last, new_last = changed_range(self._cues, transcript.cues)
            own = [_doubts_of(cue, threshold) for cue in transcript.cues[first:new_last]]
            self._doubt_count += sum(map(len, own)) - sum(map(len, self._own[first:old_last]))
            self._own[first:old_last] = own
            self._doubts = None
            for cues, sign in (
                (self._cues[first:old_last], -1),
                (transcript.cues[first:new_last], 1),
            ):
                self._words += sign * sum(map(words_of, cues))
                self._proofed += sign * sum(words_of(cue) for cue in cues if cue.settled)
                for cue in cues:
                    wrong, marked = _expected_wrong(cue, threshold)
                    self._wrong += sign * wrong
                    self._marked += sign * marked
            self._cues = transcript.cues
        return self

    def doubts(self) -> list[Place]:
        """Return all doubts in order, as (index of the cue, index of the word)."""
        if self._doubts is None:
            # A new list: who asked before holds the old one, which fits the older text.
            self._doubts = [(row, place) for row, own in enumerate(self._own) for place in own]
        return self._doubts

    def doubt_count(self) -> int:
        """The number of doubts."""
        return self._doubt_count

    def doubt_times(self, most: int) -> list[int]:
        """Return when doubts are said (ms); if there are more than ``most``, only the first of each
        cue."""
        last = None if self._doubt_count <= most else 1
        pairs = zip(self._cues, self._own, strict=True)
        return [cue.words[at].start for cue, own in pairs for at in own[:last]]

    def is_doubt(self, place: Place) -> bool:
        """Whether there is a doubt at a place."""
        return place[0] < len(self._own) and place[1] in self._own[place[0]]

    def doubt_number(self, place: Place) -> int:
        """Return how many doubts are before a place."""
        row, word = place
        here = sum(other < word for other in chain(*self._own[row : row + 1]))
        return sum(map(len, self._own[:row])) + here

    def doubts_behind(self, place: Place, count: int) -> list[Place]:
        """Return the next uncertain words behind a place, going on at the start of the text."""
        row, word = place
        length = len(self._own)
        found = [(row, other) for other in chain(*self._own[row : row + 1]) if other > word]
        for at in chain(range(row + 1, length), range(min(row, length))):
            if len(found) >= count:
                break
            found += [(at, other) for other in self._own[at]]
        found += [(row, other) for other in chain(*self._own[row : row + 1]) if other < word]
        return found[:count]

    def forecast(self) -> tuple[float, float]:
        """Return how many unproofed words may be wrong, by the evidence on each, and how many of
        these are doubts."""
        return max(self._wrong, 0.0), max(self._marked, 0.0)

    def words(self) -> int:
        """The number of words."""
        return self._words

    def proofed_share(self) -> float:
        """The share of words in proofed cues, 0 to 1."""
        return self._proofed / max(self._words, 1)
