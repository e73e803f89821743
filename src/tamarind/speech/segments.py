"""Cut speech into segments of 8 to 20 s for the recogniser, in the deepest pauses."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from tamarind.speech.activity import FRAME_MS, Activity, find_speech
from tamarind.speech.hearingoptions import Sensitivity

SHORTEST_MS = 8_000
LONGEST_MS = 20_000
OVERLAP = round(600 / FRAME_MS)
"""By how many frames a segment goes on beyond a border that lies in the midst of speech."""

QUIET_MS = 1_500
"""A pause this long always ends a segment: the recogniser invents text over long silence."""


@dataclass(frozen=True, slots=True)
class Segment:
    """A piece of sound for the recogniser: the frames of activity [first, last)."""

    first: int
    last: int

    @property
    def frames(self) -> int:
        """Its length in frames of 32 ms."""
        return self.last - self.first


TURN_MS = 400
"""The same where several languages are spoken: few go on in another without so much of a pause."""


def cut(
    activity: Activity,
    sensitivity: Sensitivity = Sensitivity.ORDINARY,
    quiet_ms: int = QUIET_MS,
) -> list[Segment]:
    """Return segments that hold all speech in order, none longer than 20 s, without long silence.

    A pause of ``quiet_ms`` ends a segment.

    A run of speech without a long pause is divided where the cost of its borders is least, by
    dynamic programming over the pauses; speech with no pause at all is cut at its quietest frame,
    and the segments on both sides of it overlap.
    """
    speech = _bounded(activity, find_speech(activity, sensitivity))
    runs: list[list[tuple[int, int]]] = []
    for stretch in speech:
        if runs and (stretch[0] - runs[-1][-1][1]) * FRAME_MS < quiet_ms:
            runs[-1].append(stretch)
        else:
            runs.append([stretch])
    segments = [segment for run in runs for segment in _divide(run)]
    touching = [a.last == b.first for a, b in pairwise(segments)]
    return [
        Segment(segment.first - OVERLAP * before, segment.last + OVERLAP * after)
        for segment, before, after in zip(
            segments, [False, *touching], [*touching, False], strict=False
        )
    ]


def grouped(segments: Sequence[Segment], kinds: Sequence[str]) -> tuple[list[Segment], list[str]]:
    """Join successive segments of one kind as ``cut`` would have them; return them and their
    kinds."""
    found: list[Segment] = []
    found_kinds: list[str] = []
    run: list[tuple[int, int]] = []
    for place, (segment, kind) in enumerate(zip(segments, kinds, strict=True)):
        run.append((segment.first, segment.last))
        following = segments[place + 1] if place + 1 < len(segments) else None
        if (
            following is None
            or kinds[place + 1] != kind
            or (following.first - segment.last) * FRAME_MS >= QUIET_MS
        ):
            own = _divide(run)
            found += own
            found_kinds += [kind] * len(own)
            run = []
    return found, found_kinds


def settled(segments: Sequence[Segment]) -> int:
    """Return how many segments from the first on stay if more sound follows.

    The last one may go on, and segments that overlap are heard together.
    """
    count = max(len(segments) - 1, 0)
    while count and segments[count].first < segments[count - 1].last:
        count -= 1
    return count


def _bounded(activity: Activity, speech: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return the speech in stretches of at most 20 s, cut at a quiet frame in the second half."""
    longest = int(LONGEST_MS / FRAME_MS) - 2 * OVERLAP
    result: list[tuple[int, int]] = []
    for first, last in speech:
        while last - first > longest:
            low, high = first + longest // 2, first + longest
            border = low + int(np.argmin(activity.level[low:high]))
            result.append((first, border))
            first = border
        result.append((first, last))
    return result


def _divide(run: list[tuple[int, int]]) -> list[Segment]:
    """Group a run's stretches into segments with the least total cost."""
    count = len(run)
    best = [0.0] + [float("inf")] * count
    origin = [0] * (count + 1)
    for end in range(1, count + 1):
        for start in range(end - 1, -1, -1):
            length = (run[end - 1][1] - run[start][0]) * FRAME_MS
            if length > LONGEST_MS and start < end - 1:
                break
            pause = (run[end][0] - run[end - 1][1]) * FRAME_MS if end < count else QUIET_MS
            cost = best[start] + _border_cost(pause) + _length_cost(length)
            if cost < best[end]:
                best[end], origin[end] = cost, start
    groups: list[Segment] = []
    end = count
    while end > 0:
        start = origin[end]
        groups.append(Segment(run[start][0], run[end - 1][1]))
        end = start
    return groups[::-1]


def _border_cost(pause_ms: float) -> float:
    """Return the cost of a border in a pause of this length; a long pause is a safe place to
    cut."""
    return 1.0 / (1.0 + (max(pause_ms, 0.0) / 250.0) ** 2) + 0.2


def _length_cost(length_ms: float) -> float:
    """Return the cost of a length; less than 8 s gives the recogniser little context."""
    return max(0.0, (SHORTEST_MS - length_ms) / SHORTEST_MS)
