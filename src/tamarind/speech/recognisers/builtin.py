"""The built-in recogniser: the English model inside the moonshine-voice package, decoded by us."""

from __future__ import annotations

import importlib.util
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.audio.slower import slowed
from tamarind.speech.alignment import Aligner
from tamarind.speech.compounds import joined
from tamarind.speech.confidence import Evidence, confidence
from tamarind.speech.consensus import support, together
from tamarind.speech.cores import cores, side_by_side
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.inventions import looping
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.bias import TermBias
from tamarind.speech.recognisers.decoder import Decoder
from tamarind.speech.recognisers.encoder import SHORTEST, Encoder, Floats
from tamarind.speech.recognisers.ensemble import Ensemble
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.modelfile import ModelFileError
from tamarind.speech.recognisers.neighbours import neighbours
from tamarind.speech.recognisers.tokens import BEGIN, END, Vocabulary
from tamarind.speech.search import Bias, TokenHypothesis, search
from tamarind.speech.terms import (
    Candidate,
    TermFinder,
    with_offer,
    with_term,
)
from tamarind.speech.wordmodel import WordModel

TOKENS_A_SECOND = 9
"""No one speaks faster than this; a text that goes on beyond it is a loop."""

LEVEL = 0.1
"""Segments are brought to this root mean square: the network is not indifferent to loudness."""


Judge = Callable[[Evidence, str], float]
"""How sure a word is, from what speaks for it."""

_Encoded = tuple[Samples, list[Floats]]
"""A sound as it was listened to, and the hidden states of each of its versions."""


@dataclass(frozen=True, slots=True)
class _Effort:
    """How wide to search, in how many versions of the sound, and how many segments at once."""

    beams: int
    slowed: tuple[tuple[int, int], ...]
    batch: int


EFFORTS = {
    Care.QUICK: _Effort(beams=2, slowed=((1, 1),), batch=12),
    Care.THOROUGH: _Effort(beams=5, slowed=((1, 1), (10, 9)), batch=8),
}
"""``slowed`` are ratios of length: the thorough way also listens at nine tenths of the speed."""


def model_folder() -> Path:
    """Where the installed package keeps its model.

    Raises RecogniserError when the package is missing or carries none.
    """
    spec = importlib.util.find_spec("moonshine_voice")
    if spec is None or spec.origin is None:
        raise RecogniserError("The built-in recogniser is not installed; run scripts/start again.")
    folder = Path(spec.origin).parent / "assets" / "tiny-en"
    if not (folder / "encoder_model.ort").is_file():
        raise RecogniserError(
            "The installed moonshine-voice package carries no model; version 0.1.0 does."
        )
    return folder


