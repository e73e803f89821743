"""Remove hum and hiss from a sound and even its level, with FFmpeg's filters.

Two high-pass filters against rumble and the lowest hum, FFmpeg's ``afftdn`` (spectral subtraction
after Ephraim and Malah 1984, following the noise as it changes), and ``dynaudnorm``, which brings
quiet passages up. It also makes a recording more pleasant to listen to.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.media import SAMPLE_RATE
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av
else:
    av = Later("av")

FILTERS = (
    ("highpass", "f=80"),
    ("highpass", "f=80"),
    ("afftdn", "nr=12:nf=-40:tn=1"),
    ("dynaudnorm", "f=400:g=15:p=0.7:m=20"),
)


class CleanUp:
    """Cleans mono samples at 16 kHz block by block, with a short delay."""

    def __init__(self) -> None:
        self._graph = av.filter.Graph()
        nodes = [
            self._graph.add_abuffer(sample_rate=SAMPLE_RATE, format="flt", layout="mono"),
            *(self._graph.add(name, options) for name, options in FILTERS),
            self._graph.add("aformat", "sample_fmts=flt:channel_layouts=mono"),
            self._graph.add("abuffersink"),
        ]
        for node, following in pairwise(nodes):
            node.link_to(following)
        self._graph.configure()

    def clean(self, block: NDArray[np.float32]) -> Iterator[NDArray[np.float32]]:
        """Add samples; return those that are ready."""
        frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(block[None]), "flt", "mono")
        frame.sample_rate = SAMPLE_RATE
        self._graph.push(frame)
        yield from self._ready()

    def rest(self) -> Iterator[NDArray[np.float32]]:
        """Return the samples still held back at the end."""
        self._graph.push(None)
        yield from self._ready()

    def _ready(self) -> Iterator[NDArray[np.float32]]:
        while True:
            try:
                frame = self._graph.pull()
            except (av.error.BlockingIOError, av.error.EOFError):
                return
            yield np.asarray(frame.to_ndarray(), np.float32).reshape(-1)
