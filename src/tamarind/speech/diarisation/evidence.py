"""Compute which voice speaks when from the points of windows, and give words to voices by that."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.diarisation.windows import EmbeddedSpans
from tamarind.transcript.model import Word

Floats = NDArray[np.float32]

STEP_MS = 100

SHARPNESS = 8.0
"""How much likelier a voice is for being nearer by 1 in cosine, as a power of e."""

EDGE = 0.05
"""What a window says about its ends, beside 1 for its middle."""

CHANGE_IN_PHRASE, CHANGE_AT_PAUSE, CHANGE_AT_END = 1.6, 0.5, 0.25
"""What a change of voice costs between two words, in words that it must win over."""

PAUSE_MS = 250


@dataclass(frozen=True, slots=True)
class SpeakerEvidence:
    """``weights`` (steps, voices) is the evidence for each voice in every 100 ms from ``start``
    (ms); all zero where nobody speaks."""

    start: int
    weights: Floats


def evidence_of(points: EmbeddedSpans, middles: Floats, start: int, end: int) -> SpeakerEvidence:
    """Return the evidence of the points for voices with these means, from ``start`` to ``end``
    (ms)."""
    weights = np.zeros((max(end - start, 0) // STEP_MS + 1, len(middles)), np.float32)
    if not len(middles):
        return SpeakerEvidence(start, weights)
    likeness = SHARPNESS * (points.vectors @ middles.T)
    share = np.exp(likeness - likeness.max(axis=1, keepdims=True))
    share /= share.sum(axis=1, keepdims=True)
    for (begin, until), own in zip(points.spans - start, share, strict=True):
        first = max(int(begin) // STEP_MS, 0)
        last = min(max(int(until) // STEP_MS, first + 1), len(weights))
        place = (np.arange(last - first) + 0.5) / max(last - first, 1)
        weights[first:last] += (1 + EDGE - np.abs(2 * place - 1))[:, None] * own
    return SpeakerEvidence(start, weights)


def voices_of(words: Sequence[Word], evidence: SpeakerEvidence) -> list[int | None]:
    """Return each word's voice (a column of the evidence): the cheapest sequence, where changes
    within a phrase are dear.

    Viterbi over the words (Viterbi 1967); a word outside all evidence counts for the nearest.
    None for all where there is no evidence at all.
    """
    heard = np.flatnonzero(evidence.weights.sum(axis=1) > 0)
    if not words or not len(heard):
        return [None] * len(words)
    cost = np.stack([1 - _shares(word, evidence, heard) for word in words])
    total = cost[0]
    origins = []
    for (before, after), own in zip(pairwise(words), cost[1:], strict=True):
        change = _change_cost(before, after)
        best = int(total.argmin())
        moved = total[best] + change
        origins.append(np.where(total <= moved, np.arange(len(total)), best))
        total = np.minimum(total, moved) + own
    place = int(total.argmin())
    path = [place]
    for origin in reversed(origins):
        place = int(origin[place])
        path.append(place)
    return list(reversed(path))


def _shares(word: Word, evidence: SpeakerEvidence, heard: NDArray[np.int64]) -> Floats:
    """Return the evidence for each voice (voices,) during a word, 1 in all."""
    first = max((word.start - evidence.start) // STEP_MS, 0)
    last = (word.end - evidence.start) // STEP_MS + 1
    own = evidence.weights[first:last].sum(axis=0)
    if own.sum() <= 0:
        middle = ((word.start + word.end) // 2 - evidence.start) / STEP_MS
        own = evidence.weights[heard[np.abs(heard - middle).argmin()]]
    return np.asarray(own / own.sum(), np.float32)


def _change_cost(before: Word, after: Word) -> float:
    if before.text.endswith((".", "?", "!", "。", "？", "！", "؟")):
        return CHANGE_AT_END
    return CHANGE_AT_PAUSE if after.start - before.end >= PAUSE_MS else CHANGE_IN_PHRASE
