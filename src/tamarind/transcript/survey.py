"""What a text holds in sum, kept up to date at the cost of what has changed.

Versions of a text share the cues that are alike, so what differs between two is found by identity.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence

from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript
from tamarind.transcript.tokens import words_in

_KEPT = 4
_latest: list[tuple[Sequence[Cue], Sequence[Cue], tuple[int, int, int]]] = []
_BLOCK = 256


def changed_range(before: Sequence[Cue], after: Sequence[Cue]) -> tuple[int, int, int]:
    """Where two versions differ: the first place, and one after the last in each of them.

    The last answers are kept, since everybody who follows an edit asks the same question.
    """
    for old, new, known in _latest:
        if old is before and new is after:
            return known
    shorter = min(len(before), len(after))
    first = 0
    # Whole blocks that share their cues are passed over at the speed of C.
    while first + _BLOCK <= shorter and _alike(before, after, first, first):
        first += _BLOCK
    while first < shorter and before[first] is after[first]:
        first += 1
    last = 0
    ends = len(before), len(after)
    while last + _BLOCK <= shorter - first and _alike(
        before, after, ends[0] - last - _BLOCK, ends[1] - last - _BLOCK
    ):
        last += _BLOCK
    while last < shorter - first and before[-1 - last] is after[-1 - last]:
        last += 1
    answer = first, len(before) - last, len(after) - last
    _latest.insert(0, (before, after, answer))
    del _latest[_KEPT:]
    return answer


def _alike(before: Sequence[Cue], after: Sequence[Cue], first: int, second: int) -> bool:
    return before[first : first + _BLOCK] == after[second : second + _BLOCK]


def words_of(cue: Cue) -> int:
    """How many words a cue counts for."""
    if cue.text.isascii():
        return len(cue.words)
    return sum(words_in(word.text) for word in cue.words)


def _expected_wrong(cue: Cue, threshold: float) -> tuple[float, float]:
    """How many words of a cue may be wrong, and of these that are doubts; none where a person has
    read it."""
    if cue.settled:
        return 0.0, 0.0
    sure = [word.confidence for word in cue.words if word.confidence is not None]
    marked = sum(1 - confidence for confidence in sure if confidence < threshold)
    return sum(1 - confidence for confidence in sure), marked


class Survey:
    """Words, doubts and what is proofed, of one text after the other."""

    def __init__(self, threshold: float = DOUBTFUL_BELOW) -> None:
        self._threshold = threshold
        self._cues: tuple[Cue, ...] = ()
        self._doubts: list[tuple[int, int]] = []
        self._words = self._proofed = 0
        self._wrong = self._marked = 0.0

    def follow(self, transcript: Transcript, threshold: float = DOUBTFUL_BELOW) -> Survey:
        """Take in another version, or another confidence below which words are doubts; returns
        itself."""
        if threshold != self._threshold:
            self._threshold, self._cues, self._doubts = threshold, (), []
            self._words = self._proofed = 0
            self._wrong = self._marked = 0.0
        if transcript.cues is not self._cues:
            first, old_last, new_last = changed_range(self._cues, transcript.cues)
            low, high = (bisect_left(self._doubts, (row, -1)) for row in (first, old_last))
            moved = new_last - old_last
            behind = self._doubts[high:]
            own = [
                (row, place)
                for row in range(first, new_last)
                for place, word in enumerate(transcript.cues[row].words)
                if word.is_doubt(threshold)
            ]
            if moved:
                behind = [(row + moved, place) for row, place in behind]
            # A new list: who asked before holds the old one, which fits the older text.
            self._doubts = [*self._doubts[:low], *own, *behind]
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

    def doubts(self) -> list[tuple[int, int]]:
        """All doubts in order, as (place of the cue, place of the word)."""
        return self._doubts

    def forecast(self) -> tuple[float, float]:
        """How many words may be wrong of those that nobody has settled, by what is known of each,
        and how many of these are doubts."""
        return max(self._wrong, 0.0), max(self._marked, 0.0)

    def words(self) -> int:
        """How many words there are."""
        return self._words

    def proofed_share(self) -> float:
        """The share of words in cues that a person has settled, 0 to 1."""
        return self._proofed / max(self._words, 1)
