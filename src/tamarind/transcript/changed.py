"""Where two versions of a text differ: they share the cues that are alike, so this is found by
identity, at the cost of what has changed."""

from __future__ import annotations

from collections.abc import Sequence

_KEPT = 4
_latest: list[tuple[Sequence[object], Sequence[object], tuple[int, int, int]]] = []
_BLOCK = 256


def changed_range(before: Sequence[object], after: Sequence[object]) -> tuple[int, int, int]:
    """Where two versions differ: the first place, and one after the last in each of them.

    The last answers are kept, since everybody who follows an edit asks the same question.
    """
    for old, new, known in _latest:
        if old is before and new is after:
            return known
    shorter = min(len(before), len(after))
    first = 0
    # Whole blocks that share their cues are passed over at the speed of C.
    while first + _BLOCK <= shorter and _alike(before, after, first, first):
        first += _BLOCK
    while first < shorter and before[first] is after[first]:
        first += 1
    last = 0
    ends = len(before), len(after)
    while last + _BLOCK <= shorter - first and _alike(
        before, after, ends[0] - last - _BLOCK, ends[1] - last - _BLOCK
    ):
        last += _BLOCK
    while last < shorter - first and before[-1 - last] is after[-1 - last]:
        last += 1
    answer = first, len(before) - last, len(after) - last
    _latest.insert(0, (before, after, answer))
    del _latest[_KEPT:]
    return answer


def _alike(before: Sequence[object], after: Sequence[object], first: int, second: int) -> bool:
    return before[first : first + _BLOCK] == after[second : second + _BLOCK]
