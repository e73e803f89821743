"""Recognise again where the first result is unsure, and combine both texts.

Which words are wrong is known well enough beforehand to look only there: a few seconds around each
doubtful word, from one rest to another, heard by a recogniser of another kind, or in another way by
the same, mend nearly as much as all that is said heard twice (``docs/benchmarks.md``).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.alignment import Aligner, TimedWord
from tamarind.speech.combining import combined, slots
from tamarind.speech.consensus import bare
from tamarind.speech.cores import cores, side_by_side
from tamarind.speech.coverage import PlacedText
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.lexicon import lexicon_of
from tamarind.speech.pronouncer import ENGLISH, pronouncer_for
from tamarind.speech.recognisers.base import HeardWord, Hypothesis, Recogniser
from tamarind.speech.recognisers.searching import levelled
from tamarind.transcript.sentences import ends_sentence

UNSURE_BELOW, UNSURE_ELSEWHERE = 0.8, 0.7
"""Around a word less sure than this it is heard again: in English, and in other languages, where
the sound tells less of how sure a word is."""

MOST_UNMARKED = 25
"""A run of more words without the end of a sentence is not sure either: nobody speaks so."""

REST_MS = 250
"""A passage that is heard again begins and ends where nobody speaks for so long."""

SHORTEST_MS, LONGEST_MS = 2_000, 20_000
"""It has so much of its neighbours that it is at least so long; more is left as it is."""

BESIDE_MS = 300
"""At most so much of the rests around it is heard too."""


@dataclass(frozen=True, slots=True)
class SecondListener:
    """Who recognises again, and with which quality (never ``Care.DOUBLE``)."""

    recogniser: Recogniser
    care: Care


@dataclass(frozen=True, slots=True)
class Passage:
    """The words [``first``, ``last``) of a segment, and the times (ms from its start) to recognise
    again."""

    first: int
    last: int
    start: int
    end: int


def passages(
    times: Sequence[TimedWord], sure: Sequence[float], length: int, below: float = UNSURE_BELOW
) -> list[Passage]:
    """Return where a segment of ``length`` ms should be recognised again, in order and apart:
    around words with a confidence in ``sure`` less than ``below``."""
    phrases: list[tuple[int, int]] = []
    for at, time in enumerate(times):
        if phrases and time.start - times[at - 1].end < REST_MS:
            phrases[-1] = phrases[-1][0], at + 1
        else:
            phrases.append((at, at + 1))
    found: list[tuple[int, int]] = []
    for number, (first, last) in enumerate(phrases):
        if min(sure[first:last]) < below:
            low, high = _long_enough(phrases, number, times)
            while found and low <= found[-1][1]:
                before = found.pop()
                low, high = min(low, before[0]), max(high, before[1])
            found.append((low, high))
    result = []
    for low, high in found:
        first, last = phrases[low][0], phrases[high][1]
        start = (times[first - 1].end + times[first].start) // 2 if first else 0
        end = (times[last - 1].end + times[last].start) // 2 if last < len(times) else length
        start = max(start, times[first].start - BESIDE_MS)
        end = min(end, times[last - 1].end + BESIDE_MS)
        if end - start <= LONGEST_MS:
            result.append(Passage(first, last, start, end))
    return result


def _with_ends(words: Sequence[HeardWord], sure: Sequence[float]) -> list[float]:
    """Return the confidences of words; 0 in a run that lacks the ends of its sentences."""
    result = list(sure)
    first = 0
    for place, word in enumerate(words, 1):
        if place == len(words) or ends_sentence(word.text):
            if place - first > MOST_UNMARKED:
                result[first:place] = [0.0] * (place - first)
            first = place
    return result


def _long_enough(
    phrases: Sequence[tuple[int, int]], number: int, times: Sequence[TimedWord]
) -> tuple[int, int]:
    """Extend a phrase by its neighbours, nearer ones first, until it is long enough."""
    low = high = number
    while times[phrases[high][1] - 1].end - times[phrases[low][0]].start < SHORTEST_MS:
        before = after = float("inf")
        if low:
            before = times[phrases[low][0]].start - times[phrases[low - 1][1] - 1].end
        if high + 1 < len(phrases):
            after = times[phrases[high + 1][0]].start - times[phrases[high][1] - 1].end
        if before == after == float("inf"):
            break
        low, high = (low - 1, high) if before <= after else (low, high + 1)
    return low, high


class SecondOpinion:
    """Recognises segments in one language again and combines both texts."""

    def __init__(
        self,
        second: SecondListener,
        aligner: Aligner,
        how: HearingOptions,
        more: Sequence[Recogniser] = (),
    ) -> None:
        """``more`` recognisers vote where both differ."""
        self._second, self._aligner, self._how, self._more = second, aligner, how, more
        self._alone = replace(how, care=second.care)
        self._said_by = pronouncer_for(how.language)
        self._terms = [term.text for term in how.glossary.terms]

    def of_all(self, sounds: Sequence[Samples], first: Sequence[Hypothesis]) -> list[Hypothesis]:
        """Return the texts of whole segments combined with the second recogniser's."""
        heard = self._second.recogniser.hear(sounds, self._alone)
        second = [best for best, *_ in heard]
        others = self._others(sounds, first, second)
        return side_by_side(
            lambda place: self._together(
                sounds[place], first[place], second[place], others.get(place, ())
            ),
            range(len(sounds)),
            cores(),
        )

    def _others(
        self,
        sounds: Sequence[Samples],
        first: Sequence[Hypothesis],
        second: Sequence[Hypothesis],
    ) -> dict[int, list[Hypothesis]]:
        """Return the other recognisers' texts for segments in which the first two differ, by
        index."""
        if not self._more:
            return {}
        differ = [
            place
            for place, (one, other) in enumerate(zip(first, second, strict=True))
            if not all(slot.same for slot in slots(_texts(one), _texts(other), self._how.written))
        ]
        alone = replace(self._how, care=Care.QUICK)
        heard = [one.hear([sounds[place] for place in differ], alone) for one in self._more]
        return {place: [own[number][0] for own in heard] for number, place in enumerate(differ)}

    def where_unsure(
        self,
        sounds: Sequence[Samples],
        texts: Sequence[PlacedText],
        sure: Sequence[Sequence[float]],
    ) -> list[PlacedText]:
        """Return the texts of segments combined with the second recogniser's in unsure passages."""
        below = UNSURE_BELOW if self._said_by is ENGLISH else UNSURE_ELSEWHERE
        lengths = [len(sound) * 1000 // SAMPLE_RATE for sound in sounds]
        places = [
            (number, passage)
            for number, text in enumerate(texts)
            for passage in passages(
                text.times, _with_ends(text.words, sure[number]), lengths[number], below
            )
        ]
        parts = [_part(sounds[number], passage) for number, passage in places]
        own = [
            Hypothesis(texts[number].words[passage.first : passage.last], 0.0)
            for number, passage in places
        ]
        both = self.of_all(parts, own)
        times = self._aligner.align(
            parts,
            [[word.text for word in text.words] for text in both],
            [()] * len(parts),
            self._said_by or ENGLISH,
        )
        result = list(texts)
        # From behind, so that places before stay where they are.
        for (number, passage), text, when in reversed(list(zip(places, both, times, strict=True))):
            result[number] = _with(result[number], passage, text, when)
        return result

    def _together(
        self,
        sound: Samples,
        first: Hypothesis,
        second: Hypothesis,
        more: Sequence[Hypothesis],
    ) -> Hypothesis:
        # The acoustic model's phones are English: how others fit says nothing, as was measured.
        by_sound = self._said_by is ENGLISH
        fits = partial(self._fits, levelled(sound)) if by_sound else None
        lexicon = lexicon_of(self._how.written)
        return combined(
            first, second, self._how.written, lexicon.likelihoods, fits, self._terms, more
        )

    def _fits(self, sound: Samples, texts: Sequence[Sequence[str]]) -> list[float]:
        return self._aligner.fits(sound, texts, ENGLISH)


def _texts(hypothesis: Hypothesis) -> list[str]:
    return [word.text for word in hypothesis.words]


def _part(sound: Samples, passage: Passage) -> Samples:
    return sound[passage.start * SAMPLE_RATE // 1000 : passage.end * SAMPLE_RATE // 1000]


def _with(
    text: PlacedText, passage: Passage, new: Hypothesis, times: Sequence[TimedWord]
) -> PlacedText:
    """Return a text with other words in a passage; words that are the same keep their times."""
    was, now = (
        [bare(word.text) for word in words]
        for words in (text.words[passage.first : passage.last], new.words)
    )
    own = text.times[passage.first : passage.last]
    moved = (
        own
        if was == now
        else [
            replace(time, start=time.start + passage.start, end=time.end + passage.start)
            for time in times
        ]
    )
    return PlacedText(
        (*text.words[: passage.first], *new.words, *text.words[passage.last :]),
        (*text.times[: passage.first], *moved, *text.times[passage.last :]),
    )
