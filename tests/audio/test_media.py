import os
import unittest

import av
import numpy as np

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint
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
            "The file has no sound track: there is nothing to hear in it.",
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
