"""Recognise with a network that writes token by token: the search, and what is made of its result.

Batches of segments are searched side by side; several hypotheses of each become one text whose
words know how sure they are and what else they may have been; terms of the glossary are favoured,
and tried where something like them was heard. It is the same for every network and language.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.audio.slower import slowed
from tamarind.speech.alignment import Aligner
from tamarind.speech.confidence import WordEvidence, builtin_confidence
from tamarind.speech.consensus import bare, support, together
from tamarind.speech.cores import cores, side_by_side
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.inventions import echoed, looping
from tamarind.speech.lexicon import Lexicon, lexicon_of
from tamarind.speech.pronouncer import ENGLISH, Pronouncer, pronouncer_for
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.bias import TermBias
from tamarind.speech.recognisers.decoding import Floats
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.missing import Insertion, insertions, with_missing
from tamarind.speech.recognisers.neighbours import LEAST_LIKELY, neighbours, swaps
from tamarind.speech.recognisers.vocabulary import Vocabulary
from tamarind.speech.search import (
    Bias,
    Stepper,
    TokenHypothesis,
    one_after_the_other,
    search,
)
from tamarind.speech.terms import Candidate, TermFinder, with_offer, with_term
from tamarind.transcript.languages import base_of, name_of
from tamarind.transcript.tokens import joined

LEVEL = 0.1
"""Segments are brought to this root mean square: the network is not indifferent to loudness."""


SHORTEST = SAMPLE_RATE // 4

FEWEST_TOKENS_A_SECOND, LONG_S = 1.5, 6
"""Speech of more than so many seconds has more tokens than this."""

Judge = Callable[[WordEvidence, str], float]
"""How sure a word is, from what speaks for it."""

_Encoded = tuple[Samples, Floats]
"""A sound as it was listened to, and its hidden states."""


@dataclass(frozen=True, slots=True)
class _Effort:
    """How wide to search, how much to slow down, and how many segments at once."""

    beams: int
    slowed: tuple[int, int]
    batch: int


EFFORTS = {
    Care.QUICK: _Effort(beams=2, slowed=(1, 1), batch=12),
    Care.THOROUGH: _Effort(beams=5, slowed=(10, 9), batch=8),
}
EFFORTS[Care.DOUBLE] = EFFORTS[Care.THOROUGH]
"""``slowed`` is a ratio of lengths: the thorough way listens at nine tenths of the speed."""


class SearchedNetwork(Protocol):
    """An encoder and a decoder with their vocabulary; threads share it."""

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages it recognises, as BCP 47 tags; empty for any."""

    @property
    def vocabulary(self) -> Vocabulary:
        """Its tokens."""

    @property
    def first(self) -> int:
        """The token before a text."""

    @property
    def end(self) -> int:
        """The token after a text."""

    @property
    def at_once(self) -> int:
        """How many sounds may be searched together, by the memory that each takes."""

    @property
    def ends_early(self) -> bool:
        """Whether the network tends to stop before everything is said."""

    def most_tokens(self, seconds: float) -> int:
        """Return the most tokens that anyone says in so many seconds; a longer text is a loop."""

    def listen(self, sound: Samples) -> Floats:
        """Return hidden states (frames, width) of mono float32 at 16 kHz."""

    def rest(self) -> None:
        """Free the memory that is kept for the next sound."""

    def begin(self, hidden: Sequence[Floats], beams: int, how: HearingOptions) -> Stepper:
        """Start with empty texts, ``beams`` for each sound with hidden states."""

    def score(self, hidden: Floats, texts: Sequence[Sequence[int]], how: HearingOptions) -> Floats:
        """Return the log probability of each whole text, given without the sentinels."""


