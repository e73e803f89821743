"""Choose when cues are shown: with the voice, apart, long enough to be read, on frames and with
shots.

Where a cue may start and must have ended follows from the border between two words alone:
``border_times`` says it for all borders at once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tamarind.captions.frames import all_floored, ceiled, floored
from tamarind.captions.limits import Limits
from tamarind.transcript.model import Cue, Word
from tamarind.transcript.reconcile import held

NEAR_A_SHOT_MS = 320
"""A cue that would start or end so near to a new shot does so with it, if no word is cut."""

Times = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Borders:
    """For each place between words (and both ends), the limits (ms) of cues that begin or end
    there.

    ``start`` and ``latest_end``, shape (words + 1,): when a cue that begins with this word starts,
    and by when one whose last word is the one before must have ended. ``spoken_until``, the same
    shape: when the voice ends before this place. ``tight``, the same shape: where the gap cannot be
    kept. ``pauses``, shape (words - 1,), may be negative.
    """

    start: Times
    latest_end: Times
    spoken_until: Times
    pauses: Times
    shots: Times
    tight: NDArray[np.bool_]

    def shots_within(self, first: NDArray[np.intp], last: NDArray[np.intp]) -> Times:
        """Count the shots that begin while cues of words [first, last) are spoken."""
        if not len(self.shots):
            return np.zeros(len(first))
        begun = np.searchsorted(self.shots, self.start[first] + NEAR_A_SHOT_MS)
        ended = np.searchsorted(self.shots, self.spoken_until[last] - NEAR_A_SHOT_MS)
        within: Times = np.maximum(ended - begun, 0).astype(float)
        return within


def border_times(
    words: Sequence[Word],
    limits: Limits,
    after: int | None = None,
    until: int | None = None,
    shots: Sequence[int] = (),
) -> Borders:
    """Return where cues may start and end, before any cutting is chosen.

    A cue starts up to the lead-in before its voice, as far as the pause leaves the gap; the one
    before it has ended by then, even if that takes some of its last word, at most half of it.
    """
    begins = np.array([word.start for word in words], float)
    ends = np.array([word.end for word in words], float)
    pauses = begins[1:] - ends[:-1]
    before = np.inf if after is None else begins[0] - after
    lead = np.clip(np.concatenate([[before], pauses]) - limits.gap, 0, limits.lead_in)
    start = np.maximum(begins - lead, 0)
    change = np.array(sorted(shots), float)
    start = _with_shots(start, begins, change, np.concatenate([[-np.inf], ends[:-1]]) + limits.gap)
    floor = all_floored(start, limits.frame_rate)
    if after is not None and floor[0] < after + limits.gap <= begins[0]:
        floor[0] = ceiled(after + limits.gap, limits.frame_rate)
    # Where a frame lies too near to the start of a word, a cue starts or ends off the frames.
    half = np.ceil((begins + ends) / 2)
    apart = floor >= np.concatenate([[0], half[:-1]])
    start = np.minimum(np.where(apart, floor, start), begins)
    behind = np.inf if until is None else float(until)
    latest = np.concatenate([start[1:], [behind]]) - limits.gap
    floored = all_floored(np.maximum(latest, half), limits.frame_rate)
    latest = np.where(floored > begins, floored, half)
    return Borders(
        np.concatenate([start, [np.inf]]),
        np.concatenate([[-np.inf], latest]),
        np.concatenate([[-np.inf], np.minimum(ends, latest)]),
        pauses=pauses,
        shots=change,
        tight=np.concatenate(
            [[False], latest > np.concatenate([start[1:], [behind]]) - limits.gap]
        ),
    )


def shown(borders: Borders, first: int, last: int, text: str, limits: Limits) -> tuple[int, int]:
    """Return start and end (ms) of the cue of the words [``first``, ``last``).

    It ends the lead-out after the voice, or later if it could not be read by then, as far as the
    next cue and the longest time allow.
    """
    start = int(borders.start[first])
    voice = float(borders.spoken_until[last])
    latest = float(borders.latest_end[last])
    wanted = max(
        voice + limits.lead_out,
        start + limits.shortest,
        start + min(limits.reading_time(text), limits.longest),
    )
    wanted = max(min(wanted, start + limits.longest), voice)
    after = borders.shots[np.searchsorted(borders.shots, voice, side="left") :][:1]
    if len(after) and after[0] - limits.gap >= voice and abs(after[0] - wanted) <= NEAR_A_SHOT_MS:
        wanted = max(after[0] - limits.gap, min(wanted, start + limits.shortest))
    end = ceiled(min(wanted, latest), limits.frame_rate)
    end = int(min(end, latest))
    if end - start > limits.longest >= voice - start:
        end = floored(start + limits.longest, limits.frame_rate)
    return start, max(end, start + last - first)


def retimed(cues: Sequence[Cue], limits: Limits, after: int | None, until: int | None) -> list[Cue]:
    """Return cues with words, in order, at the times that their words call for."""
    words = [word for cue in cues for word in cue.words]
    borders = border_times(words, limits, after, until)
    result = []
    first = 0
    for cue in cues:
        last = first + len(cue.words)
        start, end = shown(borders, first, last, cue.text, limits)
        result.append(replace(cue, start=start, end=end, words=held(cue.words, start, end)))
        first = last
    return result


def _with_shots(start: Times, begins: Times, shots: Times, earliest: Times) -> Times:
    """Move starts to a shot that begins shortly before, or between the shot and the voice."""
    if not len(shots):
        return start
    last = np.searchsorted(shots, begins, side="right") - 1
    shot = np.where(last >= 0, shots[np.maximum(last, 0)], -np.inf)
    near = (np.abs(shot - start) <= NEAR_A_SHOT_MS) & (shot >= earliest)
    return np.where(near, shot, start)
