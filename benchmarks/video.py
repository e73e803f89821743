"""Measure drawing captions on videos, beside the same work without them.

    .venv/bin/python benchmarks/video.py [MINUTES] [preview] [burning] [tracks] [memory]

Makes a moving picture of 1280 by 720 at 25 frames a second with sound (10 minutes, unless said),
and then, each in a process of its own so that its memory is seen: encodes it again without captions
and with captions over 60 % of it; repeats the file until it lasts an hour, copies that and adds two
tracks to it; how long one frame of the preview takes at 1920 by 1080; and the memory of writing one
and four minutes of that size, which three hours do not need more of if it is the same. Without a
name all of it.
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
SYLLABLES = (
    "pe at mo ss dam slu ice wat er lev el win ter bo ardwalk car bon gre en ho llow".split()
)


def make_source(path: Path, seconds: int, size: tuple[int, int] = SIZE) -> None:
    """Write a video that moves all over, with a tone."""
    y, x = np.mgrid[: size[1], : size[0]].astype(np.float32)
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libx264", rate=RATE, options={"preset": "ultrafast", "crf": "20"})
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
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


def repeat(source: Path, out: Path, times: int) -> None:
    """Repeat a video by its packets."""
    with av.open(str(out), "w") as written:
        ends = [0, 0]
        made: list[av.stream.Stream] = []
        for _ in range(times):
            with av.open(str(source)) as read:
                streams = read.streams.video[0], read.streams.audio[0]
                if not made:
                    made = [written.add_stream_from_template(one) for one in streams]
                begun: list[int | None] = [None, None]
                last = list(ends)
                for packet in read.demux(*streams):
                    if packet.dts is None:
                        continue
                    place = streams.index(packet.stream)
                    if begun[place] is None:
                        begun[place] = ends[place] - packet.dts
                    packet.pts += begun[place]
                    packet.dts += begun[place]
                    last[place] = packet.dts + max(packet.duration or 0, 1)
                    packet.stream = made[place]
                    written.mux(packet)
                ends = last


def captions(seconds: int) -> list[Caption]:
    """Return captions of three seconds in every five, of twelve words; few words are frequent, most
    rare, as in any text."""
    found = []
    rng = np.random.default_rng(7)
    words = ["".join(rng.choice(SYLLABLES, rng.integers(1, 4))) for _ in range(2_000)]
    for start in range(0, seconds * 1000, 5_000):
        said = [words[min(int(rng.zipf(1.3)), 2_000) - 1] for _ in range(12)]
        lines = tuple(
            tuple(
                SaidWord(word, start + 250 * at, start + 250 * at + 250)
                for at, word in enumerate(said[first : first + 6], first)
            )
            for first in (0, 6)
        )
        found.append(Caption(start, start + 3_000, lines))
    return found


def _measured(order: VideoOrder, pipe: object) -> None:
    begun = time.monotonic()
    fill(order)
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    pipe.send((time.monotonic() - begun, most))  # type: ignore[attr-defined]


def measured(order: VideoOrder) -> tuple[float, float]:
    """Return seconds and megabytes of making a video in a process of its own."""
    context = get_context("spawn")
    here, there = context.Pipe(duplex=False)
    process = context.Process(target=_measured, args=(order, there))
    process.start()
    result = here.recv()
    process.join()
    return result


def preview() -> None:
    """Measure frames of 1920 by 1080 with outline and shadow, with a new caption for each fifth."""
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


def burning(source: Path, out: Path, seconds: int) -> None:
    """Measure beside the same encoding without captions."""
    plain, memory = measured(VideoOrder(source, out))
    print(f"encoded without captions: {plain:.1f} s, {memory:.0f} MB")
    for key in ("slate", "torch", "signpost"):
        order = VideoOrder(source, out, captions(seconds), (SHIPPED[key],))
        took, memory = measured(order)
        print(f"with captions ({key}): {took:.1f} s, {took / plain:.2f} times, {memory:.0f} MB")


def tracks(source: Path, out: Path, seconds: int) -> None:
    """Measure adding tracks to an hour, beside copying it."""
    hour = source.with_name("hour.mp4")
    repeat(source, hour, max(3600 // seconds, 1))
    for number in range(2):
        out.unlink(missing_ok=True)
        begun = time.monotonic()
        shutil.copyfile(hour, out)
        copied = time.monotonic() - begun
        out.unlink()
        added = [CaptionTrack(one, one, captions(3600)) for one in ("en", "de")]
        took, memory = measured(VideoOrder(hour, out, tracks=added))
        size = hour.stat().st_size / 1e6
        print(f"an hour, {size:.0f} MB, run {number + 1}: copied in {copied:.2f} s; with two tracks"
              f" {took:.2f} s, {took / copied:.1f} times, {memory:.0f} MB")  # fmt: skip


def memory(source: Path, out: Path) -> None:
    """Measure memory at 1080p for two lengths."""
    for minutes in (1, 4):
        make_source(source, 60 * minutes, (1920, 1080))
        order = VideoOrder(source, out, captions(60 * minutes), (SHIPPED["stepping-stones"],))
        took, most = measured(order)
        print(f"{minutes} min of 1080p: {most:.0f} MB, {took:.0f} s")


def main() -> None:
    """Make, measure, print."""
    named = {one for one in sys.argv[1:] if not one.isdigit()}
    wanted = named or {"preview", "burning", "tracks", "memory"}
    seconds = 60 * int(next((one for one in sys.argv[1:] if one.isdigit()), 10))
    if "preview" in wanted:
        preview()
    with tempfile.TemporaryDirectory() as folder:
        source, out = Path(folder) / "source.mp4", Path(folder) / "out.mp4"
        if wanted & {"burning", "tracks"}:
            make_source(source, seconds)
            print(f"{seconds / 60:.0f} min of 720p25, {source.stat().st_size / 1e6:.0f} MB")
        if "burning" in wanted:
            burning(source, out, seconds)
        if "tracks" in wanted:
            tracks(source, out, seconds)
        if "memory" in wanted:
            memory(source, out)


if __name__ == "__main__":
    main()
