"""Several versions of one sound, decoded to one text: their log probabilities are averaged.

An ensemble over changed inputs ("test-time augmentation"); what one version blurs, another may
show. To the search it looks like a decoder of one version.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tamarind.speech.search import Stepper

Floats = NDArray[np.float32]
Ints = NDArray[np.int64]


class Ensemble:
    """Wraps a decoder whose sounds come as ``versions`` in a row for each, with ``beams`` texts."""

    def __init__(self, stepper: Stepper, versions: int, beams: int) -> None:
        self._stepper = stepper
        self._versions = versions
        self._beams = beams

    def step(self, tokens: Ints) -> Floats:
        """The mean log probabilities (rows, vocabulary) after one more token a row."""
        if self._versions == 1:
            return self._stepper.step(tokens)
        spread = np.tile(tokens.reshape(-1, 1, self._beams), (1, self._versions, 1))
        logs = self._stepper.step(spread.reshape(-1))
        together = logs.reshape(-1, self._versions, self._beams, logs.shape[-1]).mean(axis=1)
        result: Floats = together.reshape(len(tokens), -1)
        return result

    def follow(self, parents: Ints) -> None:
        """Row ``i`` goes on from the text of row ``parents[i]``, which has the same sound."""
        beams = parents.reshape(-1, 1, self._beams) % self._beams
        first = np.arange(len(beams) * self._versions).reshape(-1, self._versions, 1) * self._beams
        self._stepper.follow((first + beams).reshape(-1))

    def keep_sounds(self, sounds: Ints) -> None:
        """Go on with these sounds only."""
        self._stepper.keep_sounds(
            (sounds[:, None] * self._versions + np.arange(self._versions)).reshape(-1)
        )
