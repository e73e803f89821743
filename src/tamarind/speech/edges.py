"""Snap words beside a pause to where the sound begins and ends.

An acoustic model places a word to about a phone's length, and what begins softly is given to the
pause; the level of the sound shows the edge to 10 ms. Energy with a threshold between noise and
speech finds end points well when there is a pause to measure the noise in (Rabiner and Sambur
1975, "An algorithm for determining the endpoints of isolated utterances").
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.speech.alignment import SHORTEST_WORD_MS, TimedWord

STEP_MS = 10
PAUSE_MS = 120
FURTHEST_MS = 220
"""An edge is moved by at most this."""

LEAST_CONTRAST_DB = 15.0
"""Speech that stands out less from its background keeps the times of the alignment."""

GREATEST_CONTRAST_DB = 45.0
"""Silence without any noise says nothing of the noise in what it stands between: what is further
down than this is no speech."""

ABOVE_FLOOR = 0.3
"""Where between the background and the loud parts the threshold lies, in dB."""

DIP = 3
"""Quiet steps in a row that still belong to a word: a stop consonant is silent for a moment."""


def snapped(times: Sequence[TimedWord], sound: Samples) -> list[TimedWord]:
    """Return the words of a segment with edges at pauses moved to the sound's; order and gaps
    stay."""
    loud = _loud(sound)
    if loud is None:
        return list(times)
    result = list(times)
    for place, time in enumerate(times):
        before = result[place - 1].end if place else 0
        after = times[place + 1].start if place + 1 < len(times) else len(loud) * STEP_MS
        start, end = time.start, time.end
        if start - before >= PAUSE_MS or not place:
            start = _edge(loud, start, max(before, start - FURTHEST_MS), end, forwards=True)
        if after - end >= PAUSE_MS or place + 1 == len(times):
            end = _edge(loud, end, start, min(after, end + FURTHEST_MS), forwards=False)
        if end - start >= SHORTEST_WORD_MS:
            result[place] = replace(time, start=start, end=end)
    return result


def _edge(loud: NDArray[np.bool_], time: int, earliest: int, latest: int, forwards: bool) -> int:
    """Return the edge of sound nearest to ``time`` within bounds: its onset, or (backwards) its
    end."""
    step = 1 if forwards else -1
    place = time // STEP_MS if forwards else time // STEP_MS - 1
    low, high = -(-earliest // STEP_MS), min(latest // STEP_MS, len(loud)) - 1
    if not low <= place <= high:
        return time
    if not loud[place]:
        for moved in range(1, FURTHEST_MS // STEP_MS + 1):
            inner = place + step * moved
            if not low <= inner <= high:
                return time
            if loud[inner]:
                return (inner if forwards else inner + 1) * STEP_MS
        return time
    edge, quiet, outer = place, 0, place - step
    while low <= outer <= high and quiet < DIP:
        if loud[outer]:
            edge, quiet = outer, 0
        else:
            quiet += 1
        outer -= step
    if quiet < DIP:  # The sound goes on as far as an edge may be moved.
        return time
    return (edge if forwards else edge + 1) * STEP_MS


def _loud(sound: Samples) -> NDArray[np.bool_] | None:
    """Return for every 10 ms whether it is louder than the background; None if nothing stands
    out."""
    size = SAMPLE_RATE * STEP_MS // 1000
    count = len(sound) // size
    if count < 2 * DIP:
        return None
    frames = np.asarray(sound[: count * size], np.float32).reshape(count, size)
    level = 10 * np.log10(np.mean(np.square(frames), axis=1) + 1e-10)
    floor, top = np.quantile(level, 0.05), np.quantile(level, 0.95)
    if top - floor < LEAST_CONTRAST_DB:
        return None
    floor = max(floor, top - GREATEST_CONTRAST_DB)
    return np.asarray(level > floor + ABOVE_FLOOR * (top - floor), np.bool_)
