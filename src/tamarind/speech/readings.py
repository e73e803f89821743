"""From several texts of one chunk to one text whose words know their rivals.

The texts are matched word by word with the best one, as in a confusion network (Mangu, Brill and
Stolcke 2000, "Finding consensus in speech recognition"); a word's support is the share of
probability of the texts that have it too.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

import numpy as np

MOST_OTHERS = 5


@dataclass(frozen=True, slots=True)
class Support:
    """For one word of the best text: the share (0..1) of the texts that have it, and rivals."""

    share: float
    others: tuple[str, ...]


def support(texts: Sequence[Sequence[str]], scores: Sequence[float]) -> list[Support]:
    """Support for each word of ``texts[0]``; ``scores`` are natural logs of probabilities.

    Marks and capitals do not make a word another.
    """
    best = texts[0]
    weights = np.exp(np.array(scores) - max(scores))
    weights /= weights.sum()
    shares = np.full(len(best), weights[0])
    rivals: list[dict[str, float]] = [{} for _ in best]
    plain = [bare(word) for word in best]
    for other, weight in zip(texts[1:], weights[1:], strict=True):
        matcher = SequenceMatcher(None, plain, [bare(word) for word in other], autojunk=False)
        for kind, i1, i2, j1, j2 in matcher.get_opcodes():
            if kind == "equal":
                shares[i1:i2] += weight
                continue
            for places, words in _pairs(range(i1, i2), other[j1:j2]):
                text = " ".join(words)
                for place in places:
                    rivals[place][text] = rivals[place].get(text, 0.0) + float(weight)
    return [
        Support(float(share), tuple(sorted(found, key=lambda text: -found[text])[:MOST_OTHERS]))
        for share, found in zip(shares, rivals, strict=True)
    ]


def bare(word: str) -> str:
    """A word without marks around it and without capitals."""
    return word.strip(".,;:!?\"'“”‘’()…–—-").casefold()


def _pairs(places: range, words: Sequence[str]) -> list[tuple[range, Sequence[str]]]:
    """Which words stand against which places: one by one if they are as many."""
    if len(places) == len(words):
        return [(range(p, p + 1), [w]) for p, w in zip(places, words, strict=True)]
    if len(places) == 1:
        return [(places, words)]
    return []
