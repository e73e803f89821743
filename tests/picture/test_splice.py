"""Stretches of videos in a row, cut to the frame."""

import av
import numpy as np

from tamarind.audio.media import MediaError
from tamarind.audio.splice import Cutting
from tamarind.picture.splice import splice_video
from tests.support import DEMO, FolderTest, tone, write_wav

RATE = 25


class Spliced(FolderTest):
    def numbered(self, name="numbered.mp4", size=(64, 48), frames=100, step=2):
        """A video whose frames are as bright as their number."""
        path = self.folder / name
        with av.open(str(path), "w") as out:
            picture = out.add_stream("libx264", rate=RATE, options={"crf": "4", "g": "40"})
            picture.width, picture.height, picture.pix_fmt = *size, "yuv420p"
            sound = out.add_stream("aac", rate=48_000)
            sound.layout = "mono"
            for number in range(frames):
                grey = np.full((size[1], size[0], 3), 20 + step * number, np.uint8)
                frame = av.VideoFrame.from_ndarray(grey, "rgb24")
                frame.pts = number
                out.mux(picture.encode(frame))
            out.mux(picture.encode(None))
            wave = np.asarray(tone(frames / RATE, rate=48_000), np.float32)
            frame = av.AudioFrame.from_ndarray(wave[None], format="fltp", layout="mono")
            frame.sample_rate = 48_000
            out.mux(sound.encode(frame))
            out.mux(sound.encode(None))
        return path

    def test_it_begins_with_the_frame_that_is_seen_and_ends_before_the_out_point(self):
        source = self.numbered()
        for suffix in (".mp4", ".mkv"):
            target = self.folder / f"cut{suffix}"
            # Frame 12 is seen from 480 on, frame 30 from 1200 on.
            splice_video(target, target, [Cutting(source, ((500, 1_200), (2_000, 2_100)))])
            with av.open(str(source)) as read:
                shades = [f.to_ndarray(format="gray").mean() for f in read.decode(video=0)]
            with av.open(str(target)) as read:
                made = [(float(f.pts * f.time_base), f.to_ndarray(format="gray").mean())
                        for f in read.decode(video=0)]  # fmt: skip
            expected = [*range(12, 30), 50, 51, 52]
            found = [int(np.argmin([abs(shade - s) for s in shades])) for _, shade in made]
            self.assertEqual(found, expected, suffix)
            self.assertEqual(round(made[0][0] * 1000), 0)
            # Frame 13 begins 20 ms after the in point, and the second stretch where the first ends.
            self.assertAlmostEqual(made[1][0], 0.020, delta=0.0015)
            self.assertAlmostEqual(made[18][0], 0.700, delta=0.0015)

    def test_others_come_into_the_first_ones_size_and_sound_alone_is_dark(self):
        small = self.numbered("small.mp4", (64, 48))
        upright = self.numbered("upright.mp4", (48, 96))
        sound = write_wav(self.folder / "sound.wav", tone(2.0))
        target = self.folder / "all.mp4"
        told = []
        splice_video(
            target, target,
            [Cutting(path, ((0, 400),)) for path in (small, upright, sound)],
            told=told.append,
        )  # fmt: skip
        with av.open(str(target)) as read:
            frames = [(float(f.pts * f.time_base), f.to_ndarray(format="gray"))
                      for f in read.decode(video=0)]  # fmt: skip
        self.assertEqual({f.shape for _, f in frames}, {(48, 64)})
        dark = [f for time, f in frames if time >= 0.8]
        self.assertTrue(dark and all(f.max() < 24 for f in dark))
        with av.open(str(target)) as read:
            seconds = sum(f.samples for f in read.decode(audio=0)) / 48_000
        self.assertAlmostEqual(seconds, 1.2, delta=0.05)
        self.assertEqual(told, sorted(told))

    def test_without_any_picture_it_says_so(self):
        sound = write_wav(self.folder / "sound.wav", tone(1.0))
        target = self.folder / "none.mp4"
        with self.assertRaisesRegex(MediaError, "picture"):
            splice_video(target, target, [Cutting(sound, ((0, 400),))])

    def test_the_demos_lecture(self):
        source = DEMO / "media" / "Water table lecture.mp4"
        target = self.folder / "lecture.webm"
        splice_video(target, target, [Cutting(source, ((30_150, 31_000),))])
        with av.open(str(target)) as read:
            times = [float(f.pts * f.time_base) for f in read.decode(video=0)]
        self.assertEqual(times[0], 0)
        self.assertLess(times[-1], 0.85)
