"""Decode single frames of a video at given times, upright and not too large."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import av

from tamarind.audio.clock import origin_of
from tamarind.audio.media import MediaError, open_media, picture_of
from tamarind.picture.compose import FORMAT
from tamarind.picture.shapes import AS_IS
from tamarind.picture.source import Picture, Preparing

HEIGHT = 720
"""Thin outlines of small pictures would say little of how letters stand out."""

_NEAR_S = 4.0
"""Up to so much ahead it is as quick to decode as to go there."""


def stills(path: Path, times: Sequence[int]) -> Iterator[av.VideoFrame]:
    """Yield the frame at each of some times (ms, rising), the last one for times beyond the end.
    Raises MediaError."""
    offset = float(origin_of(path))
    with open_media(path) as read:
        stream = picture_of(read)
        if stream is None or stream.time_base is None:
            raise MediaError("The recording has no picture.")
        stream.thread_type = "AUTO"
        frames = read.decode(stream)
        last = next(frames, None)
        if last is None:
            raise MediaError("The picture cannot be read.")
        preparing = Preparing(Picture.of(stream, last), AS_IS, stream)
        for time in times:
            wanted = time / 1000 + offset
            if wanted - _time(last) > _NEAR_S:
                read.seek(int(wanted / stream.time_base), stream=stream)
                frames = read.decode(stream)
                last = next(frames, last)
            while _time(last) + 1e-3 < wanted:
                following = next(frames, None)
                if following is None or _time(following) > wanted:
                    last = following or last
                    break
                last = following
            yield _small(next(preparing.frames(last), last))


def _time(frame: av.VideoFrame) -> float:
    return float(frame.time or 0.0)


def _small(frame: av.VideoFrame) -> av.VideoFrame:
    width = max(round(frame.width * HEIGHT / frame.height / 2) * 2, 2)
    return frame.reformat(width, HEIGHT, FORMAT)
