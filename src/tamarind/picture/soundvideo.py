"""Make a video of a recording without a picture: a colour, an image or the moving waveform, with
title and captions."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from itertools import pairwise
from pathlib import Path
from typing import cast

import av
import numpy as np
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError

from tamarind.audio.clock import origin_of
from tamarind.audio.decode import heard_frames
from tamarind.audio.media import MediaError, open_media
from tamarind.picture.caption import Caption, SaidWord
from tamarind.picture.carriedsound import CarriedSound, finish
from tamarind.picture.compose import FORMAT, compose, compose_mask
from tamarind.picture.containers import Part, container_of, flags_for, whole_or_nothing
from tamarind.picture.drawing import Drawing, rgb
from tamarind.picture.frames import Stage
from tamarind.picture.looks import Box, Face, Ground, Letters, Look, Place, Standing
from tamarind.picture.render import draw
from tamarind.picture.video import KEYFRAME_S, OPTIONS, Quality

RATE = 25
SOUND_RATE = 8_000
STEP_MS = 10
"""One value of the wave for so much sound."""

SHOWN_MS = 2_400
"""So much sound is seen of the wave, half of it before what is heard."""

BARS = 96
WAVE_WIDTH, WAVE_HEIGHT, WAVE_MIDDLE = 0.72, 0.28, 0.46
"""Shares of the picture's width and height."""


class Backdrop(StrEnum):
    """What is shown behind the captions."""

    COLOUR = "colour"
    PICTURE = "picture"
    WAVE = "wave"


@dataclass(frozen=True, slots=True)
class Scene:
    """``picture`` is a file for ``Backdrop.PICTURE``; ``title`` stands above."""

    backdrop: Backdrop = Backdrop.WAVE
    colour: str = "#12343b"
    wave: str = "#9fe0d0"
    title: str = ""
    picture: Path | None = None
    size: tuple[int, int] = (1280, 720)


def make_video(
    source: Path,
    target: Path,
    stage: Stage | None,
    scene: Scene,
    quality: Quality = Quality.GOOD,
    part: Part = (0, None),
    told: Callable[[float], None] = lambda _share: None,
) -> None:
    """Write a video with the sound of ``source``. Captions have the times of the source.

    Raises MediaError with a sentence, and OSError; nothing is there then that was not before.
    """
    container = container_of(target)
    origin = origin_of(source)
    wave = _wave(source)
    start, end = part
    length = len(wave) * STEP_MS
    last = min(end, length) if end is not None else length
    if last <= start:
        raise MediaError("There is no sound in that part of the recording.")
    ground = _ground(scene)
    title = _title(scene)
    if title is not None:
        ground = compose(ground, title)
    with whole_or_nothing(target) as beside, open_media(source) as read:
        options = flags_for(target)
        with closing(av.open(str(beside), "w", format=container.name, options=options)) as out:
            stream = out.add_stream(
                container.video, rate=RATE, options=OPTIONS[container.video][quality]
            )
            assert isinstance(stream, av.VideoStream)
            stream.width, stream.height = scene.size
            stream.pix_fmt = FORMAT
            stream.codec_context.gop_size = RATE * KEYFRAME_S
            sound = CarriedSound(read.streams.audio[0], out, container, part, origin)
            sound.open()
            sound.begin()
            frames = _frames(ground, scene, wave, stage, start, last)
            count = (last - start) * RATE // 1000
            heard = read.demux(sound.stream)
            for number, frame in enumerate(frames):
                out.mux(stream.encode(frame))
                # Sound goes with the picture, so that neither waits for the other in memory.
                _carry(sound, heard, start + number * 1000 / RATE + float(origin) * 1000)
                if number % RATE == 0:
                    told(number / max(count, 1))
            out.mux(stream.encode(None))
            _carry(sound, heard, None)
            finish([sound], read)


def _carry(sound: CarriedSound, heard: Iterator[av.Packet], until: float | None) -> None:  # type: ignore[type-arg]
    """Pass on the sound up to a time (ms on the file's clock), or all."""
    for packet in heard:
        moment = None
        if packet.pts is not None and packet.time_base is not None:
            moment = float(packet.pts * packet.time_base) * 1000
        sound.take(cast("av.Packet[av.AudioStream]", packet))
        if until is not None and moment is not None and moment >= until:
            return