class SearchingRecogniser:
    """A recogniser with any network that is searched token by token; loaded once."""

    def __init__(
        self,
        network: SearchedNetwork,
        aligner: Aligner,
        judge: Judge = builtin_confidence,
        threads: int | None = None,
    ) -> None:
        self._network = network
        self._vocabulary = network.vocabulary
        self._judge = judge
        self._aligner = aligner
        self._threads = threads or cores()

    @property
    def languages(self) -> tuple[str, ...]:
        """The languages it recognises; empty for any."""
        return self._network.languages

    def hear(
        self,
        segments: Sequence[Samples],
        how: HearingOptions,
        on_step: Callable[[], None] = lambda: None,
    ) -> list[list[Hypothesis]]:
        """Recognise batches of similar length in parallel on all cores; results are in the given
        order."""
        if self.languages and base_of(how.language) not in self.languages:
            known = ", ".join(map(name_of, self.languages[:3])) + " only" * (
                len(self.languages) < 4
            )
            raise RecogniserError(f"This recogniser knows {known}, not “{how.language}”.")
        results: list[list[Hypothesis]] = [[] for _ in segments]
        effort = EFFORTS[how.care]
        bias = TermBias(how.glossary, self._vocabulary) if how.glossary else None

        said_by = pronouncer_for(how.language) or ENGLISH
        by_sound = bool(how.glossary) and not how.into_english
        finder = TermFinder(how.glossary, said_by) if by_sound else None
        lexicon = lexicon_of(how.written)

        def encode(segment: Samples) -> _Encoded:
            sound = levelled(segment)
            return sound, self._network.listen(slowed(sound, effort.slowed))

        def hear_batch(batch: Sequence[int]) -> None:
            sounds = [encoded[index][0] for index in batch]
            hidden = [encoded[index][1] for index in batch]
            found = self._search(sounds, hidden, effort, how, bias, on_step)
            for place, index in enumerate(batch):
                if self._goes_astray(found[place][0], sounds[place]):
                    found[place] = self._search_again(sounds[place], found[place], how, on_step)
                best, *others = self._hypotheses(found[place], lexicon, hidden[place], how)
                best = self._without_echoes(best, sounds[place], said_by)
                if finder is not None:
                    best = self._with_terms(
                        best, finder, sounds[place], hidden[place], how, said_by
                    )
                results[index] = [best, *others]

        size = min(effort.batch, self._network.at_once)
        batches = _batches([len(segment) for segment in segments], size, self._threads)
        order = [index for batch in batches for index in batch]
        states = side_by_side(encode, [segments[index] for index in order], self._threads)
        encoded = dict(zip(order, states, strict=True))
        if encoded:
            self._network.rest()
        side_by_side(hear_batch, batches, self._threads)
        return results

    def _search(
        self,
        sounds: Sequence[Samples],
        hidden: Sequence[Floats],
        effort: _Effort,
        how: HearingOptions,
        bias: Bias | None,
        on_step: Callable[[], None],
        least: int = 0,
    ) -> list[list[TokenHypothesis]]:
        network = self._network
        limits = np.array([network.most_tokens(len(s) / SAMPLE_RATE) for s in sounds])
        stepper = network.begin(hidden, effort.beams, how)
        first, end, by_length = network.first, network.end, network.ends_early
        return search(stepper, limits, effort.beams, first, end, bias, on_step, by_length, least)

    def _goes_astray(self, text: TokenHypothesis, sound: Samples) -> bool:
        """Whether a text has no end, loops, or ends long before its sound."""
        words = [word for word, _ in self._vocabulary.words(text.tokens)]
        return not text.ended or any(looping(words)) or len(text.tokens) < self._fewest(sound)

    def _fewest(self, sound: Samples) -> int:
        """Return the fewest tokens of a text for this sound, with a network that ends early."""
        seconds = len(sound) / SAMPLE_RATE
        if not self._network.ends_early or seconds < LONG_S:
            return 0
        return int(seconds * FEWEST_TOKENS_A_SECOND)

    def _search_again(
        self,
        sound: Samples,
        found: list[TokenHypothesis],
        how: HearingOptions,
        on_step: Callable[[], None],
    ) -> list[TokenHypothesis]:
        """Search another way, which often ends a loop, with a later end if the text stopped early;
        else search the halves of the sound. If nothing helps, the text stays."""
        effort = EFFORTS[Care.THOROUGH]

        def searched(part: Samples) -> list[TokenHypothesis]:
            hidden = [self._network.listen(slowed(part, effort.slowed))]
            least = self._fewest(part)
            return self._search([part], hidden, effort, how, None, on_step, least)[0]

        again = searched(sound)
        if not self._goes_astray(again[0], sound):
            return again
        if len(sound) < 2 * LONG_S * SAMPLE_RATE:
            return found
        halves = [(part, searched(part)[0]) for part in _halves(sound)]
        if any(self._goes_astray(text, part) for part, text in halves):
            return found
        return [one_after_the_other(*(text for _, text in halves))]

    def _without_echoes(self, best: Hypothesis, sound: Samples, said_by: Pronouncer) -> Hypothesis:
        """Remove repetitions from a hypothesis if the sound fits better then: networks like to
        repeat a short sound, with high scores."""
        texts = [word.text for word in best.words]
        over = echoed(texts)
        if not any(over):
            return best
        words = tuple(word for word, again in zip(best.words, over, strict=True) if not again)
        once = [word.text for word in words]
        fits = self._aligner.fits(sound, [texts, once], said_by)
        return replace(best, words=words) if fits[1] > fits[0] else best

    def _with_terms(
        self,
        best: Hypothesis,
        finder: TermFinder,
        sound: Samples,
        hidden: Floats,
        how: HearingOptions,
        said_by: Pronouncer,
    ) -> Hypothesis:
        """Put terms in place of words that sound like them, where network and sound agree."""
        candidates = finder.candidates(best.words)
        if not candidates:
            return best
        texts = [best.words, *(with_term(best.words, candidate) for candidate in candidates)]
        tokens = [self._vocabulary.encode(" " + joined(w.text for w in words)) for words in texts]
        scores = self._network.score(hidden, tokens, how)
        fits = self._aligner.fits(sound, [[w.text for w in words] for words in texts], said_by)
        odds = [
            candidate.odds(float(score - scores[0]), fit - fits[0])
            for candidate, score, fit in zip(candidates, scores[1:], fits[1:], strict=True)
        ]
        words: tuple[HeardWord, ...] = best.words
        chosen: list[Candidate] = []
        for likely, candidate in sorted(zip(odds, candidates, strict=True), key=lambda p: -p[0]):
            if likely <= 0:
                words = with_offer(words, candidate)
            elif all(candidate.last <= c.first or c.last <= candidate.first for c in chosen):
                chosen.append(candidate)
        for candidate in sorted(chosen, key=lambda c: -c.first):
            words = with_term(words, candidate)
        return replace(best, words=words)

    def _hypotheses(
        self,
        found: Sequence[TokenHypothesis],
        lexicon: Lexicon,
        hidden: Floats,
        how: HearingOptions,
    ) -> list[Hypothesis]:
        """Return the best text with confidences and alternatives, then the others as they are."""
        split = [self._vocabulary.words(text.tokens) for text in found]
        texts = [[word for word, _ in words] for words in split]
        best, places = texts[0], [place for _, place in split[0]]
        backing = support(texts, [text.score for text in found])
        likelihoods = lexicon.likelihoods(best)
        near = self._near(found[0], split[0], lexicon, hidden, how)
        words = []
        for index, (word, place) in enumerate(zip(best, places, strict=True)):
            listed = lexicon.is_word is None or is_listed_whole(word, lexicon.is_word)
            evidence = self._evidence(
                found[0], place, backing[index].share, likelihoods[index], listed
            )
            others = together(backing[index], near[index])
            words.append(HeardWord(word, self._judge(evidence, word), others))
        if how.care is not Care.QUICK:
            words = with_missing(words, self._missing(found[0], split[0], hidden, how))
        hypotheses = [Hypothesis(lexicon.joined(words), found[0].score)]
        hypotheses += [
            Hypothesis(tuple(HeardWord(word, 0.0) for word in text), other.score)
            for text, other in zip(texts[1:], found[1:], strict=True)
        ]
        return hypotheses

    def _missing(
        self,
        text: TokenHypothesis,
        words: Sequence[tuple[str, range]],
        hidden: Floats,
        how: HearingOptions,
    ) -> list[tuple[Insertion, float]]:
        """Return words that may be missing, each with the log odds of the text with it."""
        found = insertions(text, words, self._vocabulary)
        if not found:
            return []
        texts = [text.tokens, *(one.tokens for one in found)]
        scores = self._network.score(hidden, texts, how)
        return [(one, float(s - scores[0])) for one, s in zip(found, scores[1:], strict=True)]

    def _near(
        self,
        text: TokenHypothesis,
        words: Sequence[tuple[str, range]],
        lexicon: Lexicon,
        hidden: Floats,
        how: HearingOptions,
    ) -> list[dict[str, float]]:
        """Return for each word of a text the alternatives nearly chosen, with their likelihoods."""
        is_word = lexicon.is_word
        if is_word is not None:
            return [neighbours(text, place, self._vocabulary, is_word) for _, place in words]
        result: list[dict[str, float]] = [{} for _ in words]
        found = swaps(text, words, self._vocabulary) if how.care is not Care.QUICK else []
        if found:
            texts = [text.tokens, *(swap.tokens for swap in found)]
            scores = self._network.score(hidden, texts, how)
            for swap, score in zip(found, scores[1:], strict=True):
                likelihood = 1 / (1 + math.exp(min(float(scores[0] - score), 50.0)))
                if likelihood >= LEAST_LIKELY:
                    result[swap.index][swap.word] = likelihood
        return result

    def _evidence(
        self,
        text: TokenHypothesis,
        places: range,
        share: float,
        likelihood: float,
        listed: bool,
    ) -> WordEvidence:
        """Return the evidence for a word; a doubtful comma does not make a word doubtful."""
        letters = [
            place
            for place in places
            if any(chr(b).isalnum() or b >= 128 for b in self._vocabulary.piece(text.tokens[place]))
        ] or list(places)
        logs = [text.log_probabilities[place] for place in letters]
        undecided = [_entropy(text.near[place]) for place in letters]
        is_last = places.stop >= len(text.tokens)
        return WordEvidence(
            log_probability=sum(logs),
            least=min(logs),
            margin=min(text.margins[place] for place in letters),
            share=share,
            likelihood=likelihood,
            entropies=(
                undecided[0],
                max(undecided),
                0.0 if is_last else _entropy(text.near[places.stop]),
            ),
            following=(
                text.end_log_probability if is_last else text.log_probabilities[places.stop]
            ),
            segment=sum(text.log_probabilities) / max(len(text.tokens), 1),
            tokens=len(letters),
            is_listed=listed,
            is_first=places.start == 0,
            is_last=is_last,
        )


