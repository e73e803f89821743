"""Decode any sound or video file to 16 kHz mono float32 on disk, with its peaks.

Its first sample is what is heard when a player shows 0 for the file (``clock``).
"""

from __future__ import annotations

import time
from collections.abc import Generator, Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from tamarind.audio.clock import has_times, in_time, length_of, origin_of
from tamarind.audio.media import SAMPLE_RATE, MediaError, check_decodable, open_media, reason_of
from tamarind.audio.peaks import LevelMaker, PeakMaker, Peaks
from tamarind.audio.source import WHOLE, Channel, Source
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av

    from tamarind.audio import cleanup
else:
    av = Later("av")
    cleanup = Later("tamarind.audio.cleanup")

Samples = NDArray[np.float32]

SAMPLES_AT_ONCE = 16_384
"""Codecs give a few hundred at a time, which would be many small steps."""

TELL_EVERY_S = 0.2
MOST_CHANNELS = 8
"""With more of them, FFmpeg does not know which is where."""

PATIENCE_WITH_ERRORS = 64
"""Damaged packets in a row after which the rest of a file is given up."""


@dataclass(frozen=True, slots=True)
class Decoded:
    """How much was written; ``damage`` says in a sentence what could not be decoded."""

    samples: int
    damage: str | None

    @property
    def duration(self) -> int:
        """The length in milliseconds."""
        return round(self.samples * 1000 / SAMPLE_RATE)


def _check_track(container: av.container.InputContainer, source: Source) -> None:
    """Raise MediaError unless a file has the sound track that is wanted."""
    tracks = len(container.streams.audio)
    if not tracks:
        raise MediaError("The file has no sound track: there is nothing to transcribe.")
    if source.track >= tracks:
        have = "only one sound track" if tracks == 1 else f"only {tracks} sound tracks"
        raise MediaError(f"The file has {have}, not a number {source.track + 1}.")


def decode(
    path: Path,
    samples_path: Path,
    peaks_path: Path,
    levels_path: Path,
    source: Source = WHOLE,
    part: tuple[int, int | None] = (0, None),
) -> Generator[Peaks, None, Decoded]:
    """Decode a sound track to mono raw float32, with its peaks and its channels' levels.

    Of a ``part`` (ms) only what lies in it takes room: decoding ends where it ends, and what comes
    before is a hole in the file, which reads as silence. It is decoded all the same, since where a
    place in a compressed file lies is not known to the sample otherwise.

    Yields the peaks as they come, and returns the counts. A codec error in the middle keeps what
    came before and is told in ``Decoded.damage``. The files are written as they come, so a reader
    of a long recording need not wait for the end. Raises MediaError when there is no such sound
    track or no sound in it.
    """
    first = part[0] * SAMPLE_RATE // 1000
    last = None if part[1] is None else part[1] * SAMPLE_RATE // 1000
    written = 0
    due = time.monotonic() + TELL_EVERY_S
    damage: list[str] = []
    peaks, levels = PeakMaker(), LevelMaker()
    origin = origin_of(path)
    with open_media(path) as container, samples_path.open("wb") as out:
        _check_track(container, source)
        blocks = _mono_blocks(container, origin, source, levels, damage)
        sound = _cleaned(blocks) if source.clean else blocks
        for block in _as_far_as_it_goes(sound, damage):
            if last is not None:
                block = block[: last - written]
            before = min(max(first - written, 0), len(block))
            if before:
                out.seek(4 * before, 1)
                block[:before] = 0
            out.write(block[before:].tobytes())
            peaks.add(block)
            written += len(block)
            if written == last:
                break
            if time.monotonic() >= due:
                yield peaks.taken()
                due = time.monotonic() + TELL_EVERY_S
        out.truncate(4 * written)
    _check_sound(written, damage)
    peaks.save(peaks_path)
    levels.save(levels_path)
    return Decoded(written, _told(damage, written))


def _check_sound(written: int, damage: Sequence[str]) -> None:
    """Raise MediaError if not one sample was read."""
    if written == 0:
        why = f" ({damage[0]})" if damage else ""
        raise MediaError(f"No sound could be decoded from the file{why}.")


def _told(damage: Sequence[str], written: int) -> str | None:
    """Describe the damage of a file of which so many samples were read."""
    if not damage:
        return None
    return f"The file is damaged ({damage[0]}); its sound was read up to {_clock(written)}."


def _mono_blocks(
    container: av.container.InputContainer,
    origin: Fraction,
    source: Source,
    levels: LevelMaker,
    damage: list[str],
) -> Iterator[Samples]:
    stream = container.streams.audio[source.track]
    check_decodable(stream)
    stream.codec_context.thread_type = "AUTO"
    stereo = stream.codec_context.channels == 2
    frames = heard_frames(container, stream, origin, damage)
    for sides in _resampled(frames, "stereo" if stereo else "mono"):
        if stereo:
            levels.add(sides)
        yield _one_side(sides, source.channel)


