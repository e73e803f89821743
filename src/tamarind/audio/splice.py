"""Cut stretches out of recordings at full quality, exact to the sample, and join them.

Where two of them meet, the sound of the one fades into that of the other, with equal power, over
what lies just beyond the cut on both sides: so nothing clicks, and every stretch is as long as it
was chosen.
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import IO, TYPE_CHECKING

import numpy as np

from tamarind.audio.clock import origin_of
from tamarind.audio.decode import Samples, heard_frames
from tamarind.audio.media import MediaError, open_media
from tamarind.system.later import Later

if TYPE_CHECKING:
    import av
else:
    av = Later("av")

Span = tuple[int, int]
"""From and to, in ms."""

FADE_MS = 10
"""How long two stretches are heard together where they meet."""

AT_ONCE = 1 << 15
RATES = (8_000, 192_000)


@dataclass(frozen=True, slots=True)
class Cutting:
    """Stretches of one file: ``spans`` in ms of its sound, ``track`` counted from 0."""

    path: Path
    spans: tuple[Span, ...]
    track: int = 0


@dataclass(frozen=True, slots=True)
class Form:
    """A sound format: sample rate, 1 or 2 channels, bits a sample."""

    rate: int
    channels: int
    bits: int = 16

    @property
    def layout(self) -> str:
        """FFmpeg's name for the channel layout."""
        return "stereo" if self.channels > 1 else "mono"

    def samples(self, time: int) -> int:
        """Return the number of samples up to a time (ms)."""
        return time * self.rate // 1000


def form_of(cuttings: Sequence[Cutting]) -> Form:
    """Return the best format among the recordings, so that none loses anything. Raises
    MediaError."""
    forms = [_form(one) for one in dict.fromkeys((cutting.path, cutting.track)
                                                  for cutting in cuttings)]  # fmt: skip
    return Form(
        max(form.rate for form in forms),
        max(form.channels for form in forms),
        max(form.bits for form in forms),
    )


def _form(of: tuple[Path, int]) -> Form:
    path, track = of
    with open_media(path) as read:
        if track >= len(read.streams.audio):
            raise MediaError("The file has no such sound track.")
        codec = read.streams.audio[track].codec_context
        rate = min(max(codec.sample_rate, RATES[0]), RATES[1])
        whole = codec.name.startswith(("pcm", "flac", "alac", "wavpack"))
        deep = whole and codec.format is not None and codec.format.bytes > 2
        return Form(rate, min(max(codec.channels, 1), 2), 24 if deep else 16)


class Splice:
    """The joined sound of cuttings, in blocks of float32 (channels, samples).

    What is cut out lies in files without a name until it is read. Use it with ``closing``.
    """

    def __init__(self, cuttings: Sequence[Cutting], form: Form) -> None:
        self.form = form
        self._cuttings = cuttings
        self._parts: dict[tuple[int, int], _Part] = {}

    def read(self, told: Callable[[float], None] = lambda _share: None) -> None:
        """Read all stretches, each file once and in order. ``told`` is called with the share (0 to
        1) that is done. Raises MediaError."""
        if self._alone() is not None:
            # It is read as it is wanted, however long it is.
            told(1.0)
            return
        files: dict[tuple[Path, int], list[tuple[Span, tuple[int, int]]]] = {}
        for number, cutting in enumerate(self._cuttings):
            for place, span in enumerate(cutting.spans):
                key = cutting.path, cutting.track
                files.setdefault(key, []).append((span, (number, place)))
        for count, ((path, track), wanted) in enumerate(files.items()):
            parts = {key: _Part(self.form, span) for span, key in wanted}
            self._parts.update(parts)
            last = max(part.until for part in parts.values())
            done = 0
            for block in _decoded(path, track, self.form):
                for part in parts.values():
                    part.add(block, done)
                done += block.shape[1]
                told((count + min(done / max(last, 1), 1.0)) / len(files))
                if done >= last:
                    break
        told(1.0)

    def blocks(self) -> Iterator[Samples]:
        """Yield all of it, cut to the sample, with fades where stretches meet."""
        alone = self._alone()
        if alone is not None:
            cutting, span = alone
            yield from _stretch(cutting, span, self.form)
            return
        keys = [
            (number, place)
            for number, cutting in enumerate(self._cuttings)
            for place in range(len(cutting.spans))
        ]
        for at, key in enumerate(keys):
            before = self._parts[keys[at - 1]] if at else None
            after = self._parts[keys[at + 1]] if at + 1 < len(keys) else None
            yield from self._parts[key].faded(before, after)

    def _alone(self) -> tuple[Cutting, Span] | None:
        """Yield the only stretch, which has no others to fade into."""
        if len(self._cuttings) == 1 and len(self._cuttings[0].spans) == 1:
            return self._cuttings[0], self._cuttings[0].spans[0]
        return None

    def close(self) -> None:
        """Delete the stretches read."""
        for part in self._parts.values():
            part.close()


