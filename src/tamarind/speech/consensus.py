"""Compare several texts of one segment, so that each word of the best knows its rivals.

The texts are matched word by word with the best one, as in a confusion network (Mangu, Brill and
Stolcke 2000, "Finding consensus in speech recognition"); a word's support is the share of
probability of the texts that have it too.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

import numpy as np

from tamarind.speech.pronouncing import phones_of, unlikeness
from tamarind.transcript.tokens import joined

MOST_OTHERS = 5
LONGEST_PHRASE = 8
"""Longer phrases that differ have nothing in common but their time."""


@dataclass(frozen=True, slots=True)
class Support:
    """For one word of the best text: the share (0 to 1) of the texts that have it, and the shares
    of what others have instead, "" for nothing."""

    share: float
    others: dict[str, float]


def support(texts: Sequence[Sequence[str]], scores: Sequence[float]) -> list[Support]:
    """Return the support of each word of ``texts[0]``; ``scores`` are natural logs of
    probabilities.

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
            for place, words in zip(
                range(i1, i2), shared_out(best[i1:i2], other[j1:j2]), strict=True
            ):
                text = joined(words)
                if bare(text) != plain[place]:
                    rivals[place][text] = rivals[place].get(text, 0.0) + float(weight)
    return [Support(float(share), found) for share, found in zip(shares, rivals, strict=True)]


def together(backing: Support, near: Mapping[str, float]) -> tuple[str, ...]:
    """Return a word's alternatives from other texts and elsewhere, likeliest first."""
    found: dict[str, tuple[float, str]] = {}
    for text, weight in (*backing.others.items(), *near.items()):
        known = found.get(bare(text), (0.0, text))
        found[bare(text)] = (max(known[0], weight), known[1])
    best = sorted(found.values(), key=lambda pair: -pair[0])
    return tuple(text for _, text in best[:MOST_OTHERS])


def bare(word: str) -> str:
    """Return a word without punctuation around it, in lower case."""
    return word.strip(".,;:!?\"'“”‘’()…–—-").casefold()


def shared_out(best: Sequence[str], other: Sequence[str]) -> list[Sequence[str]]:
    """Assign the words of another hypothesis to the words of a phrase, in order, by their sound.

    The cheapest way to cut the other reading into as many runs, some perhaps empty.
    """
    if len(best) == len(other):
        return [[word] for word in other]
    if len(best) == 1:
        return [other]
    if len(best) > LONGEST_PHRASE or len(other) > LONGEST_PHRASE:
        return [best[at : at + 1] for at in range(len(best))]
    sounds = [phones_of(word) for word in best]

    def cost(place: int, first: int, last: int) -> float:
        return unlikeness(sounds[place], phones_of(" ".join(other[first:last])))

    # For every place and number of words given out so far: the least cost, and where it began.
    ways: list[dict[int, tuple[float, int]]] = [{0: (0.0, 0)}]
    for place in range(len(best)):
        ends = range(len(other) + 1) if place + 1 < len(best) else [len(other)]
        ways.append(
            {
                end: min(
                    (total + cost(place, start, end), start)
                    for start, (total, _) in ways[-1].items()
                    if start <= end
                )
                for end in ends
            }
        )
    runs: list[Sequence[str]] = []
    end = len(other)
    for place in range(len(best), 0, -1):
        start = ways[place][end][1]
        runs.append(other[start:end])
        end = start
    return runs[::-1]
