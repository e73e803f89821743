import io
import os
import unittest

import av
import numpy as np

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint, known_fingerprint
from tamarind.audio.media import MediaError, probe
from tamarind.audio.peaks import PEAK_MS, PeakMaker, columns
from tests.support import DEMO, FolderTest, tone, write_wav


class BadFiles(FolderTest):
    def reason(self, name, data=None):
        path = self.folder / name
        if data is not None:
            path.write_bytes(data)
        with self.assertRaises(MediaError) as caught:
            probe(path)
            soundcache.fetch(path)
        return str(caught.exception)

    def test_each_has_one_sentence_that_says_what_is_wrong(self):
        self.assertEqual(
            self.reason("none.wav"), "The file is no longer there: put it back, then try again."
        )
        self.assertEqual(
            self.reason("empty.wav", b""), "The file is empty: copy it again from where it came."
        )
        self.assertIn("no sound or video", self.reason("notes.mp3", b"just some notes\n" * 40))
        self.assertIn("no sound or video", self.reason("notes.txt", b"just some notes\n" * 40))
        self.assertIn("no sound or video", self.reason("noise.mp3", os.urandom(4000)))
        os.mkfifo(self.folder / "pipe.wav")
        self.assertIn("no file that could be read", self.reason("pipe.wav"))
        (self.folder / "folder.wav").mkdir()
        self.assertIn("folder", self.reason("folder.wav"))

    def test_a_picture_without_sound(self):
        path = self.folder / "silent.mp4"
        with av.open(str(path), "w") as out:
            stream = out.add_stream("mpeg4", rate=5)
            stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
            for _ in range(5):
                frame = av.VideoFrame.from_ndarray(np.zeros((48, 64, 3), np.uint8), "rgb24")
                out.mux(stream.encode(frame))
            out.mux(stream.encode(None))
        self.assertEqual(
            self.reason("silent.mp4"),
            "The file has no sound track: there is nothing to transcribe.",
        )

    def test_an_mp4_cut_off_before_its_index(self):
        data = (DEMO / "media" / "Water table lecture.mp4").read_bytes()
        self.assertIn("cut off", self.reason("half.mp4", data[: len(data) // 2]))

    def test_a_file_cut_off_in_the_middle_gives_what_is_there(self):
        whole = DEMO / "media" / "Site memo, north drain.ogg"
        data = whole.read_bytes()
        path = self.folder / "half.ogg"
        path.write_bytes(data[: len(data) // 2])
        sound = soundcache.fetch(path)
        share = sound.decoded.duration / soundcache.fetch(whole).decoded.duration
        self.assertTrue(0.3 < share < 0.7)

    def test_damage_in_the_middle_is_told_and_what_came_before_kept(self):
        data = bytearray((DEMO / "media" / "Warden interview.m4a").read_bytes())
        middle = len(data) // 2
        data[middle : middle + 60_000] = os.urandom(60_000)
        path = self.folder / "scratched.m4a"
        path.write_bytes(data)
        sound = soundcache.fetch(path)
        self.assertGreater(sound.decoded.duration, 40_000)
        self.assertIn("damaged", sound.decoded.damage or "")


class Decoding(FolderTest):
    def test_planes_of_twelve_channels_are_their_mean(self):
        path = self.folder / "twelve.wv"
        layout, rate = "12 channels", 16_000
        tone = np.sin(2 * np.pi * 440 * np.arange(2 * rate) / rate) * 8_000
        with av.open(str(path), "w", format="wv") as out:
            stream = out.add_stream("wavpack", rate=rate)
            stream.codec_context.format, stream.codec_context.layout = "s16p", layout
            planar = av.AudioResampler("s16p", layout, rate)
            for at in range(0, len(tone), 1_024):
                part = tone[at : at + 1_024].astype(np.int16)
                # Half of them have the tone, so that their mean is half as loud.
                sides = np.where(np.arange(12) % 2, part[:, None], 0).astype(np.int16)
                frame = av.AudioFrame("s16", layout, len(part))
                frame.planes[0].update(sides.tobytes())
                frame.sample_rate, frame.pts = rate, at
                for piece in planar.resample(frame):
                    out.mux(stream.encode(piece))
            out.mux(stream.encode(None))
        sound = soundcache.fetch(path)
        self.assertEqual(sound.decoded.duration, 2_000)
        level = np.sqrt(np.mean(np.square(sound.samples())))
        self.assertAlmostEqual(level, 4_000 / 32_768 / np.sqrt(2), places=3)

    def test_every_container_of_the_demo(self):
        for path in sorted((DEMO / "media").iterdir()):
            with self.subTest(path.name):
                info = probe(path)
                sound = soundcache.fetch(path)
                self.assertAlmostEqual(sound.decoded.duration, info.duration, delta=150)
                samples = sound.samples()
                self.assertEqual(len(samples), sound.decoded.samples)
                self.assertGreater(np.abs(samples).max(), 0.2)
                self.assertIsNone(sound.decoded.damage)

    def test_stereo_at_another_rate_becomes_16_khz_mono(self):
        both = np.stack([tone(1, rate=44_100), np.zeros(44_100)], axis=1)
        path = write_wav(self.folder / "stereo.wav", both, 44_100)
        self.assertEqual(probe(path).channels, 2)
        self.assertAlmostEqual(soundcache.fetch(path).decoded.samples, 16_000, delta=20)

    def test_a_spoilt_cache_is_made_again(self):
        path = write_wav(self.folder / "a.wav", tone(1))
        sound = soundcache.fetch(path)
        (sound.folder / "samples.f32").write_bytes(b"short")
        self.assertIsNone(soundcache.find(fingerprint(path)))
        self.assertEqual(len(soundcache.fetch(path).samples()), 16_000)

    def test_a_fingerprint_follows_the_contents_not_the_name(self):
        first = write_wav(self.folder / "a.wav", tone(1))
        second = write_wav(self.folder / "b.wav", tone(1))
        other = write_wav(self.folder / "c.wav", tone(1, 330))
        self.assertEqual(fingerprint(first), fingerprint(second))
        self.assertNotEqual(fingerprint(first), fingerprint(other))

    def test_two_tracks_of_a_session_are_two_recordings(self):
        """As long as each other, and the same silence at both ends."""
        quiet = np.zeros(40_000)
        first = write_wav(self.folder / "a.wav", np.concatenate([quiet, tone(1), quiet]))
        second = write_wav(self.folder / "b.wav", np.concatenate([quiet, tone(1, 330), quiet]))
        self.assertNotEqual(fingerprint(first), fingerprint(second))
        one, other = soundcache.fetch(first).samples(), soundcache.fetch(second).samples()
        self.assertFalse(np.array_equal(one, other))

    def test_a_fingerprint_is_made_anew_when_the_file_is_another(self):
        path = write_wav(self.folder / "a.wav", tone(1))
        before = fingerprint(path)
        self.assertEqual(known_fingerprint(path), before)
        state = path.stat()
        write_wav(path, tone(1, 330))
        os.utime(path, ns=(state.st_atime_ns, state.st_mtime_ns))
        self.assertEqual(known_fingerprint(path), "")
        self.assertNotEqual(fingerprint(path), before)


class OddSound(FolderTest):
    def decoded(self, name, data):
        (self.folder / name).write_bytes(data)
        return soundcache.fetch(self.folder / name).decoded

    def encoded(self, rate):
        out = io.BytesIO()
        with av.open(out, "w", format="adts") as file:
            stream = file.add_stream("aac", rate=rate, layout="mono")
            sound = tone(2, rate=rate).astype(np.float32)[None]
            frame = av.AudioFrame.from_ndarray(sound, "fltp", "mono")
            frame.sample_rate = rate
            parts = av.AudioResampler("fltp", "mono", rate, stream.frame_size).resample(frame)
            for part in (*parts, None):
                file.mux(stream.encode(part))
        return out.getvalue()

    def test_the_rate_changes_on_the_way(self):
        made = self.decoded("rates.aac", self.encoded(44_100) + self.encoded(22_050))
        self.assertAlmostEqual(made.duration, 4_000, delta=200)

    def test_more_channels_than_have_a_place_in_a_room(self):
        sound = np.repeat(tone(1)[:, None], 64, axis=1)
        write_wav(self.folder / "many.wav", sound)
        samples = soundcache.fetch(self.folder / "many.wav").samples()
        self.assertAlmostEqual(float(np.abs(samples).max()), 0.3, delta=0.01)

    def test_headers_that_cannot_be_true_are_a_sentence(self):
        data = bytearray(write_wav(self.folder / "a.wav", tone(1)).read_bytes())
        for place, value in ((34, b"\0\0"), (24, b"\0\0\0\0"), (24, b"\xff\xff\xff\x7f"),
                             (22, b"\0\0"), (22, b"\xff\xff")):  # fmt: skip
            odd = bytearray(data)
            odd[place : place + len(value)] = value
            with self.assertRaises(MediaError) as caught:
                self.decoded("odd.wav", bytes(odd))
            self.assertTrue(str(caught.exception).endswith("."), caught.exception)


class Room(FolderTest):
    def test_what_was_not_used_for_longest_goes_but_never_what_is_open(self):
        paths = [write_wav(self.folder / f"{n}.wav", tone(10, 200 + n)) for n in range(4)]
        folders = [soundcache.fetch(path).folder for path in paths]
        one = soundcache.kept() // 4
        soundcache.let_go()
        soundcache.find(fingerprint(paths[0]))
        for age, folder in enumerate(folders):
            os.utime(folder, (1000 + age, 1000 + age))
        left = soundcache.make_room(int(one * 2.5))
        self.assertLessEqual(left, one * 2.5)
        self.assertEqual([f.is_dir() for f in folders], [True, False, False, True])
        self.assertEqual(soundcache.make_room(0), soundcache.kept())
        self.assertEqual([f.is_dir() for f in folders], [True, False, False, False])

    def test_a_part_takes_the_room_of_a_part_and_is_the_same_sound(self):
        path = write_wav(self.folder / "long.wav", np.concatenate([tone(30), tone(30, 330)]))
        part = soundcache.fetch(path, part=(20_000, 25_000))
        self.assertFalse(part.is_whole)
        self.assertLess(part.decoded.duration, 28_000)
        taken = (part.folder / "samples.f32").stat().st_blocks * 512
        self.assertLess(taken, 9 * 16_000 * 4)
        whole = soundcache.fetch(path).samples()
        span = slice(20 * 16_000, 25 * 16_000)
        np.testing.assert_array_equal(part.samples()[span], whole[span])
        # A whole one serves for any part.
        self.assertTrue(soundcache.fetch(path, part=(1_000, 2_000)).is_whole)

    def test_what_earlier_versions_kept_is_not_trusted(self):
        path = write_wav(self.folder / "a.wav", tone(1))
        old = soundcache.cache_home() / "sound" / ("0" * 32)
        old.mkdir(parents=True)
        soundcache.clear_away()
        self.assertFalse(old.exists())
        self.assertTrue(soundcache.fetch(path).folder.is_dir())


class Peaks(unittest.TestCase):
    def test_peaks_do_not_depend_on_how_the_sound_came(self):
        sound = np.random.default_rng(1).uniform(-1, 1, 5000).astype(np.float32)
        whole, pieces = PeakMaker(), PeakMaker()
        whole.add(sound)
        for part in np.array_split(sound, 17):
            pieces.add(part)
        np.testing.assert_array_equal(whole.finished(), pieces.finished())

    def test_columns_show_a_click_wherever_it_is(self):
        peaks = np.zeros(1000, np.float16)
        peaks[437] = 1
        for count in (1, 7, 100, 3000):
            shown = columns(peaks, 0, 1000 * PEAK_MS, count)
            self.assertEqual(len(shown), count)
            self.assertEqual(shown.max(), 1)
            self.assertAlmostEqual(int(shown.argmax()) / count, 0.437, delta=0.5 / count + 0.01)

    def test_columns_beyond_the_sound_are_quiet(self):
        peaks = np.ones(100, np.float16)
        shown = columns(peaks, 500, 1500, 10)
        self.assertEqual(shown[:5].tolist(), [1] * 5)
        self.assertEqual(shown[6:].tolist(), [0] * 4)
        self.assertEqual(columns(peaks, 5000, 6000, 4).tolist(), [0] * 4)