def _frames(
    ground: av.VideoFrame,
    scene: Scene,
    wave: NDArray[np.float32],
    stage: Stage | None,
    start: int,
    last: int,
) -> Iterator[av.VideoFrame]:
    plain = ground.to_ndarray()
    bars = _Bars(wave, scene) if scene.backdrop is Backdrop.WAVE else None
    for number in range(max((last - start) * RATE // 1000, 1)):
        time = start + number * 1000 // RATE
        frame = av.VideoFrame.from_ndarray(plain, FORMAT)
        frame.colorspace, frame.color_range = ground.colorspace, ground.color_range
        if bars is not None:
            frame = bars.lay(frame, time)
        if stage is not None:
            frame = compose(frame, stage.drawing(time, scene.size))
        frame.pts, frame.time_base = number, Fraction(1, RATE)
        yield frame


def _wave(source: Path) -> NDArray[np.float32]:
    """Return the loudness of every step of a recording's sound, 0 to 1."""
    resampler = av.AudioResampler("s16", "mono", SOUND_RATE)
    size = SOUND_RATE * STEP_MS // 1000
    found: list[NDArray[np.float32]] = []
    rest = np.zeros(0, np.int16)
    origin = origin_of(source)
    with open_media(source) as read:
        if not read.streams.audio:
            raise MediaError("The file has no sound.")
        for frame in heard_frames(read, read.streams.audio[0], origin):
            frame.pts = None
            for ready in resampler.resample(frame):
                rest = np.concatenate([rest, ready.to_ndarray().reshape(-1)])
            if len(rest) >= size * 1000:
                whole = len(rest) // size * size
                found.append(_loudness(rest[:whole], size))
                rest = rest[whole:]
    found.append(_loudness(rest[: len(rest) // size * size], size))
    return np.concatenate(found)


def _loudness(samples: NDArray[np.int16], size: int) -> NDArray[np.float32]:
    values = samples.reshape(-1, size).astype(np.float32) / 32768
    return np.asarray(np.sqrt(np.square(values).mean(axis=1)) ** 0.6 * 1.6, np.float32).clip(0, 1)


class _Bars:
    """The waveform around a time as moving rounded bars, brighter where it has been played."""

    def __init__(self, wave: NDArray[np.float32], scene: Scene) -> None:
        width, height = scene.size
        self._wave = wave
        self._colour = scene.wave
        self._high = int(height * WAVE_HEIGHT) // 4 * 4
        self._pitch = int(width * WAVE_WIDTH) // BARS // 2 * 2
        wide = self._pitch * BARS
        self._left = (width - wide) // 4 * 2
        self._top = int(height * WAVE_MIDDLE - self._high / 2) // 2 * 2
        self._heard = np.where(np.arange(wide) < wide / 2, 255, 110).astype(np.float32)
        self._down = np.arange(self._high // 2, dtype=np.float32)[::-1, None]

    def lay(self, frame: av.VideoFrame, time: int) -> av.VideoFrame:
        """Return the frame with the bars at a time (ms)."""
        step = SHOWN_MS / BARS
        at = (time - SHOWN_MS / 2) / step
        first = int(at // 1)
        moved = int((at - first) * self._pitch) // 2 * 2
        edges = ((np.arange(first, first + BARS + 2) * step) // STEP_MS).astype(int)
        loud = [self._wave[max(a, 0) : max(b, 0)].max(initial=0.0) for a, b in pairwise(edges)]
        reach = np.maximum(np.array(loud, np.float32) * self._high / 2, 2.0)
        across = np.arange(len(self._heard)) + moved
        bar = across // self._pitch
        within = np.abs(across - (bar + 0.5) * self._pitch).astype(np.float32)
        shade = np.clip(self._pitch * 0.32 - within + 0.5, 0, 1) * self._heard
        upper = np.clip(reach[bar][None, :] - self._down, 0, 1) * shade
        alpha = np.concatenate([upper, upper[::-1]]).astype(np.uint8)
        return compose_mask(frame, self._left, self._top, alpha, self._colour)


def _ground(scene: Scene) -> av.VideoFrame:
    width, height = scene.size
    if scene.backdrop is Backdrop.PICTURE and scene.picture is not None:
        try:
            with Image.open(scene.picture) as opened:
                image = opened.convert("RGB")
        except (OSError, UnidentifiedImageError, Image.DecompressionBombError) as error:
            raise MediaError(f"“{scene.picture.name}” is no picture that can be read.") from error
        scale = max(width / image.width, height / image.height)
        image = image.resize((round(image.width * scale) + 1, round(image.height * scale) + 1))
        left, top = (image.width - width) // 2, (image.height - height) // 2
        pixels = np.asarray(image.crop((left, top, left + width, top + height)))
    else:
        pixels = np.empty((height, width, 3), np.uint8)
        pixels[...] = [round(part * 255) for part in rgb(scene.colour)]
    frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), "rgb24")
    made = frame.reformat(format=FORMAT, dst_colorspace="ITU709", dst_color_range="MPEG")
    made.colorspace, made.color_range = 1, 1
    return made


def _title(scene: Scene) -> Drawing | None:
    if not scene.title.strip():
        return None
    words = tuple(SaidWord(word, 0, 0) for word in scene.title.split())
    look = Look(
        "title",
        Letters(Face.BOOK, size=0.068, colour="#f6f3ea"),
        Ground(Box.NONE),
        Standing(Place.TOP, safe=0.09),
    )
    return draw(Caption(0, 1, (words,)), look, scene.size)