def is_listed_whole(word: str, is_word: Callable[[str], bool]) -> bool:
    """Whether all parts of a word are in a dictionary; digits and punctuation count as listed."""
    parts = bare(word).replace("’", "'").split("-")
    return all(is_word(part) or not part.isalpha() for part in parts)


def _entropy(near: Sequence[tuple[int, float]]) -> float:
    """Return the entropy (nats) of the network's choice of a token, from the likeliest ones and the
    rest."""
    shares = [min(max(math.exp(log), 1e-9), 1.0) for _, log in near]
    rest = max(1 - sum(shares), 1e-6)
    return -sum(share * math.log(share) for share in (*shares, rest))


def levelled(segment: Samples) -> Samples:
    """Scale a sound to the level that networks expect, and pad it to a quarter of a second."""
    if len(segment) < SHORTEST:
        segment = np.concatenate([segment, np.zeros(SHORTEST - len(segment), np.float32)])
    loudness = math.sqrt(float(np.mean(np.square(segment))))
    return np.asarray(segment * (LEVEL / max(loudness, 1e-6)), np.float32)


def _halves(sound: Samples) -> tuple[Samples, Samples]:
    """Split a sound where it is quietest in its middle third."""
    step = SAMPLE_RATE // 50
    first, last = len(sound) // 3 // step, len(sound) * 2 // 3 // step
    middle = sound[first * step : last * step].reshape(-1, step)
    border = (first + int(np.argmin(np.square(middle).mean(axis=1)))) * step + step // 2
    return sound[:border], sound[border:]


def _batches(lengths: Sequence[int], size: int, threads: int) -> list[list[int]]:
    """Return indices sorted by length, in batches of about ``size``, the same number for each
    thread.

    The work in a batch grows with the length of its sounds, so batches of short ones have more.
    """
    order = sorted(range(len(lengths)), key=lambda index: -lengths[index])
    rounds = -(-len(order) // (size * threads))
    count = min(rounds * threads, len(order))
    if not count:
        return []
    done = np.cumsum([lengths[index] for index in order])
    edges = np.searchsorted(done, done[-1] * np.arange(1, count) / count) + 1
    return [part.tolist() for part in np.split(np.array(order), edges) if len(part)]
