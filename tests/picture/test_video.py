import unittest
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from PIL import Image

from tamarind.audio.media import MediaError
from tamarind.picture.compose import compose
from tamarind.picture.frames import Stage
from tamarind.picture.lookbook import SHIPPED
from tamarind.picture.order import VideoOrder, fill
from tamarind.picture.shapes import Filling, Shape, ShapeKind
from tamarind.picture.soundvideo import Backdrop, Scene
from tamarind.picture.switchable import CaptionTrack
from tamarind.picture.video import Quality
from tests.picture.made import SIZE, caption, frames_of, make_video, packets_of
from tests.support import FolderTest, human_recording, tone, write_wav

LOOK = SHIPPED["torch"]
SAID = (caption("The sluice", "was open", start=500, end=1_500),)


class _Stop(Exception):
    pass


class VideoTest(FolderTest):
    def setUp(self):
        super().setUp()
        self.source = self.folder / "moss.mp4"

    def order(self, name="out.mkv", **more):
        return VideoOrder(
            self.source, self.folder / name, **{"captions": SAID, "looks": (LOOK,), **more}
        )

    def made(self, name="out.mkv", **more):
        fill(self.order(name, **more))
        return self.folder / name

    def left(self):
        return sorted(path.name for path in self.folder.iterdir() if path.is_file())


