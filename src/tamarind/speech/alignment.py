"""Forced alignment: find when each word of a known text begins and ends in its sound, and how well
it fits.

A text is made into a chain of phones (``acoustic/chain``) whose best way through the sound gives
the times to 10 ms (``acoustic/viterbi``). How well a word fits is its likelihood against that of
whatever phones fit best (Young 1994, "Detecting misrecognitions and out-of-vocabulary words"). A
text that does not fit at all is spread over the speech by length.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.acoustic.chain import Chain, chain_of
from tamarind.speech.acoustic.features import Frames, features
from tamarind.speech.acoustic.model import AcousticModel
from tamarind.speech.acoustic.viterbi import Way, best_ways
from tamarind.speech.cores import side_by_side
from tamarind.speech.pronouncer import ENGLISH, Forms, Pronouncer
from tamarind.speech.pronouncing import Phones
from tamarind.transcript.reconcile import MS_A_LETTER, shares

STEP_MS = 10
SHORTEST_WORD_MS = 20
NO_FIT = -1e9

TOGETHER = 4
"""Sounds aligned side by side; more need more memory and are hardly faster."""

Span = tuple[int, int]


@dataclass(frozen=True, slots=True)
class TimedWord:
    """A word's start and end in ms from the segment's start.

    ``fit`` is the mean over its steps of its log likelihood less that of the best phones, None if
    its times are by interpolation; ``phones`` is how many it has at least.
    """

    start: int
    end: int
    fit: float | None
    phones: int = 0

    @property
    def aligned(self) -> bool:
        """Whether its times come from the sound."""
        return self.fit is not None


class Aligner:
    """Holds the acoustic model, which its threads share."""

    def __init__(self, threads: int | None = None) -> None:
        self._model = AcousticModel()
        self._threads = threads

    def align(
        self,
        sounds: Sequence[Samples],
        texts: Sequence[Sequence[str]],
        speech: Sequence[Sequence[Span]],
        pronouncer: Pronouncer = ENGLISH,
    ) -> list[list[TimedWord]]:
        """Return for each segment the times of its words, in order, not overlapping, each at least
        20 ms.

        ``speech`` is where somebody speaks, as (start, end) in ms from the segment's start; it
        bounds words for which the alignment has no answer. ``pronouncer`` says the words.
        """
        said = _said(texts, pronouncer)
        order = sorted(range(len(sounds)), key=lambda place: -len(sounds[place]))
        batches = [order[at : at + TOGETHER] for at in range(0, len(order), TOGETHER)]
        results: list[list[TimedWord]] = [[] for _ in sounds]

        def align_batch(batch: Sequence[int]) -> None:
            found = self._fitted([sounds[at] for at in batch], [said[at] for at in batch])
            for at, times in zip(batch, found, strict=True):
                whole = (0, len(sounds[at]) * 1000 // SAMPLE_RATE)
                results[at] = _completed(times, texts[at], speech[at] or [whole])

        side_by_side(align_batch, batches, self._threads)
        return results

    def _fitted(
        self, sounds: Sequence[Samples], spoken: Sequence[_Spoken]
    ) -> list[list[TimedWord | None]]:
        """Return the times of each word that is pronounced, as far as its text fits the sound."""
        places = [at for at, said in enumerate(spoken) if said.forms]
        results: list[list[TimedWord | None]] = [[None] * said.words for said in spoken]
        if not places:
            return results
        heard = features([sounds[at] for at in places])
        scored = [
            self._scored(frames, [spoken[at]]) for at, frames in zip(places, heard, strict=True)
        ]
        chains = [chain for (chain,), _, _ in scored]
        scores = [score for _, (score,), _ in scored]
        for at, chain, score, (_, _, anything), way in zip(
            places, chains, scores, scored, best_ways(chains, scores), strict=True
        ):
            if way is not None:
                results[at] = _times(chain, way, score, anything, spoken[at])
        return results

    def fits(
        self,
        sound: Samples,
        texts: Sequence[Sequence[str]],
        pronouncer: Pronouncer = ENGLISH,
    ) -> list[float]:
        """Return how well whole texts fit one sound: the log likelihood of each less that of the
        best phones, over all steps; ``NO_FIT`` for one too long for it."""
        (frames,) = features([sound])
        chains, scores, anything = self._scored(frames, _said(texts, pronouncer))
        ways = best_ways(chains, scores)
        return [
            NO_FIT if way is None else float((score[np.arange(len(way)), way] - anything).sum())
            for way, score in zip(ways, scores, strict=True)
        ]

    def _scored(
        self, frames: Frames, spoken: Sequence[_Spoken]
    ) -> tuple[list[Chain], list[Frames], Frames]:
        """Return the chains of texts, their scores (steps, states) in one sound, and those of the
        best phones (steps,)."""
        chains = [chain_of(self._model, said.forms, said.pauses) for said in spoken]
        senones = [np.array(chain.senones, np.int32) for chain in chains]
        needed, where = np.unique(np.concatenate(senones), return_inverse=True)
        score, anything = self._model.scores(frames, needed)
        ends = np.cumsum([len(own) for own in senones])[:-1]
        return chains, [score[:, own] for own in np.split(where, ends)], anything


@dataclass(frozen=True, slots=True)
class _Spoken:
    """The pronunciations of a text: those of each plain form, and the word it belongs to.

    ``pauses`` tells of each form whether a mark after it makes a pause likely.
    """

    forms: list[tuple[Phones, ...]]
    owners: list[int]
    pauses: list[bool]
    words: int

    @classmethod
    def of(cls, words: Sequence[str], forms: Sequence[Forms]) -> _Spoken:
        spoken = cls([], [], [], len(words))
        for place, (word, own) in enumerate(zip(words, forms, strict=True)):
            spoken.forms.extend(own)
            spoken.owners.extend([place] * len(own))
            spoken.pauses.extend([False] * len(own))
            if own:
                spoken.pauses[-1] = not word[-1].isalnum()
        return spoken


def _said(texts: Sequence[Sequence[str]], pronouncer: Pronouncer) -> list[_Spoken]:
    """Return the pronunciations of each text, asking for all at once."""
    forms = iter(pronouncer.forms([word for text in texts for word in text]))
    return [_Spoken.of(text, [next(forms) for _ in text]) for text in texts]


def _times(
    chain: Chain, way: Way, score: Frames, anything: Frames, spoken: _Spoken
) -> list[TimedWord | None]:
    """Return the times of words from the states of each step."""
    owners = np.array([*spoken.owners, -1])[np.array(chain.forms)[way]]
    fits = score[np.arange(len(way)), way] - anything
    times: list[TimedWord | None] = [None] * spoken.words
    phones = [0] * spoken.words
    for place, ways in zip(spoken.owners, spoken.forms, strict=True):
        phones[place] += min(map(len, ways))
    for place in set(spoken.owners):
        steps = np.flatnonzero(owners == place)
        start, end = int(steps[0]) * STEP_MS, (int(steps[-1]) + 1) * STEP_MS
        times[place] = TimedWord(start, end, float(fits[steps].mean()), phones[place])
    return times


def _completed(
    times: Sequence[TimedWord | None],
    words: Sequence[str],
    speech: Sequence[Span],
) -> list[TimedWord]:
    """Give words without a time a share of the room between their neighbours, by length."""
    result: list[TimedWord] = []
    index = 0
    while index < len(times):
        known = times[index]
        if known is not None:
            start = max(known.start, result[-1].end if result else 0)
            end = max(known.end, start + SHORTEST_WORD_MS)
            result.append(TimedWord(start, end, known.fit, known.phones))
            index += 1
            continue
        stop = index
        while stop < len(times) and times[stop] is None:
            stop += 1
        before = result[-1].end if result else speech[0][0]
        following = times[stop] if stop < len(times) else None
        after = following.start if following is not None else max(speech[-1][1], before)
        missing = words[index:stop]
        if result or following is not None:
            needed = sum(map(len, missing)) * MS_A_LETTER
            if following is None:
                after = min(after, before + needed)
            elif not result:
                before = max(before, after - needed)
        times_left = shares(missing, before, after, SHORTEST_WORD_MS)
        result.extend(TimedWord(*span, None) for span in times_left)
        index = stop
    return result
