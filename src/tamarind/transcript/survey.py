"""What a text holds in sum, kept up to date at the cost of what has changed.

Versions of a text share the cues that are alike, so what differs between two is found by identity.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain, islice
from operator import attrgetter

import numpy as np

from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import DOUBTFUL_BELOW, Cue, Transcript
from tamarind.transcript.tokens import words_in

Place = tuple[int, int]
"""A cue's place in the text, and a word's in the cue."""


_TEXT, _CONFIDENCE = attrgetter("text"), attrgetter("confidence")
_WORDS, _SETTLED = attrgetter("words"), attrgetter("settled")


def words_of(cue: Cue) -> int:
    """How many words a cue counts for."""
    texts = list(map(_TEXT, cue.words))
    return len(texts) if all(map(str.isascii, texts)) else sum(map(words_in, texts))


@dataclass(slots=True)
class _Sums:
    """What some cues hold: the places of the doubts of each, as ``Word.is_doubt`` says; how many
    words there are, and proofed; how many may be wrong, and of these that are doubts, but for those
    that a person has read."""

    doubts: list[tuple[int, ...]]
    words: int
    proofed: int
    wrong: float
    marked: float

    @classmethod
    def of(cls, cues: Sequence[Cue], threshold: float) -> _Sums:
        """All words at once: a text that is opened has a hundred thousand."""
        own = list(map(_WORDS, cues))
        lengths = np.array(list(map(len, own)), np.int64)
        ends = np.cumsum(lengths)
        words = list(chain.from_iterable(own))
        confidences = np.array(list(map(_CONFIDENCE, words)), float)
        read = np.array(list(map(_SETTLED, cues)), bool)
        if "".join(map(_TEXT, words)).isascii():
            counts = lengths
        else:
            counts = np.array(list(map(words_of, cues)), np.int64)
        doubtful = confidences < threshold
        places = np.flatnonzero(doubtful)
        of_cue = np.searchsorted(ends, places, side="right")
        each = iter((places - (ends - lengths)[of_cue]).tolist())
        doubts = [
            tuple(islice(each, count)) if count else ()
            for count in np.bincount(of_cue, minlength=len(own)).tolist()
        ]
        unread = ~np.repeat(read, lengths)
        left = 1 - confidences
        return cls(
            doubts,
            int(counts.sum()),
            int(counts[read].sum()),
            float(np.nansum(left[unread])),
            float(left[unread & doubtful].sum()),
        )


class Survey:
    """Words, doubts and what is proofed, of one text after the other."""

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
        """Take in another version, or another confidence below which words are doubts; returns
        itself."""
        if threshold != self._threshold:
            self._threshold = threshold
            self._forget()
        if transcript.cues is not self._cues:
            first, old_last, new_last = changed_range(self._cues, transcript.cues)
            old = _Sums.of(self._cues[first:old_last], threshold)
            new = _Sums.of(transcript.cues[first:new_last], threshold)
            self._doubt_count += sum(map(len, new.doubts)) - sum(map(len, old.doubts))
            self._own[first:old_last] = new.doubts
            self._doubts = None
            self._words += new.words - old.words
            self._proofed += new.proofed - old.proofed
            self._wrong += new.wrong - old.wrong
            self._marked += new.marked - old.marked
            self._cues = transcript.cues
        return self

    def doubts(self) -> list[Place]:
        """All doubts in order, as (place of the cue, place of the word)."""
        if self._doubts is None:
            # A new list: who asked before holds the old one, which fits the older text.
            self._doubts = [(row, place) for row, own in enumerate(self._own) for place in own]
        return self._doubts

    def doubt_count(self) -> int:
        """How many doubts there are."""
        return self._doubt_count

    def doubt_times(self, most: int) -> list[int]:
        """When doubts are said (ms); of more than ``most`` only the first of each cue."""
        last = None if self._doubt_count <= most else 1
        pairs = zip(self._cues, self._own, strict=True)
        return [cue.words[at].start for cue, own in pairs for at in own[:last]]

    def is_doubt(self, place: Place) -> bool:
        """Whether a doubt stands at a place."""
        return place[0] < len(self._own) and place[1] in self._own[place[0]]

    def doubt_number(self, place: Place) -> int:
        """How many doubts stand before a place."""
        row, word = place
        here = sum(other < word for other in chain(*self._own[row : row + 1]))
        return sum(map(len, self._own[:row])) + here

    def doubts_behind(self, place: Place, count: int) -> list[Place]:
        """So many doubts behind a place, going on at the start of the text; that place not."""
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
        """How many words may be wrong of those that nobody has settled, by what is known of each,
        and how many of these are doubts."""
        return max(self._wrong, 0.0), max(self._marked, 0.0)

    def words(self) -> int:
        """How many words there are."""
        return self._words

    def proofed_share(self) -> float:
        """The share of words in cues that a person has settled, 0 to 1."""
        return self._proofed / max(self._words, 1)
