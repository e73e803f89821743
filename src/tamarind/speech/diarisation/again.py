"""Tell the speakers of a text apart again: a given number, or by examples of their voices."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.diarisation.clustering import voices_among
from tamarind.speech.diarisation.evidence import STEP_MS, evidence_of, voices_of
from tamarind.speech.diarisation.likeness import voiceprint_of
from tamarind.speech.diarisation.told import Told
from tamarind.speech.diarisation.windows import EmbeddedSpans
from tamarind.speech.hearingoptions import MOST_VOICES
from tamarind.transcript.model import Word

Floats = NDArray[np.float32]

ROUNDS = 5
EXAMPLE_WEIGHT = 2.0
"""What a person says of a passage counts so much beside what a speaker has anyway."""


def so_many(words: Sequence[Word], points: EmbeddedSpans, count: int | None = None) -> Told:
    """Tell ``count`` speakers apart, or as many as there seem to be, numbered from 1 in the order
    in which they first speak.

    Words are to come in their order, ``points`` are those of all of them. There are fewer where
    hardly anything is said.
    """
    middles = voices_among(points, count or MOST_VOICES, count)
    places = _places(words, points, middles)
    order = [place for place in dict.fromkeys(places) if place is not None]
    numbers = {place: number for number, place in enumerate(order, 1)}
    prints = tuple(voiceprint_of(number, middles[place]) for place, number in numbers.items())
    return Told(tuple(None if one is None else numbers[one] for one in places), prints)


def by_example(
    words: Sequence[Word],
    points: EmbeddedSpans,
    speakers: Sequence[int | None],
    certain: Sequence[bool],
) -> Told:
    """Give the words to the existing speakers by their voices.

    ``certain`` are the words of which a person said who speaks; they keep their speaker. A
    speaker sounds like all that is theirs, above all what is certain: spherical k-means that
    begins with it (Basu et al. 2002, "Semi-supervised clustering by seeding").
    """
    known = sorted({one for one in speakers if one is not None})
    if not known or not len(points):
        return Told(tuple(speakers), ())
    owners, sure = _owners(words, points, [known.index(s) if s is not None else -1
                                           for s in speakers], certain)  # fmt: skip
    middles = np.zeros((len(known), points.vectors.shape[1]), np.float32)
    labels = owners
    for _round in range(ROUNDS):
        middles = _middles(points.vectors, labels, sure, middles)
        nearest = (points.vectors @ middles.T).argmax(axis=1)
        labels = np.where(sure, owners, nearest)
    places = _places(words, points, middles)
    told = [
        own if fixed or place is None else known[place]
        for own, fixed, place in zip(speakers, certain, places, strict=True)
    ]
    prints = tuple(
        voiceprint_of(speaker, middle)
        for speaker, middle in zip(known, middles, strict=True)
        if middle.any()
    )
    return Told(tuple(told), prints)


def _places(words: Sequence[Word], points: EmbeddedSpans, middles: Floats) -> list[int | None]:
    end = max([*(word.end for word in words), *points.spans[:, 1].tolist()], default=0)
    return voices_of(words, evidence_of(points, middles, 0, end + STEP_MS))


def _owners(
    words: Sequence[Word], points: EmbeddedSpans, owners: Sequence[int], certain: Sequence[bool]
) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
    """Return whose each point is by the words in it (-1: nobody's), and whether that is certain."""
    starts = np.array([word.start for word in words])
    ends = np.array([word.end for word in words])
    of_point = np.full(len(points), -1)
    sure = np.zeros(len(points), np.bool_)
    for place, (start, end) in enumerate(points.spans):
        first, last = np.searchsorted(ends, start, "right"), np.searchsorted(starts, end)
        lengths: dict[tuple[int, bool], int] = {}
        for at in range(first, last):
            if owners[at] >= 0:
                shared = int(min(ends[at], end) - max(starts[at], start))
                key = owners[at], certain[at]
                lengths[key] = lengths.get(key, 0) + shared
        if lengths:
            owner, is_certain = max(lengths, key=lambda key: lengths[key])
            of_point[place] = owner
            sure[place] = is_certain and 2 * lengths[owner, True] > end - start
    return of_point, sure


def _middles(
    vectors: Floats, labels: NDArray[np.int64], sure: NDArray[np.bool_], before: Floats
) -> Floats:
    """Return the mean of each speaker's points, in which certain ones weigh ``EXAMPLE_WEIGHT``
    times as much as all others; a speaker without points keeps the old mean."""
    middles = before.copy()
    for speaker in range(len(before)):
        own = labels == speaker
        parts = [
            weight * vectors[chosen].mean(axis=0)
            for chosen, weight in ((own & sure, EXAMPLE_WEIGHT), (own & ~sure, 1.0))
            if chosen.any()
        ]
        if parts:
            middle = np.sum(parts, axis=0)
            middles[speaker] = middle / max(float(np.linalg.norm(middle)), 1e-9)
    return middles
