"""Write a recording with its audio descriptions read by the system's synthetic voice over the
sound, which is lowered meanwhile; the file's metadata says that the voice is synthetic."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from tamarind.audio.clock import origin_of
from tamarind.audio.decode import Samples
from tamarind.audio.media import SAMPLE_RATE, MediaError, open_media, picture_of
from tamarind.audio.soundfile import SOUND_FILES, SoundEncoder, encodable_rate
from tamarind.audio.splice import Cutting, Form, Splice, form_of
from tamarind.picture.containers import CONTAINERS, DecodingTimes, flags_for, whole_or_nothing
from tamarind.speech.aloud import aloud
from tamarind.transcript.descriptions import Description

MARK = "with descriptions by a synthetic voice"
LOWERED = 0.3
"""What is left of the recording's sound while it is described."""

RAMP_S = 0.15
VOICE = 0.9
"""The loudest sample of the voice."""


@dataclass(frozen=True, slots=True)
class DescribedOrder:
    """``language`` is that of the descriptions; ``length`` that of the recording (ms)."""

    media: Path
    target: Path
    descriptions: Sequence[Description]
    language: str
    length: int
    track: int = 0

    @property
    def targets(self) -> list[Path]:
        """The file that will be written."""
        return [self.target]

    def fill(self, told: Callable[[float], None] = lambda _share: None) -> None:
        """Write the file. Raises MediaError with a sentence, and OSError."""
        if self.target.exists() and self.target.samefile(self.media):
            raise MediaError("That is the recording itself: write to another name.")
        voices = [(one.start, aloud(one.text, self.language)) for one in self.descriptions]
        spoken = [(start, voice) for start, voice in voices if voice is not None and len(voice)]
        if not spoken:
            raise MediaError("The system has no voice for this language: install espeak-ng.")
        whole = Cutting(self.media, ((0, self.length),), self.track)
        best = form_of([whole])
        suffix = self.target.suffix.lower()
        kind = SOUND_FILES.get(suffix)
        container = CONTAINERS.get(suffix)
        if kind is None and container is None:
            raise MediaError(f"“{suffix}” is no kind of file that is written.")
        encoder = kind.encoder if kind is not None else container.audio if container else ""
        form = Form(encodable_rate(best.rate, encoder), best.channels)
        with closing(Splice([whole], form)) as splice, whole_or_nothing(self.target) as beside:
            splice.read(lambda share: told(share * 0.5))
            blocks = mixed(splice.blocks(), spoken, form)
            name = kind.container if kind is not None else container.name if container else ""
            options = flags_for(self.target) if kind is None else {}
            with closing(av.open(str(beside), "w", format=name, options=options)) as out:
                out.metadata["comment"] = MARK
                if kind is not None:
                    encoding = SoundEncoder(out, kind.encoder, kind.format, form, kind.bit_rate)
                    for block in blocks:
                        encoding.add(block)
                    encoding.finish()
                else:
                    _with_picture(self.media, out, encoder, form, blocks)
        told(1.0)


def mixed(
    blocks: Iterator[Samples], spoken: Sequence[tuple[int, Samples]], form: Form
) -> Iterator[Samples]:
    """Yield blocks (channels, samples) of a sound, lowered where it is spoken over; ``spoken`` are
    times (ms) with mono voices at 16 kHz."""
    voices = [(form.samples(start), _at_rate(voice, form.rate)) for start, voice in spoken]
    ramp = round(RAMP_S * form.rate)
    begun = 0
    for block in blocks:
        count = block.shape[1]
        gain = np.ones(count, np.float32)
        over = np.zeros(count, np.float32)
        places = np.arange(begun, begun + count)
        for first, voice in voices:
            last = first + len(voice)
            if last + ramp < begun or first - ramp > begun + count:
                continue
            # How far a place lies outside of the voice, as a share of the ramp.
            away = np.maximum(np.maximum(first - places, places - last), 0) / max(ramp, 1)
            gain = np.minimum(gain, LOWERED + (1 - LOWERED) * np.minimum(away, 1)).astype(
                np.float32
            )
            a, b = max(first, begun), min(last, begun + count)
            if b > a:
                over[a - begun : b - begun] += voice[a - first : b - first]
        yield np.asarray(np.clip(block * gain + over, -1, 1), np.float32)
        begun += count


def _at_rate(voice: Samples, rate: int) -> NDArray[np.float32]:
    resampler = av.AudioResampler("fltp", "mono", rate)
    frame = av.AudioFrame.from_ndarray(
        np.ascontiguousarray(voice[None], np.float32), format="fltp", layout="mono"
    )
    frame.sample_rate = SAMPLE_RATE
    pieces = [*resampler.resample(frame), *resampler.resample(None)]
    made = np.concatenate([np.asarray(piece.to_ndarray()[0], np.float32) for piece in pieces])
    return made * np.float32(VOICE / max(float(np.abs(made).max()), 1e-3))


def _with_picture(
    media: Path, out: av.container.OutputContainer, encoder: str, form: Form,
    blocks: Iterator[Samples],
) -> None:  # fmt: skip
    """Copy the picture and write another sound."""
    origin = origin_of(media)
    with open_media(media) as read:
        picture = picture_of(read)
        if picture is None:
            raise MediaError("The recording has no picture: write a sound file.")
        made = out.add_stream_from_template(picture)
        sound = SoundEncoder(out, encoder, "fltp" if encoder == "aac" else "flt", form)
        waiting = next(blocks, None)
        for packet in DecodingTimes(origin).of(read.demux(picture)):
            assert packet.dts is not None
            moment = float(packet.dts * packet.time_base)
            while waiting is not None and sound.time <= moment:
                sound.add(waiting)
                waiting = next(blocks, None)
            packet.stream = made
            out.mux(packet)
        while waiting is not None:
            sound.add(waiting)
            waiting = next(blocks, None)
        sound.finish()
