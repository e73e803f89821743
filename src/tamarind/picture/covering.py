"""Write a copy of a recording in which stretches of the sound are silent or a tone.

Sound alone becomes FLAC, exact to the sample; the picture of a video is copied as it is. Nothing
else of the file comes along: no other sounds, captions, chapters or tags, which may tell names.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from dataclasses import replace
from enum import StrEnum
from pathlib import Path

import av
import numpy as np

from tamarind.audio.clock import origin_of
from tamarind.audio.decode import Samples
from tamarind.audio.media import MediaError, codec_of, open_media, picture_of
from tamarind.audio.soundfile import SOUND_FILES, SoundEncoder, encodable_rate
from tamarind.audio.splice import Cutting, Form, Splice, form_of
from tamarind.picture.containers import (
    CONTAINERS,
    DecodingTimes,
    flags_for,
    whole_or_nothing,
)

Span = tuple[int, int]
"""From and to, in ms."""

TONE_HZ, TONE_LEVEL = 1_000, 0.1
RAMP_MS = 5
"""The sound comes and goes so fast at the edges, within what is covered, so that nothing clicks."""


class Cover(StrEnum):
    """What is heard in place of what is covered."""

    SILENCE = "silence"
    TONE = "tone"


def covered_name(path: Path) -> str:
    """Return the suffix of the covered copy of a recording. Raises MediaError."""
    with open_media(path) as read:
        if picture_of(read) is None:
            return ".flac"
    return path.suffix.lower() if path.suffix.lower() in CONTAINERS else ".mkv"


def write_covered(
    source: Path,
    target: Path,
    spans: Sequence[Span],
    cover: Cover,
    track: int = 0,
    told: Callable[[float], None] = lambda _share: None,
) -> None:
    """Write ``source`` to ``target`` with its sound covered in ``spans``. ``told`` is called with
    the share (0 to 1) that is done. Raises MediaError and OSError; nothing is left then."""
    with open_media(source) as read:
        length = max(int((read.duration or 0) / av.time_base * 1000), 1)
    cutting = Cutting(source, ((0, length),), track)
    form = form_of([cutting])
    with whole_or_nothing(target) as beside:
        if target.suffix == ".flac":
            _write_sound(beside, cutting, form, merged(spans), cover, told)
        else:
            _write_video(source, beside, target, cutting, form, merged(spans), cover, told)


def merged(spans: Sequence[Span]) -> list[Span]:
    """Return spans in order, those that touch as one."""
    found: list[Span] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((start, end))
    return found


def _blocks(cutting: Cutting, form: Form, spans: Sequence[Span], cover: Cover) -> Iterator[Samples]:
    """Yield the sound with its spans covered."""
    edges = [(form.samples(max(a, 0)), form.samples(b)) for a, b in spans]
    done = 0
    with closing(Splice([cutting], form)) as splice:
        splice.read()
        for block in splice.blocks():
            count = block.shape[1]
            own = [edge for edge in edges if edge[0] < done + count and edge[1] > done]
            yield _covered(block, done, own, form, cover) if own else block
            done += count


def _covered(
    block: Samples, done: int, edges: Sequence[tuple[int, int]], form: Form, cover: Cover
) -> Samples:
    """Return a block that begins at the sample ``done`` with what lies within ``edges``
    covered."""
    at = done + np.arange(block.shape[1])
    heard = np.ones(block.shape[1], np.float32)
    ramp = max(form.samples(RAMP_MS), 1)
    for first, last in edges:
        # 1 outside, 0 inside, falling over the ramp behind the first edge.
        inside = np.minimum(at - first, last - 1 - at) / ramp
        heard = np.minimum(heard, np.clip(1 - inside, 0, 1).astype(np.float32))
    made = block * heard
    if cover is Cover.TONE:
        tone = TONE_LEVEL * np.sin(2 * np.pi * TONE_HZ * at / form.rate)
        made = made + (1 - heard) * tone
    return np.asarray(made, np.float32)


def _write_sound(
    beside: Path,
    cutting: Cutting,
    form: Form,
    spans: Sequence[Span],
    cover: Cover,
    told: Callable[[float], None],
) -> None:
    kind = SOUND_FILES[".flac"]
    encoder, format_ = kind.deep if form.bits > 16 else (kind.encoder, kind.format)
    with closing(av.open(str(beside), "w", format=kind.container)) as out:
        sound = SoundEncoder(out, encoder, format_, form)
        for block in _blocks(cutting, form, spans, cover):
            sound.add(block)
            told(min(sound.time * 1000 / cutting.spans[0][1], 1.0))
        sound.finish()


def _write_video(
    source: Path,
    beside: Path,
    target: Path,
    cutting: Cutting,
    form: Form,
    spans: Sequence[Span],
    cover: Cover,
    told: Callable[[float], None],
) -> None:
    container = CONTAINERS[target.suffix]
    form = replace(form, rate=encodable_rate(form.rate, container.audio))
    kind = next(one for one in SOUND_FILES.values() if one.encoder == container.audio)
    origin = origin_of(source)
    with open_media(source) as read:
        picture = picture_of(read)
        assert picture is not None
        with closing(
            av.open(str(beside), "w", format=container.name, options=flags_for(target))
        ) as out:
            if codec_of(picture) not in out.supported_codecs:
                raise MediaError(f"A {target.suffix} file cannot hold {codec_of(picture)}.")
            place = out.add_stream_from_template(picture)
            place.metadata.clear()
            sound = SoundEncoder(out, kind.encoder, kind.format, form, kind.bit_rate)
            blocks = _blocks(cutting, form, spans, cover)
            for packet in DecodingTimes(origin).of(read.demux(picture)):
                assert packet.dts is not None
                time = float(packet.dts * packet.time_base)
                while sound.time < time and (block := next(blocks, None)) is not None:
                    sound.add(block)
                packet.stream = place
                out.mux(packet)
                told(min(time * 1000 / cutting.spans[0][1], 1.0))
            for block in blocks:
                sound.add(block)
            sound.finish()
