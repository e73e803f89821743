"""Forced alignment: when each word of a known text begins and ends in its sound.

The text is turned into a chain of phone models and fitted to the sound by the Viterbi algorithm
(Rabiner 1989, "A tutorial on hidden Markov models"), which PocketSphinx does with its English
acoustic model, to 10 ms. A text that does not fit at all is spread over the speech by length.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from pocketsphinx import Decoder

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.pronunciation import sounded_out, spoken_forms

STEP_MS = 10
SHORTEST_WORD_MS = 20
BEAM, WORD_BEAM = 1e-80, 1e-60
"""Wider than PocketSphinx's own, which loses two voices in one chunk; a tenth slower."""

MS_A_LETTER = 65
"""About how long a spoken letter lasts, for words that get their time by estimate."""


@dataclass(frozen=True, slots=True)
class TimedWord:
    """A word's start and end in ms from the chunk's start; ``aligned`` False: by interpolation."""

    start: int
    end: int
    aligned: bool


class Aligner:
    """Holds the acoustic model and the pronunciations learnt so far; one at a time, not shared."""

    def __init__(self) -> None:
        self._decoder = Decoder(lm=None, loglevel="FATAL", beam=BEAM, pbeam=BEAM, wbeam=WORD_BEAM)
        self._known: dict[str, bool] = {}

    def align(
        self, samples: Samples, words: Sequence[str], speech: Sequence[tuple[int, int]]
    ) -> list[TimedWord]:
        """Times for every word, in order, without overlaps, each at least 20 ms long.

        ``speech`` is where somebody speaks, as (start, end) in ms from the chunk's start; it
        bounds words for which the alignment has no answer.
        """
        if not words:
            return []
        length = len(samples) * 1000 // SAMPLE_RATE
        spoken = [spoken_forms(word) for word in words]
        found = self._fit(samples, [form for forms in spoken for form in forms])
        times: list[tuple[int, int] | None] = []
        place = 0
        for forms in spoken:
            last = place + len(forms)
            if not forms or last > len(found):
                times.append(None)
            else:
                times.append((found[place][0], found[last - 1][1]))
            place = last
        return _completed(times, words, speech or [(0, length)])

    def _fit(self, samples: Samples, forms: list[str]) -> list[tuple[int, int]]:
        """(start, end) in ms of as many forms, from the first on, as the sound has room for."""
        if not forms or not all(self._learn(form) for form in forms):
            return []
        pcm = (np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes()
        try:
            self._decoder.set_align_text(" ".join(forms))
            self._decoder.start_utt()
            self._decoder.process_raw(pcm, no_search=False, full_utt=True)
            self._decoder.end_utt()
            segments = self._decoder.seg() or ()
        except RuntimeError:
            return []
        times: list[tuple[int, int]] = []
        for segment in segments:
            if segment.word.startswith(("<", "[")):
                continue
            if len(times) == len(forms) or segment.word.split("(")[0] != forms[len(times)]:
                break
            times.append((segment.start_frame * STEP_MS, (segment.end_frame + 1) * STEP_MS))
        return times

    def _learn(self, form: str) -> bool:
        if form not in self._known:
            known = self._decoder.lookup_word(form) is not None
            if not known:
                phones = sounded_out(form)
                if phones:
                    self._decoder.add_word(form, phones, True)
                    known = True
            self._known[form] = known
        return self._known[form]


def _completed(
    times: list[tuple[int, int] | None],
    words: Sequence[str],
    speech: Sequence[tuple[int, int]],
) -> list[TimedWord]:
    """Give words without a time a share of the room between their neighbours, by their length."""
    result: list[TimedWord] = []
    index = 0
    while index < len(times):
        known = times[index]
        if known is not None:
            start = max(known[0], result[-1].end if result else 0)
            end = max(known[1], start + SHORTEST_WORD_MS)
            result.append(TimedWord(start, end, True))
            index += 1
            continue
        stop = index
        while stop < len(times) and times[stop] is None:
            stop += 1
        before = result[-1].end if result else speech[0][0]
        following = times[stop] if stop < len(times) else None
        after = following[0] if following is not None else max(speech[-1][1], before)
        missing = words[index:stop]
        if result or following is not None:
            needed = sum(map(len, missing)) * MS_A_LETTER
            if following is None:
                after = min(after, before + needed)
            elif not result:
                before = max(before, after - needed)
        result.extend(_shared(missing, before, after))
        index = stop
    return result


def _shared(words: Sequence[str], start: int, end: int) -> list[TimedWord]:
    end = max(end, start + SHORTEST_WORD_MS * len(words))
    weights = np.cumsum([0, *(len(word) + 1 for word in words)]) / (
        sum(map(len, words)) + len(words)
    )
    spare = end - start - SHORTEST_WORD_MS * len(words)
    edges = [
        start + SHORTEST_WORD_MS * place + int(weight * spare)
        for place, weight in enumerate(weights)
    ]
    return [TimedWord(a, b, False) for a, b in pairwise(edges)]