class Burnt(VideoTest):
    def test_what_is_written_is_what_the_preview_shows_pixel_by_pixel(self):
        make_video(self.source)
        stage = Stage(SAID, lambda place: LOOK)
        written = frames_of(self.made(quality=Quality.LOSSLESS))
        sources = frames_of(self.source)
        self.assertEqual([time for time, _ in written], [time for time, _ in sources])
        changed = 0
        for (time, frame), (_, source) in zip(written, sources, strict=True):
            plain = source.to_ndarray(format="rgb24")
            shown = compose(source, stage.drawing(time, SIZE)).to_ndarray(format="rgb24")
            self.assertTrue((frame.to_ndarray(format="rgb24") == shown).all(), time)
            changed += (shown != plain).any()
        self.assertEqual(changed, 10)

    def test_the_sound_is_copied_where_the_file_takes_it(self):
        make_video(self.source)
        heard = packets_of(self.source, "audio")
        for name in ("out.mp4", "out.mkv"):
            self.assertEqual(packets_of(self.made(name), "audio"), heard)
        with av.open(str(self.made("out.webm"))) as read:
            names = [stream.codec_context.name for stream in read.streams]
            self.assertEqual(names, ["vp9", "opus"])

    def test_all_sounds_are_carried(self):
        make_video(self.source, sounds=2)
        for name, codec in (("out.mkv", "aac"), ("out.webm", "opus")):
            with av.open(str(self.made(name, part=(0, 2_000)))) as read:
                sounds = read.streams.audio
                self.assertEqual([one.codec_context.name for one in sounds], [codec] * 2)
                for one in range(2):
                    last = max(p.pts * p.time_base for p in read.demux(sounds[one]) if p.size)
                    self.assertAlmostEqual(float(last), 2.0, delta=0.15)
                    read.seek(0)

    def test_a_part_has_its_captions_where_they_were(self):
        make_video(self.source, frames=60)
        path = self.made(part=(3_000, 5_000), captions=(caption("Later", start=4_000, end=4_500),))
        self.assertEqual(len(frames_of(path)), 20)
        plain = self.made("plain.mkv", part=(3_000, 5_000), captions=())
        drawn = drawn_on(path, plain)
        self.assertEqual((drawn[0], drawn[-1]), (1_000, 1_400))

    def test_times_of_frames_that_are_uneven_stay(self):
        times = [0, 40, 300, 340, 900, 1_000, 1_033, 2_000]
        make_video(self.source, frames=len(times), times=times)
        self.assertEqual([time for time, _ in frames_of(self.made())], times)

    def test_odd_kinds_of_video_come_out_upright_even_and_square(self):
        def aspect(stream):
            stream.codec_context.sample_aspect_ratio = Fraction(4, 3)

        def ten_bits(frame):
            frame.color_range = 1

        for name, more, size in (
            ("odd.mkv", {"size": (161, 121), "codec": "ffv1", "form": "yuv444p"}, (160, 120)),
            ("ten.mp4", {"form": "yuv420p10le", "after": ten_bits}, SIZE),
            ("full.mkv", {"codec": "mjpeg", "form": "yuvj420p"}, SIZE),
            ("still.mp4", {"frames": 1}, SIZE),
            ("mute.mp4", {"sounds": 0}, SIZE),
            ("wide.mp4", {"before": aspect}, (426, 180)),
        ):
            self.source = self.folder / name
            make_video(self.source, **more)
            written = frames_of(self.made())
            self.assertEqual((written[0][1].width, written[0][1].height), size, name)
            self.assertEqual(len(written), more.get("frames", 30), name)

    def test_other_shapes(self):
        make_video(self.source, frames=5)
        for kind, size in (
            (ShapeKind.SQUARE, (180, 180)), (ShapeKind.UPRIGHT, (180, 320)),
            (ShapeKind.WIDE, (320, 180)),
        ):  # fmt: skip
            for filling in Filling:
                path = self.made(shape=Shape(kind, filling))
                frame = frames_of(path)[0][1]
                self.assertEqual((frame.width, frame.height), size, (kind, filling))

    def test_another_picture_may_stand_beside_it(self):
        make_video(self.source, frames=6, size=(320, 180))
        own = self.folder / "it's: a [green] picture.png"
        Image.new("RGB", (50, 80), (20, 160, 60)).save(own)
        shape = Shape(ShapeKind.SQUARE, Filling.PICTURE, picture=own)
        whole = {"quality": Quality.LOSSLESS}
        frames = frames_of(self.made(shape=shape, **whole))
        self.assertEqual(len(frames), 6)
        other = Shape(ShapeKind.SQUARE, Filling.COLOUR)
        plain = frames_of(self.made("plain.mkv", shape=other, **whole))
        for (_, one), (_, other) in zip(frames, plain, strict=True):
            beside = one.to_ndarray(format="rgb24")[4, 90].astype(int)
            self.assertLess(np.abs(beside - (20, 160, 60)).max(), 25)
            inside = slice(50, 130)
            seen, wanted = (x.to_ndarray(format="rgb24")[inside].astype(int) for x in (one, other))
            self.assertLess(np.abs(seen - wanted).mean(), 2)
        own.write_bytes(b"none")
        with self.assertRaisesRegex(MediaError, "no picture"):
            self.made(shape=shape)

    def test_what_has_no_moving_picture_becomes_a_video_of_its_sound(self):
        self.source = human_recording("beckett.wav")
        for backdrop in (Backdrop.WAVE, Backdrop.COLOUR):
            scene = Scene(backdrop, title="Moss", size=SIZE)
            path = self.made("out.mp4", scene=scene, part=(0, 2_000))
            written = frames_of(path)
            self.assertEqual(len(written), 50)
            plain = self.made("plain.mp4", scene=scene, part=(0, 2_000), captions=())
            drawn = drawn_on(path, plain)
            self.assertEqual((drawn[0], drawn[-1]), (520, 1_480))
            moves = written[5][1].to_ndarray()[:180] != written[30][1].to_ndarray()[:180]
            self.assertEqual(moves[60:105].any(), backdrop is Backdrop.WAVE)

    def test_what_cannot_be_made_is_told_and_leaves_nothing(self):
        def hdr(stream):
            stream.codec_context.color_trc = 16

        make_video(self.folder / "hdr.mkv", codec="ffv1", before=hdr, frames=3)
        (self.folder / "torn.mp4").write_bytes(make_video(self.source).read_bytes()[:900])
        write_wav(self.folder / "tone.wav", tone(1.0))
        before = self.left()
        for name, more, said in (
            ("hdr.mkv", {}, "HDR"),
            ("torn.mp4", {}, ""),
            ("gone.mp4", {}, ""),
            ("moss.mp4", {"part": (60_000, None)}, "that part"),
            ("tone.wav", {"part": (60_000, None)}, "that part"),
            ("tone.wav", {"scene": Scene(Backdrop.PICTURE, picture=Path(__file__))}, "picture"),
        ):
            self.source = self.folder / name
            with self.assertRaises(MediaError) as caught:
                self.made("out.mp4", **more)
            self.assertIn(said, str(caught.exception))
        for name in ("out.avi", "nowhere/out.mp4"):
            with self.assertRaises(MediaError):
                self.made(name)
        self.assertEqual(self.left(), before)

    def test_who_stops_it_finds_the_old_file_as_it_was(self):
        make_video(self.source, frames=100)
        (self.folder / "out.mp4").write_text("mine")

        def stop(share):
            if share > 0.4:
                raise _Stop

        with self.assertRaises(_Stop):
            fill(self.order("out.mp4"), stop)
        self.assertEqual(self.left(), ["moss.mp4", "out.mp4"])
        self.assertEqual((self.folder / "out.mp4").read_text(), "mine")