def _as_far_as_it_goes(blocks: Iterable[Samples], damage: list[str]) -> Iterator[Samples]:
    """Yield the blocks until a filter of FFmpeg fails, which is noted as damage."""
    try:
        yield from blocks
    except (av.error.FFmpegError, ValueError) as error:
        damage.append(reason_of(error))


def _resampled(frames: Iterable[av.AudioFrame], layout: str) -> Iterator[Samples]:
    """Yield sound (channels, samples) at 16 kHz, also where its format changes on the way."""
    resampler: av.AudioResampler | None = None
    form: tuple[str, str, int] | None = None
    for frame in _of_few_channels(frames):
        frame.pts = None
        this = (frame.format.name, frame.layout.name, frame.sample_rate)
        if resampler is None or form != this:
            yield from _pieces(resampler, None)
            form = this
            resampler = av.AudioResampler(
                format="fltp", layout=layout, rate=SAMPLE_RATE, frame_size=SAMPLES_AT_ONCE
            )
        yield from _pieces(resampler, frame)
    yield from _pieces(resampler, None)


def _pieces(resampler: av.AudioResampler | None, frame: av.AudioFrame | None) -> Iterator[Samples]:
    """Yield what a resampler makes of a frame, or what it held back at the end (None)."""
    if resampler is not None:
        for piece in resampler.resample(frame):
            yield np.asarray(piece.to_ndarray(), np.float32)


def _of_few_channels(frames: Iterable[av.AudioFrame]) -> Iterator[av.AudioFrame]:
    """Yield frames; those with more channels than FFmpeg has a layout for become their mean."""
    packer: av.AudioResampler | None = None
    form: tuple[str, str, int] | None = None
    for frame in frames:
        if frame.layout.nb_channels <= MOST_CHANNELS:
            yield frame
            continue
        this = (frame.format.name, frame.layout.name, frame.sample_rate)
        if packer is None or form != this:
            form = this
            # The library counts planes wrongly where there are more than eight, and reads what is
            # not theirs: all channels are put into one.
            packer = av.AudioResampler("flt", frame.layout.name, frame.sample_rate)
        frame.pts = None
        yield from map(_mixed, packer.resample(frame))


def _mixed(frame: av.AudioFrame) -> av.AudioFrame:
    """Return the mean of the channels of a frame, as floats in one plane."""
    values = frame.to_ndarray().reshape(-1, frame.layout.nb_channels)
    mixed = np.ascontiguousarray(values.mean(axis=1, dtype=np.float32)[None])
    result = av.AudioFrame.from_ndarray(mixed, format="fltp", layout="mono")
    result.sample_rate = frame.sample_rate
    return result


def _one_side(sides: Samples, channel: Channel) -> Samples:
    """Mix (channels, samples) to mono, or pick one side."""
    if channel is Channel.MIX or len(sides) == 1:
        return np.asarray(sides.mean(axis=0), np.float32)
    side: Samples = sides[0 if channel is Channel.LEFT else 1]
    return side


def _cleaned(blocks: Iterable[Samples]) -> Iterator[Samples]:
    tool = cleanup.CleanUp()
    for block in blocks:
        yield from tool.clean(block)
    yield from tool.rest()


def heard_frames(
    container: av.container.InputContainer,
    stream: av.AudioStream,
    origin: Fraction,
    damage: list[str] | None = None,
) -> Iterator[av.AudioFrame]:
    """Yield the frames of a sound from where a player shows 0, which is at ``origin`` (s), as far
    as they can be decoded; errors are added to ``damage``."""
    frames = _frames_of(container, stream, [] if damage is None else damage)
    if not has_times(container):
        return frames
    return in_time(frames, origin, length_of(container, origin))


def _frames_of(
    container: av.container.InputContainer, stream: av.AudioStream, damage: list[str]
) -> Iterator[av.AudioFrame]:
    errors_in_a_row = 0
    packets = container.demux(stream)
    while True:
        try:
            packet = next(packets)
        except StopIteration:
            return
        except av.error.FFmpegError as error:
            damage.append(reason_of(error))
            return
        try:
            frames = packet.decode()
            errors_in_a_row = 0
        except av.error.EOFError:
            return
        except av.error.FFmpegError as error:
            damage.append(reason_of(error))
            errors_in_a_row += 1
            if errors_in_a_row >= PATIENCE_WITH_ERRORS:
                return
            continue
        yield from frames


def _clock(samples: int) -> str:
    seconds = samples // SAMPLE_RATE
    return f"{seconds // 3600:02}:{seconds // 60 % 60:02}:{seconds % 60:02}"
