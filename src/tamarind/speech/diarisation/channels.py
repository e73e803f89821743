"""Tell speakers apart in stereo recordings with one voice a channel: the louder channel speaks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tamarind.transcript.model import Word

SIDES_APART_DB = 6.0
SELDOM = 0.05
LEVEL_MS = 10

USUAL, NEAR_DB = 0.9, 15.0
"""What is usual is this quantile of a channel's loudness; speech lies at most so far below."""

WHILE_MS, SHORTEST_MS = 400, 600


def one_voice_a_channel(levels: NDArray[np.float16]) -> bool:
    """Whether each channel of a stereo recording has a voice of its own.

    ``levels`` are root mean squares (2, frames of 10 ms). In its loud frames one channel must be
    far above the other, now this and now that.
    """
    if levels.shape[0] != 2 or not levels.shape[1]:
        return False
    loudness = 20 * np.log10(np.maximum(levels.astype(np.float32), 1e-5))
    loudest = loudness.max(axis=0)
    apart = np.diff(loudness, axis=0)[0][loudest > np.quantile(loudest, 0.95) - 20]
    right = float(np.mean(apart > 0))
    return bool(np.median(np.abs(apart)) >= SIDES_APART_DB and SELDOM < right < 1 - SELDOM)


def at_once(levels: NDArray[np.float16], start: int, end: int) -> list[tuple[int, int]]:
    """Return where both speak at once between ``start`` and ``end`` (ms), if each channel has a
    voice of its own.

    Whoever speaks is heard in the other channel too, but well below; where both channels are near
    what they usually are when their own voice speaks, both do.
    """
    loudness = 20 * np.log10(np.maximum(levels.astype(np.float32), 1e-5))
    usual = np.quantile(loudness, USUAL, axis=1, keepdims=True)
    loudest = loudness.max(axis=0)
    apart = np.abs(np.diff(loudness - usual, axis=0)[0])
    usually_apart = float(np.median(apart[loudest > np.quantile(loudest, USUAL) - 20]))
    part = slice(start // LEVEL_MS, end // LEVEL_MS)
    near = (loudness - usual)[:, part].min(axis=0) > -NEAR_DB
    both = near & (apart[part] < usually_apart / 2)
    # Syllables have gaps: most of a while counts.
    count = WHILE_MS // LEVEL_MS
    share = np.convolve(both, np.full(count, 1 / count), "same")
    steps = np.flatnonzero(np.diff(np.concatenate([[0], share > 0.5, [0]]).astype(np.int8)))
    spans = (steps.reshape(-1, 2) * LEVEL_MS + start).tolist()
    return [(first, last) for first, last in spans if last - first >= SHORTEST_MS]


def sides_of(words: Sequence[Word], levels: NDArray[np.float16]) -> list[int | None]:
    """Return each word's channel, 1 for the left and 2 for the right: the louder one."""
    sides: list[int | None] = []
    for word in words:
        own = levels[:, word.start // LEVEL_MS : word.end // LEVEL_MS + 1].astype(np.float32)
        left, right = np.square(own).sum(axis=1)
        sides.append(2 if right > left else 1)
    return sides
