"""What drawing captions on videos costs, beside the same work without them.

    .venv/bin/python benchmarks/video.py [MINUTES]

Makes a moving picture of 1280 by 720 at 25 frames a second with sound (10 minutes, unless said),
and then, each in a process of its own so that its memory is seen: encodes it again without captions
and with captions over 60 % of it; copies the file and adds two tracks to it; and how long one frame
of the preview takes at 1920 by 1080.
"""

from __future__ import annotations

import resource
import shutil
import sys
import tempfile
import time
from fractions import Fraction
from multiprocessing import get_context
from pathlib import Path

import av
import numpy as np

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE.parent)]

from tamarind.picture.caption import Caption, SaidWord  # noqa: E402
from tamarind.picture.compose import compose  # noqa: E402
from tamarind.picture.frames import Stage  # noqa: E402
from tamarind.picture.lookbook import SHIPPED  # noqa: E402
from tamarind.picture.order import VideoOrder, fill  # noqa: E402
from tamarind.picture.switchable import CaptionTrack  # noqa: E402

SIZE, RATE = (1280, 720), 25
LINES = ("The sluice was open all winter,", "and then the moss came back again")


def make_source(path: Path, seconds: int) -> None:
    """A picture that moves all over, and a tone."""
    y, x = np.mgrid[: SIZE[1], : SIZE[0]].astype(np.float32)
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libx264", rate=RATE, options={"preset": "ultrafast", "crf": "20"})
        stream.width, stream.height, stream.pix_fmt = *SIZE, "yuv420p"
        heard = out.add_stream("aac", rate=48_000, layout="mono")
        base = [
            np.asarray(
                128 + 90 * np.sin((x + 9 * step) / 60) * np.cos((y - 5 * step) / 45), np.uint8
            )
            for step in range(50)
        ]
        for number in range(seconds * RATE):
            grey = base[number % len(base)]
            rgb = np.dstack([grey, np.roll(grey, number % 200, 1), 255 - grey])
            frame = av.VideoFrame.from_ndarray(rgb, "rgb24")
            frame.pts, frame.time_base = number, Fraction(1, RATE)
            for packet in stream.encode(frame):
                out.mux(packet)
        for packet in stream.encode(None):
            out.mux(packet)
        for second in range(seconds):
            tone = np.sin(2 * np.pi * 220 * np.arange(48_000) / 48_000).astype(np.float32)[None]
            sound = av.AudioFrame.from_ndarray(tone * 0.2, "fltp", "mono")
            sound.sample_rate, sound.pts = 48_000, second * 48_000
            for packet in heard.encode(sound):
                out.mux(packet)
        for packet in heard.encode(None):
            out.mux(packet)


def captions(seconds: int) -> list[Caption]:
    """One of three seconds in every five."""
    found = []
    for start in range(0, seconds * 1000, 5_000):
        lines = tuple(
            tuple(
                SaidWord(word, start + 250 * at, start + 250 * at + 250)
                for at, word in enumerate(line.split(), first)
            )
            for first, line in ((0, LINES[0]), (6, LINES[1]))
        )
        found.append(Caption(start, start + 3_000, lines))
    return found


def _measured(order: VideoOrder, pipe: object) -> None:
    begun = time.monotonic()
    fill(order)
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    pipe.send((time.monotonic() - begun, most))  # type: ignore[attr-defined]


def measured(order: VideoOrder) -> tuple[float, float]:
    """Seconds and megabytes of making a video in a process of its own."""
    context = get_context("spawn")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_measured, args=(order, there))
    process.start()
    result = here.recv()
    process.join()
    return result


def preview() -> None:
    """Frames of 1920 by 1080 with outline and shadow, a new caption for each fifth."""
    frame = av.VideoFrame(1920, 1080, "yuv420p")
    stage = Stage(captions(600), lambda place: SHIPPED["stepping-stones"])
    times = []
    for number in range(400):
        begun = time.perf_counter()
        drawing = stage.drawing(number * 340, (1920, 1080))
        compose(frame, drawing).reformat(960, 540, "rgb24").to_ndarray()
        times.append(1000 * (time.perf_counter() - begun))
    print(f"preview, 1080p: median {np.median(times):.1f} ms, "
          f"99th of 100 {np.percentile(times, 99):.1f} ms")  # fmt: skip


def main() -> None:
    """Make, measure, print."""
    seconds = 60 * int(sys.argv[1] if len(sys.argv) > 1 else 10)
    preview()
    with tempfile.TemporaryDirectory() as folder:
        source, out = Path(folder) / "source.mp4", Path(folder) / "out.mp4"
        make_source(source, seconds)
        print(f"{seconds / 60:.0f} min of 720p25, {source.stat().st_size / 1e6:.0f} MB")
        plain, memory = measured(VideoOrder(source, out))
        print(f"encoded without captions: {plain:.1f} s, {memory:.0f} MB")
        for key in ("slate", "torch", "signpost"):
            order = VideoOrder(source, out, captions(seconds), (SHIPPED[key],))
            took, memory = measured(order)
            print(f"with captions ({key}): {took:.1f} s, {took / plain:.2f} times, {memory:.0f} MB")
        begun = time.monotonic()
        shutil.copyfile(source, out)
        copied = time.monotonic() - begun
        tracks = [CaptionTrack(one, one, captions(seconds)) for one in ("en", "de")]
        took, memory = measured(VideoOrder(source, out, tracks=tracks))
        print(f"copying: {copied:.2f} s; with two tracks: {took:.2f} s,"
              f" {took / copied:.1f} times, {memory:.0f} MB")  # fmt: skip


if __name__ == "__main__":
    main()
