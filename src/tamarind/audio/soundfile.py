"""Kinds of sound files that are written, and encoding blocks of sound into them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from tamarind.audio.decode import Samples
from tamarind.audio.splice import Cutting, Form, Splice, form_of
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av
else:
    av = Later("av")

COMMON_RATES = (44_100, 48_000)


@dataclass(frozen=True, slots=True)
class SoundFile:
    """A kind of sound file: container, encoder, sample format."""

    container: str
    encoder: str
    format: str
    deep: tuple[str, str] = ("", "")
    """Encoder and format for samples of more than 16 bits."""
    bit_rate: int = 0


SOUND_FILES = {
    ".wav": SoundFile("wav", "pcm_s16le", "s16", ("pcm_s24le", "s32")),
    ".flac": SoundFile("flac", "flac", "s16", ("flac", "s32")),
    ".mp3": SoundFile("mp3", "libmp3lame", "fltp", bit_rate=192_000),
    ".m4a": SoundFile("ipod", "aac", "fltp", bit_rate=160_000),
    ".opus": SoundFile("ogg", "libopus", "flt", bit_rate=96_000),
}
"""By the suffix of the file."""


def encodable_rate(rate: int, encoder: str) -> int:
    """Return the sample rate that an encoder takes for sound of a rate."""
    if encoder == "libopus" or (encoder in ("libmp3lame", "aac") and rate not in COMMON_RATES):
        return 48_000
    return rate


class SoundEncoder:
    """Encodes blocks of float32 (channels, samples) into a stream of a file."""

    def __init__(
        self, out: av.container.OutputContainer, encoder: str, format_: str, form: Form,
        bit_rate: int = 0,
    ) -> None:  # fmt: skip
        made = out.add_stream(encoder, rate=form.rate)
        assert isinstance(made, av.AudioStream)
        made.codec_context.layout = form.layout
        made.codec_context.format = av.AudioFormat(format_)
        if bit_rate:
            made.bit_rate = bit_rate
        self._out, self._stream, self._form = out, made, form
        self._resampler = av.AudioResampler(format_, form.layout, form.rate)
        self._done = 0

    @property
    def time(self) -> float:
        """How much sound was added (s)."""
        return self._done / self._form.rate

    def add(self, block: Samples) -> None:
        """Add a block."""
        frame = av.AudioFrame.from_ndarray(
            np.ascontiguousarray(block), format="fltp", layout=self._form.layout
        )
        frame.sample_rate, frame.pts = self._form.rate, self._done
        self._done += block.shape[1]
        for ready in self._resampler.resample(frame):
            self._encode(ready)

    def finish(self) -> None:
        """Encode what is left."""
        with suppress(av.EOFError):
            for ready in self._resampler.resample(None):
                self._encode(ready)
        self._encode(None)

    def _encode(self, frame: av.AudioFrame | None) -> None:
        for packet in self._stream.encode(frame):
            self._out.mux(packet)


def write_sound(
    target: Path,
    name: Path,
    cuttings: Sequence[Cutting],
    told: Callable[[float], None] = lambda _share: None,
) -> None:
    """Write the sound of cuttings as one file to ``target``, of the kind that the suffix of
    ``name`` says. Raises MediaError and OSError."""
    kind = SOUND_FILES[name.suffix.lower()]
    best = form_of(cuttings)
    form = Form(encodable_rate(best.rate, kind.encoder), best.channels, best.bits)
    deep = form.bits > 16 and bool(kind.deep[0])
    encoder, format_ = kind.deep if deep else (kind.encoder, kind.format)
    with closing(Splice(cuttings, form)) as splice:
        splice.read(lambda share: told(share * 0.5))
        length = sum(end - start for one in cuttings for start, end in one.spans) / 1000
        with closing(av.open(str(target), "w", format=kind.container)) as out:
            encoding = SoundEncoder(out, encoder, format_, form, kind.bit_rate)
            for block in splice.blocks():
                encoding.add(block)
                told(0.5 + 0.5 * min(encoding.time / max(length, 1e-3), 1.0))
            encoding.finish()
    told(1.0)
