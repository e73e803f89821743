"""What a text holds in sum, kept up to date at the cost of what has changed.

Versions of a text share the cues that are alike, so what differs between two is found by identity.
"""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript

_latest: tuple[Sequence[Cue], Sequence[Cue], tuple[int, int, int]] = ((), (), (0, 0, 0))


def changed_range(before: Sequence[Cue], after: Sequence[Cue]) -> tuple[int, int, int]:
    """Where two versions differ: the first place, and one after the last in each of them.

    The last answer is kept, since everybody who follows an edit asks the same question.
    """
    global _latest
    if _latest[0] is before and _latest[1] is after:
        return _latest[2]
    shorter = min(len(before), len(after))
    first = 0
    for old, new in zip(before, after, strict=False):
        if old is not new:
            break
        first += 1
    last = 0
    while last < shorter - first and before[-1 - last] is after[-1 - last]:
        last += 1
    answer = first, len(before) - last, len(after) - last
    _latest = (before, after, answer)
    return answer


class Survey:
    """Words, doubts and what is proofed, of one text after the other."""

    def __init__(self, threshold: float = DOUBTFUL_BELOW) -> None:
        self._threshold = threshold
        self._cues: tuple[Cue, ...] = ()
        self._doubts: list[tuple[int, ...]] = []
        self._places: list[tuple[int, int]] | None = None

    def follow(self, transcript: Transcript, threshold: float = DOUBTFUL_BELOW) -> Survey:
        """Take in another version, or another certainty below which words are doubts; returns
        itself."""
        if threshold != self._threshold:
            self._threshold, self._cues, self._doubts, self._places = threshold, (), [], None
        if transcript.cues is not self._cues:
            first, old_last, new_last = changed_range(self._cues, transcript.cues)
            self._doubts[first:old_last] = [
                tuple(place for place, word in enumerate(cue.words) if word.is_doubt(threshold))
                for cue in transcript.cues[first:new_last]
            ]
            self._cues = transcript.cues
            self._places = None
        return self

    def doubts(self) -> list[tuple[int, int]]:
        """All doubts in order, as (place of the cue, place of the word)."""
        if self._places is None:
            self._places = [
                (row, word) for row, words in enumerate(self._doubts) if words for word in words
            ]
        return self._places

    def words(self) -> int:
        """How many words there are."""
        return sum(len(cue.words) for cue in self._cues)

    def proofed_share(self) -> float:
        """The share of words in cues that a person has settled, 0 to 1."""
        settled = sum(len(cue.words) for cue in self._cues if cue.settled)
        return settled / max(self.words(), 1)
