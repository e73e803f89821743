"""Sound played slower or faster, pitch and all, as a record is."""

from __future__ import annotations

import av
import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE


def slowed(sound: Samples, ratio: tuple[int, int]) -> Samples:
    """Mono sound that lasts ``ratio[0] / ratio[1]`` as long; its samples are taken for fewer a
    second, so that ``SAMPLE_RATE * ratio[1] / ratio[0]`` must be whole."""
    if ratio[0] == ratio[1]:
        return sound
    frame = av.AudioFrame.from_ndarray(
        np.ascontiguousarray(sound, np.float32)[None], format="flt", layout="mono"
    )
    frame.sample_rate = SAMPLE_RATE * ratio[1] // ratio[0]
    resampler = av.AudioResampler(format="flt", layout="mono", rate=SAMPLE_RATE)
    pieces = [*resampler.resample(frame), *resampler.resample(None)]
    return np.concatenate([piece.to_ndarray()[0] for piece in pieces])