class BuiltinRecogniser:
    """Offline, on the processor; load once and hear many segments.

    The built-in model hears English; a model of the same format in a ``folder`` whatever it was
    made for, which only the person knows.
    """

    def __init__(
        self,
        folder: Path | None = None,
        threads: int | None = None,
        judge: Judge = confidence,
        aligner: Aligner | None = None,
    ) -> None:
        self.languages: tuple[str, ...] = ("en",) if folder is None else ()
        folder = folder or model_folder()
        try:
            self._encoder = Encoder(folder / "encoder_model.ort")
            self._decoder = Decoder(folder / "decoder_model_merged.ort")
            self._vocabulary = Vocabulary(folder / "tokenizer.bin")
        except (ModelFileError, IndexError, OSError) as error:
            raise RecogniserError(f"The model in “{folder}” cannot be read: {error}") from None
        self._words = WordModel()
        self._judge = judge
        self._aligner = aligner or Aligner()
        self._threads = threads or cores()

    def hear(
        self,
        segments: Sequence[Samples],
        how: HearingOptions,
        on_step: Callable[[], None] = lambda: None,
    ) -> list[list[Hypothesis]]:
        """Batches of alike length, side by side on all cores; results in the order given."""
        if self.languages and how.language.split("-")[0] not in self.languages:
            raise RecogniserError(
                f"The built-in recogniser hears English only, not “{how.language}”."
            )
        results: list[list[Hypothesis]] = [[] for _ in segments]
        effort = EFFORTS[how.care]
        bias = TermBias(how.glossary, self._vocabulary) if how.glossary else None

        finder = TermFinder(how.glossary) if how.glossary else None

        def encode(segment: Samples) -> _Encoded:
            sound = _prepared(segment)
            return sound, [self._encoder.hidden(slowed(sound, r)) for r in effort.slowed]

        def hear_batch(batch: Sequence[int]) -> None:
            sounds = [encoded[index][0] for index in batch]
            hidden = [states for index in batch for states in encoded[index][1]]
            found = self._search(sounds, hidden, effort, bias, on_step)
            for place, index in enumerate(batch):
                if self._goes_astray(found[place][0]):
                    found[place] = self._search_again(sounds[place], found[place], on_step)
                best, *others = self._hypotheses(found[place])
                if finder is not None:
                    states = hidden[place * len(effort.slowed)]
                    best = self._with_terms(best, finder, sounds[place], states)
                results[index] = [best, *others]

        batches = _batches([len(segment) for segment in segments], effort.batch, self._threads)
        order = [index for batch in batches for index in batch]
        states = side_by_side(encode, [segments[index] for index in order], self._threads)
        encoded = dict(zip(order, states, strict=True))
        if encoded:
            self._encoder.rest()
        side_by_side(hear_batch, batches, self._threads)
        return results

    def _search(
        self,
        sounds: Sequence[Samples],
        hidden: Sequence[Floats],
        effort: _Effort,
        bias: Bias | None,
        on_step: Callable[[], None],
    ) -> list[list[TokenHypothesis]]:
        limits = np.array([math.ceil(len(s) / SAMPLE_RATE * TOKENS_A_SECOND) for s in sounds])
        state = self._decoder.begin(hidden, effort.beams)
        stepper = Ensemble(state, len(effort.slowed), effort.beams)
        return search(stepper, limits, effort.beams, BEGIN, END, bias, on_step)

    def _goes_astray(self, text: TokenHypothesis) -> bool:
        """Whether a text has no end or goes round in a loop."""
        words = [word for word, _ in self._vocabulary.words(text.tokens)]
        return not text.ended or any(looping(words))

    def _search_again(
        self, sound: Samples, found: list[TokenHypothesis], on_step: Callable[[], None]
    ) -> list[TokenHypothesis]:
        """Another way of listening often ends a loop; if it does not, the text stays."""
        effort = EFFORTS[Care.THOROUGH]
        hidden = [self._encoder.hidden(slowed(sound, ratio)) for ratio in effort.slowed]
        (again,) = self._search([sound], hidden, effort, None, on_step)
        return found if self._goes_astray(again[0]) else again

    def _with_terms(
        self, best: Hypothesis, finder: TermFinder, sound: Samples, hidden: Floats
    ) -> Hypothesis:
        """The hypothesis with terms for what sounds like them, where network and sound agree."""
        candidates = finder.candidates(best.words)
        if not candidates:
            return best
        texts = [best.words, *(with_term(best.words, candidate) for candidate in candidates)]
        tokens = [
            [BEGIN, *self._vocabulary.encode(" " + " ".join(w.text for w in words)), END]
            for words in texts
        ]
        scores = self._decoder.score(hidden, tokens)
        fits = self._aligner.fits(sound, [[word.text for word in words] for words in texts])
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

    def _hypotheses(self, found: Sequence[TokenHypothesis]) -> list[Hypothesis]:
        """The best text with confidences and rivals, then the others as they are."""
        split = [self._vocabulary.words(text.tokens) for text in found]
        texts = [[word for word, _ in words] for words in split]
        best, places = texts[0], [place for _, place in split[0]]
        backing = support(texts, [text.score for text in found])
        likelihoods = self._words.around(best)
        words = []
        for index, (word, place) in enumerate(zip(best, places, strict=True)):
            evidence = self._evidence(found[0], place, backing[index].share, likelihoods[index])
            near = neighbours(found[0], place, self._vocabulary)
            others = together(backing[index], near)
            words.append(HeardWord(word, self._judge(evidence, word), others))
        hypotheses = [Hypothesis(joined(words, self._words), found[0].score)]
        hypotheses += [
            Hypothesis(tuple(HeardWord(word, 0.0) for word in text), other.score)
            for text, other in zip(texts[1:], found[1:], strict=True)
        ]
        return hypotheses

    def _evidence(
        self, text: TokenHypothesis, places: range, share: float, likelihood: float
    ) -> Evidence:
        """What speaks for a word; a doubtful comma does not make a word doubtful."""
        letters = [
            place
            for place in places
            if any(chr(b).isalnum() or b >= 128 for b in self._vocabulary.piece(text.tokens[place]))
        ] or list(places)
        logs = [text.log_probabilities[place] for place in letters]
        return Evidence(
            log_probability=sum(logs),
            least=min(logs),
            margin=min(text.margins[place] for place in letters),
            share=share,
            likelihood=likelihood,
        )


def _prepared(segment: Samples) -> Samples:
    """At the level that the network likes, and at least the quarter second that it needs."""
    if len(segment) < SHORTEST:
        segment = np.concatenate([segment, np.zeros(SHORTEST - len(segment), np.float32)])
    loudness = math.sqrt(float(np.mean(np.square(segment))))
    return np.asarray(segment * (LEVEL / max(loudness, 1e-6)), np.float32)


def _batches(lengths: Sequence[int], size: int, threads: int) -> list[list[int]]:
    """Indices sorted by length in batches of about ``size``, for each thread as many.

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
