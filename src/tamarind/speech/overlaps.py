"""Join the words of segments that overlap, where speech has no pause to cut in.

Both segments hear the words around the border, the one without what follows and the other without
what came before. They are joined at a word that both have at the same time, the one nearest to the
middle; where there is none, at the middle itself.
"""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.speech.consensus import bare
from tamarind.transcript.model import Word

SAME_WITHIN_MS = 200


def merged(before: Sequence[Word], after: Sequence[Word], overlap: tuple[int, int]) -> list[Word]:
    """Return the words of two segments in order, those in the ``overlap`` (from, to, in ms) only
    once."""
    low, high = overlap
    middle = (low + high) / 2
    common = [
        (abs(one.start + one.end - 2 * middle), first, second)
        for first, one in enumerate(before)
        if one.end > low
        for second, other in enumerate(after)
        if other.start < high
        and abs(one.start - other.start) <= SAME_WITHIN_MS
        and bare(one.text) == bare(other.text)
    ]
    if common:
        _, first, second = min(common)
        return [*before[:first], *after[second:]]
    kept = [word for word in before if (word.start + word.end) / 2 < middle]
    return [*kept, *(word for word in after if (word.start + word.end) / 2 >= middle)]
