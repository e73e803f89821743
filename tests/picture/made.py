"""Videos of a few frames, made for a test."""

from fractions import Fraction

import av
import numpy as np

from tamarind.picture.caption import Caption, SaidWord
from tests.support import tone

SIZE = (320, 180)


def words(text, start=0, step=300):
    return tuple(
        SaidWord(word, start + at * step, start + (at + 1) * step)
        for at, word in enumerate(text.split())
    )


def caption(*lines, start=0, end=2_000, **more):
    return Caption(start, end, tuple(words(line, start) for line in lines), **more)


def pixels(number, size=SIZE):
    """A picture that differs from frame to frame."""
    y, x = np.mgrid[: size[1], : size[0]]
    grey = (x * 2 + y + number * 7) % 256
    return np.stack([grey, 255 - grey, (grey // 2 + number * 5) % 256], -1).astype(np.uint8)


def make_video(
    path, frames=30, rate=10, size=SIZE, codec="libx264", form="yuv420p", sounds=1,
    times=None, options=None, before=lambda stream: None, after=lambda frame: None,
):  # fmt: skip
    """Write a video; ``times`` are those of its frames (ms), else they are even."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=rate, options=options or {})
        stream.width, stream.height, stream.pix_fmt = *size, form
        if times is not None:
            stream.codec_context.time_base = Fraction(1, 1000)
        before(stream)
        heard = [out.add_stream("aac", rate=16_000, layout="mono") for _ in range(sounds)]
        for number in range(frames):
            frame = av.VideoFrame.from_ndarray(pixels(number, size), "rgb24").reformat(format=form)
            frame.pts = number if times is None else times[number]
            frame.time_base = Fraction(1, rate) if times is None else Fraction(1, 1000)
            after(frame)
            for packet in stream.encode(frame):
                out.mux(packet)
        for packet in stream.encode(None):
            out.mux(packet)
        for one in heard:
            length = frames / rate if times is None else times[-1] / 1000
            samples = tone(length)[None].astype("float32")
            frame = av.AudioFrame.from_ndarray(samples, "fltp", "mono")
            frame.sample_rate = 16_000
            for packet in (*one.encode(frame), *one.encode(None)):
                out.mux(packet)
    return path


def frames_of(path):
    """All frames with their times (ms)."""
    with av.open(str(path)) as read:
        return [(round(frame.time * 1000), frame) for frame in read.decode(video=0)]


def packets_of(path, kind):
    with av.open(str(path)) as read:
        stream = getattr(read.streams, kind)[0]
        return [bytes(packet) for packet in read.demux(stream) if packet.size]
