"""Compute the confidence of a word from the evidence, so that words at 0.8 are right eight times in
ten.

Logistic regression, first on features of the search and of the language, then on these confidences
beside those of the neighbours and the fit of each word to the sound (Jiang 2005, "Confidence
measures for speech recognition: a survey", names them all). The weights were fitted by
``benchmarks/calibrate.py`` on recordings with known texts.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class WordEvidence:
    """What the search knows of a word, in natural logs.

    ``log_probability`` of all its letters' tokens and ``least`` of them; ``margin`` over the next
    best token where that is smallest; ``share`` of the other texts that have the word too;
    ``likelihood`` of the word and its successor in the language. ``entropies`` tell how undecided
    the network was at its first token, where most, and at the token after it, whose log probability
    is ``following``; ``segment`` is the mean of all in the segment. ``tokens`` is how many it has,
    ``is_listed`` whether the language is known to have it.
    """

    log_probability: float
    least: float
    margin: float
    share: float
    likelihood: float
    entropies: tuple[float, float, float] = (0.0, 0.0, 0.0)
    following: float = 0.0
    segment: float = 0.0
    tokens: int = 1
    is_listed: bool = True
    is_first: bool = False
    is_last: bool = False


SEARCH_NAMES = (
    "constant",
    "log_probability",
    "least",
    "margin",
    "share",
    "likelihood",
    "length",
    "short",
    "entropy first",
    "entropy most",
    "entropy after",
    "tokens",
    "following",
    "segment",
    "listed",
    "first",
    "last",
    "capital",
    "figures",
)
BUILTIN_WEIGHTS = (
    0.769, 1.559, -1.374, 0.184, 2.223, 0.040, 0.124, 0.351, 0.270, -2.051, -0.959, -0.329,
    -0.148, 3.217, 0.844, 0.987, -0.477, 0.630, 0.500,
)  # fmt: skip
MANY_WEIGHTS = (
    0.681, 1.522, -1.077, 0.139, 2.483, 0.056, 0.054, 0.299, 0.617, -2.354, -0.408, -0.049,
    0.215, 2.383, 0.868, 1.213, -0.577, 0.553, 0.837,
)  # fmt: skip
"""Of the network for English that comes along, and of the multilingual one."""


def features(evidence: WordEvidence, word: str) -> tuple[float, ...]:
    """Return the numbers that the weights of a search are for."""
    letters = sum(map(str.isalnum, word))
    return (
        1.0,
        max(evidence.log_probability, -6.0),
        max(evidence.least, -4.0),
        min(max(evidence.margin, -2.0), 8.0),
        evidence.share,
        evidence.likelihood,
        min(letters, 10),
        float(letters <= 3),
        *evidence.entropies,
        min(evidence.tokens, 6),
        max(evidence.following, -5.0),
        max(evidence.segment, -3.0),
        float(evidence.is_listed),
        float(evidence.is_first),
        float(evidence.is_last),
        float(not evidence.is_first and word[:1].isupper()),
        float(any(map(str.isdigit, word))),
    )


def builtin_confidence(evidence: WordEvidence, word: str) -> float:
    """Return the probability that a word is right, from the search with the built-in network."""
    return logistic(BUILTIN_WEIGHTS, features(evidence, word))


def many_confidence(evidence: WordEvidence, word: str) -> float:
    """Return the probability that a word is right, from the search with the multilingual
    network."""
    return logistic(MANY_WEIGHTS, features(evidence, word))


@dataclass(frozen=True, slots=True)
class Sounding:
    """How a word lies in its sound: its fit (None if not known), its duration a letter (ms), and
    the speech without a word before and after it (ms)."""

    fit: float | None
    length: float
    before: float
    after: float


SOUND_NAMES = (
    "constant",
    "certainty",
    "neighbours",
    "least certain",
    "two further",
    "fit",
    "without fit",
    "length",
    "speech before",
    "speech after",
)
SOUND_WEIGHTS = (0.246, 0.915, 0.126, -0.037, -0.031, 0.242, -0.7, 0.200, 1.497, 0.108)
"""Nearly all words that these were fitted on had a fit; -0.7 takes half the odds."""

LEAST_FIT = -12.0
LONGEST_LETTER, LONGEST_SPEECH = 400.0, 1000.0
_LOWEST, _HIGHEST = -5.0, 7.0


def sound_features(
    confidences: Sequence[float], soundings: Sequence[Sounding]
) -> list[tuple[float, ...]]:
    """Return the numbers that ``SOUND_WEIGHTS`` are for, for each word of a segment."""
    odds = [min(max(log_odds(confidence), _LOWEST), _HIGHEST) for confidence in confidences]
    rows: list[tuple[float, ...]] = []
    for place, heard in enumerate(soundings):
        own = odds[place]
        near, further = (
            [odds[at] for at in (place - off, place + off) if 0 <= at < len(odds)] or [own]
            for off in (1, 2)
        )
        rows.append((
            1.0,
            own,
            sum(near) / len(near),
            min(own, *near),
            sum(further) / len(further),
            max(heard.fit, LEAST_FIT) if heard.fit is not None else 0.0,
            float(heard.fit is None),
            min(heard.length, LONGEST_LETTER) / 100,
            min(heard.before, LONGEST_SPEECH) / 1000,
            min(heard.after, LONGEST_SPEECH) / 1000,
        ))  # fmt: skip
    return rows


def with_sound(confidences: Sequence[float], soundings: Sequence[Sounding]) -> list[float]:
    """Return the confidences of a segment's words, updated by how they lie in the sound.

    A wrong word seldom comes alone, so a word is less sure beside doubtful ones.
    """
    return [logistic(SOUND_WEIGHTS, row) for row in sound_features(confidences, soundings)]


def logistic(weights: Sequence[float], values: Sequence[float]) -> float:
    """Return the probability of a sum of weighted values."""
    total = sum(weight * value for weight, value in zip(weights, values, strict=True))
    return 1 / (1 + math.exp(-max(min(total, 30.0), -30.0)))


def log_odds(confidence: float, least: float = 1e-6) -> float:
    """Return the log odds of a probability, limited by ``least``."""
    bounded = min(max(confidence, least), 1 - least)
    return math.log(bounded / (1 - bounded))
