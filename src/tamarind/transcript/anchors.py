"""Find places where two long texts certainly agree, so that only what lies between must be aligned.

Runs of words that stand once in each text are matched, and the longest chain of them that is in
order in both is kept: the patience comparison of Bram Cohen, with runs of words for lines and the
longest increasing subsequence of Schensted (1961). The cost grows with the length of the texts, not
with its square.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence

RUN = 3


def blocks(old: Sequence[str], new: Sequence[str]) -> list[tuple[int, int, int]]:
    """Return stretches that agree, in order: (index in ``old``, index in ``new``, length)."""
    for run in (RUN, 1):
        pairs = _chain(_common(old, new, run))
        if pairs:
            return _grown(old, new, pairs)
    return []


def _common(old: Sequence[str], new: Sequence[str], run: int) -> list[tuple[int, int]]:
    """Return the indices of runs that occur once in each text, in the order of ``old``."""
    here, there = _once(old, run), _once(new, run)
    return [(place, there[key]) for key, place in here.items() if key in there]


def _once(words: Sequence[str], run: int) -> dict[tuple[str, ...], int]:
    places: dict[tuple[str, ...], int] = {}
    for place in range(len(words) - run + 1):
        key = tuple(words[place : place + run])
        places[key] = -1 if key in places else place
    return {key: place for key, place in places.items() if place >= 0}


def _chain(pairs: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return the longest subsequence of the pairs, sorted by the first, whose second rises too."""
    tails: list[int] = []
    at: list[int] = []
    origin: list[int] = []
    for number, (_, place) in enumerate(pairs):
        length = bisect_left(tails, place)
        if length == len(tails):
            tails.append(place)
            at.append(number)
        else:
            tails[length], at[length] = place, number
        origin.append(at[length - 1] if length else -1)
    found: list[tuple[int, int]] = []
    number = at[-1] if at else -1
    while number >= 0:
        found.append(pairs[number])
        number = origin[number]
    return found[::-1]


def _grown(
    old: Sequence[str], new: Sequence[str], pairs: list[tuple[int, int]]
) -> list[tuple[int, int, int]]:
    """Extend each pair as far as both texts agree, without overlaps."""
    found: list[tuple[int, int, int]] = []
    low_old = low_new = 0
    for i, j in pairs:
        if i < low_old or j < low_new:
            continue
        first, second = i, j
        while first > low_old and second > low_new and old[first - 1] == new[second - 1]:
            first, second = first - 1, second - 1
        last, end = i, j
        while last < len(old) and end < len(new) and old[last] == new[end]:
            last, end = last + 1, end + 1
        found.append((first, second, last - first))
        low_old, low_new = last, end
    return found
