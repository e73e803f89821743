"""How sure a word is: what speaks for it, put together so that 0.8 is right eight times in ten.

Logistic regression on features of the search and of the language (Jiang 2005, "Confidence measures
for speech recognition: a survey", names them all). The weights were fitted by
``benchmarks/calibrate.py`` on recordings with known texts.
"""

from __future__ import annotations

import math
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


NAMES = ("constant", "log_probability", "least", "margin", "share", "likelihood", "length", "short")
WEIGHTS = (0.037, 2.770, -1.517, 0.469, 1.193, 0.110, 0.078, 0.122)


def features(evidence: Evidence, word: str) -> tuple[float, ...]:
    """The numbers that ``WEIGHTS`` are for, in the order of ``NAMES``."""
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


def certainty(evidence: Evidence, word: str) -> float:
    """The probability from 0 to 1 that a word is right."""
    total = sum(
        weight * value for weight, value in zip(WEIGHTS, features(evidence, word), strict=True)
    )
    return 1 / (1 + math.exp(-max(min(total, 30.0), -30.0)))
