"""Estimate how loud a recording is from a few places in it."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np

from tamarind.audio.media import check_decodable, open_media

PLACES = (0.15, 0.5, 0.8)
"""Where it is listened to, as shares of its length."""

SECONDS = 0.4
BLOCK_MS = 20
CLIPPED = 0.999
CLIPPED_SHARE = 2e-4
"""So large a share of samples at the top of the scale is no chance."""

FLOOR_DB = -90.0


@dataclass(frozen=True, slots=True)
class Loudness:
    """The root mean square of the loudest quarter of blocks of 20 ms, in dB below full scale, and
    whether peaks are cut off."""

    loud_db: float
    clipped: bool


def level_of(path: Path) -> Loudness | None:
    """Return a recording's level quickly, or None if nothing can be decoded in that time."""
    blocks: list[np.ndarray[tuple[int, ...], np.dtype[np.float32]]] = []
    try:
        with open_media(path) as container:
            stream = container.streams.audio[0]
            check_decodable(stream)
            length, rate = container.duration or 0, stream.codec_context.sample_rate
            for share in PLACES if length > 4 * SECONDS * av.time_base else (0.0,):
                container.seek((container.start_time or 0) + int(length * share))
                blocks += _sound(container, stream)
    except (av.error.FFmpegError, OSError, ValueError):
        return None
    if not blocks:
        return None
    sound = np.concatenate(blocks)
    block = max(rate * BLOCK_MS // 1000, 1)
    whole = len(sound) // block * block
    powers = np.sort(np.mean(np.square(sound[:whole].reshape(-1, block)), axis=1))
    loud = float(np.mean(powers[-max(len(powers) // 4, 1) :])) if whole else 0.0
    decibels = max(10 * np.log10(max(loud, 1e-12)), FLOOR_DB)
    clipped = float(np.mean(np.abs(sound) >= CLIPPED)) > CLIPPED_SHARE
    return Loudness(round(float(decibels), 1), clipped)


def _sound(
    container: av.container.InputContainer, stream: av.AudioStream
) -> list[np.ndarray[tuple[int, ...], np.dtype[np.float32]]]:
    """Decode about a second from the current position, as mono."""
    resampler = av.AudioResampler(format="fltp", layout="mono")
    blocks = []
    wanted = SECONDS * stream.codec_context.sample_rate
    for frame in container.decode(stream):
        for piece in resampler.resample(frame):
            blocks.append(np.asarray(piece.to_ndarray()[0], np.float32))
            wanted -= len(blocks[-1])
        if wanted <= 0:
            break
    return blocks
