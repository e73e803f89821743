"""The one clock of a recording: 0 is where a player shows 0 for its file.

A file's streams may begin at any time and not together: its sound later than its picture, both at
10 hours, samples before the beginning that only prime the decoder. All times of a recording count
from when the first of its streams is seen or heard.
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.media import open_media, picture_of
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av
    from av.stream import Stream
else:
    av = Later("av")

ONE_INSTANT_S = 0.002
"""Containers round times to milliseconds."""

TOLERANCE_S = 0.03
"""Sound that has drifted from the file's times by more is put right."""

LONGEST_OVERLAP_S = 0.5
"""What begins again by at most so much is cut; more is a counter that was set back."""

LONGEST_GAP_S = 3600.0
"""Of a file that does not tell its length, a longer gap is taken for damage."""

GENERIC_INDEX, TS_DISCONT = 0x0100, 0x0200
"""What FFmpeg says of a format (``AVFMT_…``): it is indexed by its bytes, its times may jump."""

SILENCE_AT_ONCE_S = 1.0
PRIMING_MS = 50


def origin_of(path: Path) -> Fraction:
    """Return when a file's presentation begins, in seconds on its own clock; 0 if it does not say.
    Raises MediaError."""
    with open_media(path) as read:
        picture = picture_of(read)
        streams = [*read.streams.audio, *([picture] if picture is not None else [])]
        starts: dict[Stream, Fraction] = {
            stream: Fraction(stream.start_time) * stream.time_base
            for stream in streams
            if stream.start_time is not None and stream.time_base is not None
        }
        if not starts:
            return Fraction(0)
        origin = min(starts.values())
        sound = next((one for one in read.streams.audio if starts.get(one) == origin), None)
        if sound is None or (picture is not None and starts.get(picture) == origin):
            return origin
        # What primes the decoder comes before what is heard, and is told by decoding alone.
        heard = _first_heard(read, sound)
        later = [start for stream, start in starts.items() if stream is not sound]
        return origin if heard is None else min([heard, *later])


def sound_starts(path: Path) -> tuple[int, ...]:
    """Return how much later than the file each sound track begins (ms). Raises MediaError."""
    origin = origin_of(path)
    found: list[int] = []
    with open_media(path) as read:
        for stream in read.streams.audio:
            begun = Fraction(stream.start_time or 0) * (stream.time_base or 0)
            # What only primes the decoder is a few milliseconds, which no text was counted from.
            later = round((begun - origin) * 1000)
            found.append(later if later > PRIMING_MS else 0)
    return tuple(found)


def _first_heard(read: av.container.InputContainer, stream: av.AudioStream) -> Fraction | None:
    with contextlib.suppress(av.FFmpegError):
        for frame in read.decode(stream):
            if frame.pts is not None and frame.time_base is not None:
                return frame.pts * frame.time_base
            return None
    return None


class InTime:
    """Puts decoded frames of a sound on the clock that starts at ``origin`` (s), filling gaps with
    silence.

    Where there is no sound for a while comes silence of that length, and what overlaps what came
    before is cut. Times that cannot be – beyond the file's ``length`` (s), or set back – are not
    followed; nothing that is heard is lost by them.
    """

    def __init__(self, origin: Fraction, length: float | None) -> None:
        self._due, self._shift, self._length = 0.0, -float(origin), length
        self._is_first = True
        self._cut = 0.0

    def following(self, frame: av.AudioFrame) -> Iterator[av.AudioFrame]:
        """Yield the frames to write for one more decoded frame."""
        if not frame.sample_rate or not frame.samples:
            return
        if frame.pts is not None and frame.time_base is not None:
            lead = float(frame.pts * frame.time_base) + self._shift - self._due
            tolerance = ONE_INSTANT_S if self._is_first else TOLERANCE_S
            if lead > tolerance and self._is_believed(lead):
                for silent in _silence(frame, lead):
                    self._due += silent.samples / silent.sample_rate
                    yield silent
            elif -LONGEST_OVERLAP_S <= lead < -tolerance and self._cut <= self._most_cut:
                self._cut -= lead
                rest = _without_head(frame, round(-lead * frame.sample_rate))
                if rest is None:
                    return
                frame = rest
            elif abs(lead) > tolerance:
                self._shift -= lead
        self._is_first = False
        self._due += frame.samples / frame.sample_rate
        yield frame

    @property
    def _most_cut(self) -> float:
        """Return how much may be cut: timestamps that keep going back are wrong, and no word is
        repeated there."""
        return LONGEST_OVERLAP_S + self._due / 100

    def _is_believed(self, lead: float) -> bool:
        if self._length is None:
            return lead <= LONGEST_GAP_S
        return self._due + lead <= self._length + 1


def in_time(
    frames: Iterable[av.AudioFrame], origin: Fraction, length: float | None
) -> Iterator[av.AudioFrame]:
    """Yield all frames as ``InTime`` places them."""
    ordering = InTime(origin, length)
    for frame in frames:
        yield from ordering.following(frame)


def has_times(read: av.container.InputContainer) -> bool:
    """Whether a file has timestamps of its own. In raw sound they are counted from its bytes, and
    wrong where its format changes."""
    flags = read.format.flags
    return not flags & GENERIC_INDEX or bool(flags & TS_DISCONT)


def length_of(read: av.container.InputContainer, origin: Fraction) -> float | None:
    """Return the latest time in a file (s after ``origin``), or None if it does not say.

    Some containers count their length from 0, some from when they begin.
    """
    ends = [
        float((stream.start_time + stream.duration) * stream.time_base - origin)
        for stream in read.streams
        if stream.duration and stream.start_time is not None and stream.time_base is not None
    ]
    if read.duration:
        ends.append(read.duration / av.time_base)
    return max(ends, default=None)


def _silence(like: av.AudioFrame, seconds: float) -> Iterator[av.AudioFrame]:
    """Make silent frames in the format of another."""
    left = round(seconds * like.sample_rate)
    while left > 0:
        count = min(left, round(SILENCE_AT_ONCE_S * like.sample_rate))
        silent = av.AudioFrame(like.format.name, like.layout.name, count)
        silent.sample_rate = like.sample_rate
        # Unsigned samples are silent in their middle.
        value = 0x80 if like.format.name.startswith("u8") else 0
        for plane in silent.planes:
            plane.update(bytes([value]) * plane.buffer_size)
        yield silent
        left -= count


def _without_head(frame: av.AudioFrame, count: int) -> av.AudioFrame | None:
    """Drop the first samples of a frame; None if nothing is left."""
    if count >= frame.samples:
        return None
    data = frame.to_ndarray()
    step = 1 if frame.format.is_planar else frame.layout.nb_channels
    rest: NDArray[np.float32] = np.ascontiguousarray(data[:, count * step :])
    made = av.AudioFrame.from_ndarray(rest, format=frame.format.name, layout=frame.layout.name)
    made.sample_rate = frame.sample_rate
    return made
