"""Carry the sound along when a picture is written anew: copied where the container allows that."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from fractions import Fraction
from typing import cast

import av

from tamarind.audio.clock import InTime, length_of
from tamarind.audio.media import codec_of
from tamarind.picture.containers import Container, Part

SOUND_RATE = 48_000


class CarriedSound:
    """Holds packets until the picture's stream exists, which comes first in the file."""

    def __init__(
        self,
        stream: av.AudioStream,
        out: av.container.OutputContainer,
        container: Container,
        part: Part,
        origin: Fraction,
    ) -> None:
        """``part`` counts from ``origin`` (s on the file's clock)."""
        self.stream = stream
        self._origin = origin
        self._out_file, self._part = out, part
        self._copied = codec_of(stream) in container.copied
        self._encoder = container.audio
        self._out: av.AudioStream | None = None
        self._waiting: list[av.Packet[av.AudioStream]] = []
        self._resampler: av.AudioResampler | None = None
        self._over = False
        # What is encoded anew is counted by its samples.
        length = length_of(cast("av.container.InputContainer", stream.container), origin)
        self._in_time = InTime(origin + Fraction(part[0], 1000), length)
        self._done = 0

    def open(self) -> None:
        """Make this stream after the picture's."""
        if self._copied:
            made: object = self._out_file.add_stream_from_template(self.stream)
        else:
            made = self._out_file.add_stream(self._encoder, rate=SOUND_RATE)
            layout = "mono" if self.stream.codec_context.channels == 1 else "stereo"
            assert isinstance(made, av.AudioStream)
            made.codec_context.layout = layout
            self._resampler = av.AudioResampler(
                "fltp" if self._encoder == "aac" else "s16", layout, SOUND_RATE
            )
        assert isinstance(made, av.AudioStream)
        self._out = made
        if "language" in self.stream.metadata:
            made.metadata["language"] = self.stream.metadata["language"]

    def begin(self) -> None:
        """Write what has waited, now that all streams exist."""
        waiting, self._waiting = self._waiting, []
        for packet in waiting:
            self.take(packet)

    def take(self, packet: av.Packet[av.AudioStream]) -> None:
        """Take one more packet of the source."""
        if self._out is None:
            self._waiting.append(packet)
            return
        if packet.pts is None or self._over:
            return
        base = packet.time_base
        start, end = self._part
        moment = float(packet.pts * base - self._origin) * 1000
        if end is not None and moment >= end:
            self._over = True
            return
        lasts = float((packet.duration or 0) * base) * 1000
        if moment + lasts <= start or (self._copied and start > 0 and moment < start - 1):
            # Half a packet cannot be copied, and one that begins before 0 would move all others.
            return
        offset = round((Fraction(start, 1000) + self._origin) / base)
        if self._copied:
            # Nothing of a sound waits for what comes later.
            packet.pts -= offset
            packet.dts = packet.pts
            packet.stream = self._out
            self._out_file.mux(packet)
            return
        with suppress(av.InvalidDataError):
            for decoded in packet.decode():
                for frame in self._in_time.following(decoded):
                    frame.pts = None
                    self._encode(frame)

    @property
    def goes_on(self) -> bool:
        """Whether more of its section may come."""
        return self._out is not None and not self._over and self._part[1] is not None

    def close(self) -> None:
        """Finish, since nothing more comes."""
        if self._out is not None and self._resampler is not None:
            self._encode(None)
            for made in self._out.encode(None):
                self._out_file.mux(made)

    def _encode(self, frame: av.AudioFrame | None) -> None:
        assert self._resampler is not None and self._out is not None
        for ready in self._resampler.resample(frame):
            ready.pts, ready.time_base = self._done, Fraction(1, SOUND_RATE)
            self._done += ready.samples
            for made in self._out.encode(ready):
                self._out_file.mux(made)


def finish(sounds: Sequence[CarriedSound], read: av.container.InputContainer) -> None:
    """Carry the sounds to the end of the section after the picture has ended."""
    by_stream = {sound.stream.index: sound for sound in sounds if sound.goes_on}
    if by_stream:
        for packet in read.demux([sound.stream for sound in by_stream.values()]):
            by_stream[packet.stream.index].take(cast("av.Packet[av.AudioStream]", packet))
            if not any(sound.goes_on for sound in by_stream.values()):
                break
    for sound in sounds:
        sound.close()
