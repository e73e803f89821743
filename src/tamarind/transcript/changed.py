"""Find where two versions of a text differ, by the identity of the cues that they share, at the
cost of the change."""

from __future__ import annotations

from collections.abc import Sequence

Range = tuple[int, int, int]
"""The first place that differs, and one after the last, before and after."""

_KEPT = 12
_latest: list[tuple[Sequence[object], Sequence[object], Range]] = []


def changed_range(before: Sequence[object], after: Sequence[object]) -> Range:
    """Return the first cue that differs, and one after the last in each version.

    The last answers are kept, since everybody who follows an edit asks the same question.
    """
    for old, new, known in _latest:
        if old is before and new is after:
            return known
    ends = len(before), len(after)
    first = _alike(before, after, min(ends))
    last = _alike(before, after, min(ends) - first, back=True)
    answer = first, ends[0] - last, ends[1] - last
    _keep(before, after, answer)
    return answer


def has_changed(before: Sequence[object], after: Sequence[object], where: Range) -> None:
    """Record where an edit changed a text at most, so that nobody need search for it."""
    first, old_last, new_last = where
    while first < min(old_last, new_last) and before[first] is after[first]:
        first += 1
    while first < min(old_last, new_last) and before[old_last - 1] is after[new_last - 1]:
        old_last, new_last = old_last - 1, new_last - 1
    _keep(before, after, (first, old_last, new_last))


def _keep(before: Sequence[object], after: Sequence[object], answer: Range) -> None:
    _latest.insert(0, (before, after, answer))
    del _latest[_KEPT:]


def _alike(before: Sequence[object], after: Sequence[object], most: int, back: bool = False) -> int:
    """Count the identical cues from the start, or ``back`` from the ends, up to ``most``.

    Halves are compared at the speed of C, so a long text takes hardly more steps than a short one.
    """
    low, high = 0, most
    half = most
    while low < high:
        if back:
            one = before[len(before) - low - half : len(before) - low]
            other = after[len(after) - low - half : len(after) - low]
        else:
            one, other = before[low : low + half], after[low : low + half]
        if one == other:
            low += half
        else:
            high = low + half - 1
        half = (high - low + 1) // 2
    return low