class Switchable(VideoTest):
    def tracks(self):
        other = (caption("Die Schleuse war offen", start=500, end=1_500),)
        return (CaptionTrack("en", "English", SAID), CaptionTrack("de-AT", "German", other))

    def test_captions_are_added_and_nothing_else_is_touched(self):
        make_video(self.source)
        for name, languages in (("out.mp4", ["eng", "deu"]), ("out.mkv", ["eng", "ger"])):
            path = self.made(name, tracks=self.tracks())
            for kind in ("video", "audio"):
                self.assertEqual(packets_of(path, kind), packets_of(self.source, kind))
            with av.open(str(path)) as read:
                texts = read.streams.subtitles
                self.assertEqual([one.metadata["language"] for one in texts], languages)
                standard = av.stream.Disposition.default
                self.assertEqual([bool(one.disposition & standard) for one in texts], [True, False])
                packets = [one for one in read.demux(texts[1]) if one.size > 2]
            (packet,) = packets
            self.assertTrue(bytes(packet).decode().endswith("Die Schleuse war offen"))
            self.assertAlmostEqual(float(packet.duration * packet.time_base), 1.0, delta=0.01)

    def test_a_caption_within_a_longer_one_is_in_the_track(self):
        make_video(self.source)
        both = (caption("Long", start=0, end=2_500), caption("Short", start=1_000, end=1_500))
        for name, wanted in (
            ("out.mkv", [(0, 2_500, "Long"), (1_000, 500, "Short")]),
            ("out.mp4", [(0, 1_000, "Long"), (1_000, 500, "Long\nShort"), (1_500, 1_000, "Long")]),
        ):
            track = CaptionTrack("en", "English", both)
            target = self.folder / name
            fill(VideoOrder(self.source, target, tracks=(track,)))
            with av.open(str(target)) as read:
                stream = read.streams.subtitles[0]
                found = []
                for packet in read.demux(stream):
                    text = bytes(packet)[2 * (name == "out.mp4") :].decode()
                    if packet.pts is not None and text:
                        unit = 1000 * packet.time_base
                        found.append((int(packet.pts * unit), int(packet.duration * unit), text))
            self.assertEqual(found, wanted)

    def test_italics_and_marks_stay_letters(self):
        make_video(self.source)
        (line,) = caption("a <b> & c").lines
        line = (line[0], replace(line[1], italic=True), *line[2:])
        tracks = (CaptionTrack("en", "English", (replace(SAID[0], lines=(line,)),)),)
        with av.open(str(self.made("out.mkv", tracks=tracks))) as read:
            packets = [one for one in read.demux(read.streams.subtitles[0]) if one.size]
        self.assertEqual(bytes(packets[0]).decode(), "a <i><b></i> & c")

    def test_a_file_that_cannot_hold_the_picture_is_told(self):
        make_video(self.source)
        with self.assertRaises(MediaError) as caught:
            self.made("out.webm", tracks=self.tracks())
        self.assertIn("h264", str(caught.exception))
        self.assertEqual(self.left(), ["moss.mp4"])


def drawn_on(path, plain):
    """The times of the frames that are not as in the same video without captions."""
    both = zip(frames_of(path), frames_of(plain), strict=True)
    lower = np.s_[-60:]
    return [
        time
        for (time, one), (_, other) in both
        if (np.abs(_grey(one)[lower] - _grey(other)[lower]) > 50).mean() > 0.002
    ]


def _grey(frame):
    return frame.to_ndarray(format="gray").astype(int)


if __name__ == "__main__":
    unittest.main()
