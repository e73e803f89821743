"""How sure a word is: what speaks for it, put together so that 0.8 is right eight times in ten.

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
class Evidence:
    """What the search knows of a word; natural logs.

    ``log_probability`` of all its letters' tokens and ``least`` of them; ``margin`` over the next
    best token where that is smallest; ``share`` of the other texts that have the word too;
    ``likelihood`` of the word and its successor in the language.
    """

    log_probability: float
    least: float
    margin: float
    share: float
    likelihood: float


SEARCH_NAMES = (
    "constant",
    "log_probability",
    "least",
    "margin",
    "share",
    "likelihood",
    "length",
    "short",
)
SEARCH_WEIGHTS = (0.148, 2.604, -1.490, 0.485, 1.116, 0.116, 0.074, 0.117)


def features(evidence: Evidence, word: str) -> tuple[float, ...]:
    """The numbers that ``SEARCH_WEIGHTS`` are for."""
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
    )


def confidence(evidence: Evidence, word: str) -> float:
    """The probability from 0 to 1 that a word is right, as far as the search knows."""
    return logistic(SEARCH_WEIGHTS, features(evidence, word))


SOUND_NAMES = ("constant", "certainty", "fit", "without fit", "neighbours")
SOUND_WEIGHTS = (0.152, 0.888, 0.378, -0.7, 0.363)
"""In the recordings that these were fitted on every word had a fit; -0.7 takes half the odds."""

LEAST_FIT = -12.0
_LOWEST, _HIGHEST = -5.0, 7.0


def sound_features(
    confidences: Sequence[float], fits: Sequence[float | None]
) -> list[tuple[float, ...]]:
    """For each word of a segment the numbers that ``SOUND_WEIGHTS`` are for."""
    odds = [min(max(log_odds(confidence), _LOWEST), _HIGHEST) for confidence in confidences]
    rows: list[tuple[float, ...]] = []
    for place, fit in enumerate(fits):
        around = [odds[at] for at in (place - 1, place + 1) if 0 <= at < len(odds)] or [odds[place]]
        heard = max(fit, LEAST_FIT) if fit is not None else 0.0
        rows.append((1.0, odds[place], heard, float(fit is None), sum(around) / len(around)))
    return rows


def with_sound(confidences: Sequence[float], fits: Sequence[float | None]) -> list[float]:
    """How sure the words of a segment are once it is known how they fit the sound.

    ``fits`` are those of ``alignment.TimedWord``. A wrong word seldom comes alone, so a word is
    less sure beside doubtful ones.
    """
    return [logistic(SOUND_WEIGHTS, row) for row in sound_features(confidences, fits)]


def logistic(weights: Sequence[float], values: Sequence[float]) -> float:
    """The probability that weighted values come to."""
    total = sum(weight * value for weight, value in zip(weights, values, strict=True))
    return 1 / (1 + math.exp(-max(min(total, 30.0), -30.0)))


def log_odds(confidence: float, least: float = 1e-6) -> float:
    """The natural log of the odds of a probability, which is not taken for less or more sure than
    ``least`` allows."""
    bounded = min(max(confidence, least), 1 - least)
    return math.log(bounded / (1 - bounded))
