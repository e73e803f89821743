"""Cut a short stretch of decoded sound, exact to the sample, for playing at any speed."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av
else:
    av = Later("av")

FADE_MS = 3
"""A cut in the middle of a sound clicks; this much at both ends comes and goes softly."""


def snippet(samples: Samples, start: int, end: int, speed: float, rate: int) -> Samples:
    """Return the sound from ``start`` to ``end`` (ms) as mono float32 at ``rate``, at a ``speed``
    from 0.5 to 2 with its pitch kept.

    It begins with the very sample of ``start`` and stops before that of ``end``; what lies outside
    of the sound is left out.
    """
    first, last = (min(max(ms, 0) * SAMPLE_RATE // 1000, len(samples)) for ms in (start, end))
    part = np.array(samples[first:last], np.float32)
    fade = min(FADE_MS * SAMPLE_RATE // 1000, len(part) // 2)
    ramp = np.linspace(0, 1, fade, endpoint=False, dtype=np.float32)
    part[:fade] *= ramp
    part[len(part) - fade :] *= ramp[::-1]
    if not len(part) or (speed == 1.0 and rate == SAMPLE_RATE):
        return part
    return _through(part, speed, rate)


def _through(part: Samples, speed: float, rate: int) -> Samples:
    """Run samples through FFmpeg's filters: ``atempo`` changes the speed by overlapping similar
    waves, ``aresample`` the rate."""
    graph = av.filter.Graph()
    source = graph.add_abuffer(sample_rate=SAMPLE_RATE, format="flt", layout="mono", time_base=None)
    steps = [source]
    if speed != 1.0:
        steps.append(graph.add("atempo", f"{speed:.3f}"))
    steps.append(graph.add("aresample", str(rate)))
    steps.append(graph.add("aformat", "sample_fmts=flt:channel_layouts=mono"))
    steps.append(graph.add("abuffersink"))
    graph.link_nodes(*steps).configure()
    frame = av.AudioFrame.from_ndarray(part[None], format="flt", layout="mono")
    frame.sample_rate = SAMPLE_RATE
    graph.push(frame)
    graph.push(None)
    pieces = []
    while True:
        try:
            pieces.append(graph.pull().to_ndarray()[0])
        except (av.error.BlockingIOError, av.error.EOFError):
            break
    return np.concatenate(pieces) if pieces else part[:0]