class _Part:
    """One stretch, with a little more on both sides for the fades."""

    def __init__(self, form: Form, span: Span) -> None:
        self._form = form
        self.length = form.samples(span[1]) - form.samples(span[0])
        self._half = min(form.samples(FADE_MS) // 2, self.length // 2)
        self._first = form.samples(span[0]) - self._half
        self.until = form.samples(span[1]) + self._half
        self._file: IO[bytes] = tempfile.TemporaryFile()  # noqa: SIM115 – closed by ``close``
        self._whole = self.length + 2 * self._half
        self._file.truncate(self._whole * form.channels * 4)

    def add(self, block: Samples, begun: int) -> None:
        """Add sound of the recording that begins at a sample; what is outside of the stretch is
        ignored."""
        first, last = max(self._first, begun), min(self.until, begun + block.shape[1])
        if last <= first:
            return
        self._file.seek((first - self._first) * self._form.channels * 4)
        taken = block[:, first - begun : last - begun]
        self._file.write(np.ascontiguousarray(taken.T, np.float32).tobytes())

    def faded(self, before: _Part | None, after: _Part | None) -> Iterator[Samples]:
        """Return the stretch with its ends faded into its neighbours, where it has any."""
        head = self._fade(before, self) if before is not None else None
        tail = self._fade(self, after) if after is not None else None
        for start in range(0, self.length, AT_ONCE):
            end = min(start + AT_ONCE, self.length)
            block = self._read(start + self._half, end + self._half)
            if head is not None:
                # The second half of the fade lies within this stretch.
                half = head.shape[1] // 2
                share = head[:, half + start : half + end]
                block[:, : share.shape[1]] = share
            if tail is not None:
                half = tail.shape[1] // 2
                begun = self.length - half
                if end > begun:
                    first = max(start, begun)
                    block[:, first - start :] = tail[:, first - begun : end - begun]
            yield block

    @staticmethod
    def _fade(one: _Part, other: _Part) -> Samples:
        """Return the samples around the place where two stretches meet."""
        half = min(one._half, other._half)
        if not half:
            return np.zeros((one._form.channels, 0), np.float32)
        middle = one.length + one._half
        out = one._read(middle - half, middle + half)
        into = other._read(other._half - half, other._half + half)
        angle = (np.arange(2 * half, dtype=np.float32) + 0.5) / (2 * half) * (np.pi / 2)
        return np.asarray(out * np.cos(angle) + into * np.sin(angle), np.float32)

    def _read(self, start: int, end: int) -> Samples:
        channels = self._form.channels
        self._file.seek(start * channels * 4)
        data = np.frombuffer(self._file.read((end - start) * channels * 4), np.float32)
        return np.array(data.reshape(-1, channels).T, np.float32)

    def close(self) -> None:
        self._file.close()


def _stretch(cutting: Cutting, span: Span, form: Form) -> Iterator[Samples]:
    """Yield one stretch in blocks; beyond the end of the recording it is silence."""
    first, last = map(form.samples, span)
    done = 0
    for block in _decoded(cutting.path, cutting.track, form):
        count = block.shape[1]
        if done + count > first:
            yield np.ascontiguousarray(block[:, max(first - done, 0) : last - done])
        done += count
        if done >= last:
            return
    rest = last - max(done, first)
    for _ in range(0, rest, AT_ONCE):
        yield np.zeros((form.channels, min(rest, AT_ONCE)), np.float32)
        rest -= AT_ONCE


def _decoded(path: Path, track: int, form: Form) -> Iterator[Samples]:
    """Yield a recording's sound in a format, from where a player shows 0.

    From the beginning, since where a place in a compressed file lies is not known to the sample
    otherwise. A damaged packet is passed over as decoding for hearing passes it over.
    """
    origin = origin_of(path)
    with open_media(path) as read:
        if track >= len(read.streams.audio):
            raise MediaError("The file has no such sound track.")
        stream = read.streams.audio[track]
        stream.codec_context.thread_type = "AUTO"
        resampler: av.AudioResampler | None = None
        made_for: tuple[str, str, int] | None = None
        for frame in heard_frames(read, stream, origin):
            frame.pts = None
            kind = frame.format.name, frame.layout.name, frame.sample_rate
            if resampler is None or kind != made_for:
                if resampler is not None:
                    yield from _pieces(resampler, None)
                resampler = av.AudioResampler("fltp", form.layout, form.rate, frame_size=AT_ONCE)
                made_for = kind
            yield from _pieces(resampler, frame)
        if resampler is not None:
            yield from _pieces(resampler, None)


def _pieces(resampler: av.AudioResampler, frame: av.AudioFrame | None) -> Iterator[Samples]:
    for piece in resampler.resample(frame):
        yield np.asarray(piece.to_ndarray(), np.float32)
