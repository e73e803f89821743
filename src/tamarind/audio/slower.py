"""Play sound slower or faster, which changes its pitch too, as on a record player."""

from __future__ import annotations

import av
import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE


def slowed(sound: Samples, ratio: tuple[int, int]) -> Samples:
    """Resample mono sound to ``ratio[0] / ratio[1]`` of its length; ``SAMPLE_RATE * ratio[1] /
    ratio[0]`` must be whole."""
    if ratio[0] == ratio[1]:
        return sound
    frame = av.AudioFrame.from_ndarray(
        np.ascontiguousarray(sound, np.float32)[None], format="flt", layout="mono"
    )
    frame.sample_rate = SAMPLE_RATE * ratio[1] // ratio[0]
    resampler = av.AudioResampler(format="flt", layout="mono", rate=SAMPLE_RATE)
    pieces = [*resampler.resample(frame), *resampler.resample(None)]
    return np.concatenate([piece.to_ndarray()[0] for piece in pieces])
