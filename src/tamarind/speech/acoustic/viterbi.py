"""Find the best path of several sounds through their chains of states, all at once.

The Viterbi algorithm (Rabiner 1989, "A tutorial on hidden Markov models"). The chains stand one
behind the other in one array, so a step of 10 ms is a handful of array operations however many
sounds there are; which way was taken is found again from the scores, along the best way only.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.acoustic.chain import Chain
from tamarind.speech.acoustic.features import Frames

IMPOSSIBLE = np.float32(-1e30)

Way = NDArray[np.int32]
"""The state of each step."""


def best_ways(chains: Sequence[Chain], scores: Sequence[Frames]) -> list[Way | None]:
    """Return the best path through each chain, or None if its text has more states than its sound
    steps.

    ``scores`` are (steps, states): the log likelihood of each step in each state.
    """
    firsts = np.cumsum([0, *(len(chain.senones) for chain in chains)])
    steps = max(map(len, scores))
    stay = np.concatenate([chain.stay for chain in chains]).astype(np.float32)
    leave = np.concatenate([chain.leave for chain in chains]).astype(np.float32)
    following = leave[:-1].copy()
    entries, exits, costs = _entries(chains, firsts)
    begins = [firsts[at] + first for at, chain in enumerate(chains) for first, _ in chain.starts]
    following[np.array([first - 1 for first in (*entries, *begins) if first], int)] = IMPOSSIBLE
    best = np.zeros((steps, firsts[-1]), np.float32)
    for at, own in enumerate(scores):
        best[: len(own), firsts[at] : firsts[at + 1]] = own
    sound = best[0].copy()
    best[0] = IMPOSSIBLE
    for at, chain in enumerate(chains):
        for first, cost in chain.starts:
            best[0, firsts[at] + first] = sound[firsts[at] + first] - cost
    for step in range(1, steps):
        before, here = best[step - 1], best[step]
        reached = before + stay
        np.maximum(reached[1:], before[:-1] + following, out=reached[1:])
        entered = ((before + leave).take(exits) - costs).max(axis=0)
        reached[entries] = np.maximum(reached[entries], entered)
        here += reached
        np.maximum(here, IMPOSSIBLE, out=here)
    return [
        _traced(chain, best[: len(own), firsts[at] : firsts[at + 1]])
        for at, (chain, own) in enumerate(zip(chains, scores, strict=True))
    ]


def _entries(
    chains: Sequence[Chain], firsts: NDArray[np.int64]
) -> tuple[NDArray[np.int64], NDArray[np.int64], Frames]:
    """Return the first states of words (entries,), and the states before them with costs (paths,
    entries)."""
    entries = [
        (at + first, at + np.array(before), cost)
        for at, chain in zip(firsts[:-1], chains, strict=True)
        for first, before, cost in chain.entries
    ]
    ways = max(len(before) for _, before, _ in entries) if entries else 1
    exits = np.zeros((ways, len(entries)), np.int64)
    costs = np.full(exits.shape, -IMPOSSIBLE, np.float32)
    for number, (_, before, cost) in enumerate(entries):
        exits[: len(before), number] = before
        costs[: len(before), number] = cost
    return np.array([first for first, *_ in entries], np.int64), exits, costs


def _traced(chain: Chain, best: Frames) -> Way | None:
    """Return the path to the best end, from the scores of all states at all steps."""
    entries = {first: (before, cost) for first, before, cost in chain.entries}
    starts = {first for first, _ in chain.starts}
    state = max(chain.ends, key=lambda end: float(best[-1, end]) + chain.leave[end])
    if best[-1, state] <= IMPOSSIBLE / 2:
        return None
    way = np.empty(len(best), np.int32)
    way[-1] = state
    for step in range(len(best) - 2, -1, -1):
        row = best[step]
        source, highest = state, row[state] + chain.stay[state]
        before, cost = entries.get(state, ([] if state in starts else [state - 1], 0.0))
        for other in before:
            score = row[other] + chain.leave[other] - cost
            if score > highest:
                source, highest = other, score
        state = source
        way[step] = state
    return way
