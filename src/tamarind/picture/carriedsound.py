"""The sound beside a picture that is written anew: copied where the container takes it."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from fractions import Fraction
from typing import cast

import av

from tamarind.picture.containers import Container, Part

SOUND_RATE = 48_000


class CarriedSound:
    """Waits until the picture's stream is there, which comes first in the file."""

    def __init__(
        self,
        stream: av.AudioStream,
        out: av.container.OutputContainer,
        container: Container,
        part: Part,
    ) -> None:
        self.stream = stream
        self._out_file, self._part = out, part
        self._copied = stream.codec_context.name in container.copied
        self._encoder = container.audio
        self._out: av.AudioStream | None = None
        self._waiting: list[av.Packet[av.AudioStream]] = []
        self._resampler: av.AudioResampler | None = None
        self._over = False

    def open(self) -> None:
        """The picture's stream is there, and this one's comes after it."""
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
        assert isinstance(made, av.AudioStream)
        self._out = made
        if "language" in self.stream.metadata:
            made.metadata["language"] = self.stream.metadata["language"]

    def begin(self) -> None:
        """All streams are there; what has waited is written."""
        waiting, self._waiting = self._waiting, []
        for packet in waiting:
            self.take(packet)

    def take(self, packet: av.Packet[av.AudioStream]) -> None:
        """One more packet of the source."""
        if self._out is None:
            self._waiting.append(packet)
            return
        if packet.dts is None or packet.pts is None or self._over:
            return
        base = packet.time_base
        start, end = self._part
        moment = float(packet.pts * base) * 1000
        if end is not None and moment >= end:
            self._over = True
            return
        if moment + float((packet.duration or 0) * base) * 1000 <= start:
            return
        offset = int(Fraction(start, 1000) / base)
        if self._copied:
            packet.pts = max(packet.pts - offset, 0)
            packet.dts = max(packet.dts - offset, 0)
            packet.stream = self._out
            self._out_file.mux(packet)
            return
        with suppress(av.InvalidDataError):
            for frame in packet.decode():
                if frame.pts is not None:
                    frame.pts = max(frame.pts - offset, 0)
                self._encode(frame)

    @property
    def goes_on(self) -> bool:
        """Whether some of its part may still come."""
        return self._out is not None and not self._over and self._part[1] is not None

    def close(self) -> None:
        """Nothing more comes."""
        if self._out is not None and self._resampler is not None:
            self._encode(None)
            for made in self._out.encode(None):
                self._out_file.mux(made)

    def _encode(self, frame: av.AudioFrame | None) -> None:
        assert self._resampler is not None and self._out is not None
        for ready in self._resampler.resample(frame):
            for made in self._out.encode(ready):
                self._out_file.mux(made)


def finish(sounds: Sequence[CarriedSound], read: av.container.InputContainer) -> None:
    """The picture has ended; the sounds of the part go on to its end."""
    by_stream = {sound.stream.index: sound for sound in sounds if sound.goes_on}
    if by_stream:
        for packet in read.demux([sound.stream for sound in by_stream.values()]):
            by_stream[packet.stream.index].take(cast("av.Packet[av.AudioStream]", packet))
            if not any(sound.goes_on for sound in by_stream.values()):
                break
    for sound in sounds:
        sound.close()
