"""Any sound or video file becomes 16 kHz mono float32 on disk, with peaks on the way."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from tamarind.audio.media import SAMPLE_RATE, MediaError, check_readable, open_media, reason_of
from tamarind.audio.peaks import PeakMaker

Samples = NDArray[np.float32]

PATIENCE_WITH_ERRORS = 64
"""Damaged packets in a row after which the rest of a file is given up."""


@dataclass(frozen=True, slots=True)
class Decoded:
    """Counts of what was written; ``damage`` says in a sentence what could not be decoded."""

    samples: int
    damage: str | None

    @property
    def duration(self) -> int:
        """Length in milliseconds."""
        return round(self.samples * 1000 / SAMPLE_RATE)


def decode(
    path: Path,
    samples_path: Path,
    peaks_path: Path,
    on_progress: Callable[[int], None] = lambda milliseconds: None,
) -> Decoded:
    """Decode the first sound track, mixed to mono, into raw float32 and a peaks file.

    A codec error in the middle keeps what came before and is told in ``Decoded.damage``. The
    files are written as they come, so a reader of a long recording need not wait for the end.
    Raises MediaError when there is no sound at all.
    """
    check_readable(path)
    written = 0
    damage: list[str] = []
    peaks = PeakMaker()
    with open_media(path) as container, samples_path.open("wb") as out:
        if not container.streams.audio:
            raise MediaError("The file has no sound track.")
        for block in _mono_blocks(container, damage):
            out.write(block.tobytes())
            peaks.add(block)
            written += len(block)
            on_progress(written * 1000 // SAMPLE_RATE)
    if written == 0:
        why = f" ({damage[0]})" if damage else ""
        raise MediaError(f"No sound could be decoded from the file{why}.")
    peaks.save(peaks_path)
    if not damage:
        return Decoded(written, None)
    at = _clock(written)
    return Decoded(written, f"The file is damaged ({damage[0]}); its sound was read up to {at}.")


def _mono_blocks(container: av.container.InputContainer, damage: list[str]) -> Iterator[Samples]:
    stream = container.streams.audio[0]
    stream.codec_context.thread_type = "AUTO"
    resampler = av.AudioResampler(format="flt", layout="mono", rate=SAMPLE_RATE)
    for frame in _frames(container, stream, damage):
        frame.pts = None
        for piece in resampler.resample(frame):
            yield np.asarray(piece.to_ndarray(), np.float32).reshape(-1)
    for piece in resampler.resample(None):
        yield np.asarray(piece.to_ndarray(), np.float32).reshape(-1)


def _frames(
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
