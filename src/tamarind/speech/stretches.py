"""Divide speech into stretches for typing by hand: short enough to remember, none cut in a word.

For languages that nothing here hears.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tamarind.speech.activity import FRAME_MS, RULES, Activity, find_speech
from tamarind.speech.hearingoptions import Sensitivity

JOINED_PAUSE_MS = 400
"""A shorter pause is within a phrase."""

LOWER = 0.6
"""Speech goes on as long as it is so many times as likely as what begins it."""

Span = tuple[int, int]


def stretches(
    activity: Activity, begins_at: float, longest_ms: int, start_ms: int = 0
) -> list[Span]:
    """Return where somebody speaks, (from, to) in ms, each at most ``longest_ms`` long.

    ``begins_at`` (0 to 1) is how likely speech must be to begin a stretch; what lies before
    ``start_ms`` is left out.
    """
    rules = replace(RULES[Sensitivity.ORDINARY], begins_at=begins_at, goes_on_at=begins_at * LOWER)
    longest = max(int(longest_ms / FRAME_MS), 2)
    first_frame = int(start_ms / FRAME_MS)
    found: list[Span] = []
    for first, last in find_speech(activity, rules):
        if last <= first_frame:
            continue
        for piece in _divided(max(first, first_frame), last, longest, activity):
            pause = (piece[0] - found[-1][1]) * FRAME_MS if found else JOINED_PAUSE_MS
            if pause < JOINED_PAUSE_MS and piece[1] - found[-1][0] <= longest:
                found[-1] = (found[-1][0], piece[1])
            else:
                found.append(piece)
    return [(round(first * FRAME_MS), round(last * FRAME_MS)) for first, last in found]


def _divided(first: int, last: int, longest: int, activity: Activity) -> list[Span]:
    """Cut a stretch where speech is least likely, in the middle half of what may be taken."""
    pieces: list[Span] = []
    while last - first > longest:
        low, high = first + longest // 2, first + longest
        border = low + int(np.argmin(activity.probability[low:high]))
        pieces.append((first, border))
        first = border
    return [*pieces, (first, last)]
