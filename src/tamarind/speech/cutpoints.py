"""Choose where to cut sound before and after words: in the pause around them, at its quietest.

A word's first and last sounds rise and fade beyond the times that it has, so a cut goes to the
quietest frame of the pause beside it, not far from the word (short-time energy as in L. R. Rabiner
and M. R. Sambur, "An algorithm for determining the endpoints of isolated utterances", 1975).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.transcript.model import Transcript, Word

FRAME_MS, STEP_MS = 20, 5

LEAD_MS, TAIL_MS = 130, 180
"""What is left before and after the words where the pause is long: a word's end fades slowly."""

FARTHEST_MS = 280
REACH_MS = 10
"""How far into a word a cut may go where there is no pause: in running speech the border that was
aligned is truer than what is quiet, which may be a stop within a word."""

PAUSE_MS = 60
"""A shorter gap is none that could be trusted."""

DB_A_MS = 0.5
"""What being away from the wanted place weighs against being quiet; this and the reach are the best
of those that ``benchmarks/excerpts.py`` was tried with."""


def in_point(samples: Samples | None, before: Word | None, first: Word) -> int:
    """Return where to cut sound (mono, 16 kHz; None if it is not at hand) before a word, in ms;
    ``before`` is the previous word."""
    ended = before.end if before is not None else 0
    gap = first.start - ended
    wanted = max(first.start - LEAD_MS, ended + gap // 2)
    if samples is None or (before is None and gap > FARTHEST_MS):
        return max(min(wanted, first.start), 0)
    low = max(ended - REACH_MS if gap < PAUSE_MS else ended, first.start - FARTHEST_MS, 0)
    high = first.start + REACH_MS if gap < PAUSE_MS else first.start - STEP_MS
    high = min(high, (first.start + first.end) // 2)
    return _quietest(samples, low, high, wanted)


def out_point(samples: Samples | None, last: Word, after: Word | None, length: int) -> int:
    """Return where to cut sound after a word, in ms; ``after`` is the next word, ``length`` the
    recording's (ms)."""
    follows = after.start if after is not None else max(length, last.end)
    gap = follows - last.end
    wanted = min(last.end + TAIL_MS, last.end + max(gap, 0) // 2)
    if samples is None or (after is None and gap > FARTHEST_MS):
        return max(wanted, last.end)
    high = min(follows + REACH_MS if gap < PAUSE_MS else follows, last.end + FARTHEST_MS)
    if after is None:
        high = min(high, follows)
    low = last.end - REACH_MS if gap < PAUSE_MS else last.end + STEP_MS
    low = max(low, (last.start + last.end) // 2)
    return _quietest(samples, low, high, wanted)


def around(
    samples: Samples | None, text: Transcript, first: tuple[int, int], last: tuple[int, int],
    length: int,
) -> tuple[int, int]:  # fmt: skip
    """Return the in and out point of words from ``first`` to ``last``, each by its cue's index and
    its own."""
    begun = text.cues[first[0]].words[first[1]]
    ended = text.cues[last[0]].words[last[1]]
    return (
        in_point(samples, _neighbour(text, first, -1), begun),
        out_point(samples, ended, _neighbour(text, last, 1), length),
    )


def _neighbour(text: Transcript, at: tuple[int, int], step: int) -> Word | None:
    """Return the word before or after another one, across cues."""
    place, word = at[0], at[1] + step
    while 0 <= place < len(text.cues):
        words = text.cues[place].words
        if 0 <= word < len(words):
            return words[word]
        place += step
        word = 0 if step > 0 else len(text.cues[place].words) - 1 if place >= 0 else -1
    return None


def _quietest(samples: Samples, low: int, high: int, wanted: int) -> int:
    """Return the quietest time from ``low`` to ``high`` (ms), preferably near the one wanted."""
    if high - low < STEP_MS:
        return max((low + high) // 2, 0)
    times = np.arange(low, high + 1, STEP_MS)
    costs = _levels(samples, times) + DB_A_MS * np.abs(times - wanted)
    return int(times[int(np.argmin(costs))])


def _levels(samples: Samples, times: NDArray[np.int64]) -> NDArray[np.float64]:
    """Return the level (dB) of a frame around each time; empty without sound."""
    half = FRAME_MS * SAMPLE_RATE // 2000
    middles = times * SAMPLE_RATE // 1000
    found = []
    for middle in middles:
        part = np.asarray(samples[max(middle - half, 0) : middle + half], np.float64)
        found.append(float(np.mean(part**2)) if len(part) else 0.0)
    return 10 * np.log10(np.array(found) + 1e-8)
