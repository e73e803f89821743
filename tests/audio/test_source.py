"""Which sound of a file is decoded: tracks, sides, clean-up."""

from fractions import Fraction

import av
import numpy as np

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.media import MediaError
from tamarind.audio.peaks import LevelMaker
from tamarind.audio.source import Channel, Source
from tests.support import FolderTest, human_recording, tone, write_wav

RATE = 16_000


def strength(samples, frequency):
    """How strong one frequency is in a sound."""
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(len(samples))))
    place = round(frequency * len(samples) / RATE)
    return spectrum[place - 3 : place + 4].max() / len(samples)


class Sides(FolderTest):
    def setUp(self):
        super().setUp()
        stereo = np.stack([tone(2, 300), tone(2, 700)], 1)
        self.path = write_wav(self.folder / "sides.wav", stereo)

    def sound(self, channel):
        return soundcache.fetch(self.path, Source(channel=channel)).samples()

    def test_each_side_is_decoded_by_itself_and_both_together(self):
        for channel, low, high in (
            (Channel.LEFT, True, False),
            (Channel.RIGHT, False, True),
            (Channel.MIX, True, True),
        ):
            samples = self.sound(channel)
            self.assertEqual(strength(samples, 300) > 0.01, low)
            self.assertEqual(strength(samples, 700) > 0.01, high)

    def test_every_source_has_its_own_place_in_the_cache(self):
        self.sound(Channel.LEFT)
        mark = fingerprint(self.path)
        self.assertIsNone(soundcache.find(mark))
        self.assertIsNotNone(soundcache.find(mark, Source(channel=Channel.LEFT)))

    def test_the_levels_of_both_sides_are_kept(self):
        half = np.arange(2 * RATE) < RATE
        path = write_wav(self.folder / "turns.wav", np.stack([tone(2) * half, tone(2) * ~half], 1))
        levels = soundcache.fetch(path).levels()
        self.assertEqual(levels.shape, (2, 200))
        self.assertTrue((levels[0, 5:95] > 0.1).all() and (levels[1, 5:95] < 0.01).all())
        self.assertTrue((levels[1, 105:195] > 0.1).all() and (levels[0, 105:195] < 0.01).all())
        mono = soundcache.fetch(write_wav(self.folder / "mono.wav", tone(1))).levels()
        self.assertEqual(mono.size, 0)

    def test_levels_do_not_depend_on_how_the_sound_comes_in(self):
        sound = np.random.default_rng(1).standard_normal((2, 5000)).astype(np.float32) * 0.1
        whole, parts = LevelMaker(), LevelMaker()
        whole.add(sound)
        for piece in np.array_split(sound, 23, axis=1):
            parts.add(piece)
        np.testing.assert_array_equal(whole.finished(), parts.finished())


class Tracks(FolderTest):
    def setUp(self):
        super().setUp()
        self.path = self.folder / "two.mkv"
        with av.open(str(self.path), "w") as out:
            streams = [out.add_stream("pcm_s16le", rate=RATE, layout="mono") for _ in range(2)]
            for stream, frequency in zip(streams, (300, 700), strict=True):
                data = (tone(2, frequency) * 32767).astype("<i2")[None]
                frame = av.AudioFrame.from_ndarray(data, "s16", "mono")
                frame.sample_rate, frame.pts, frame.time_base = RATE, 0, Fraction(1, RATE)
                out.mux([*stream.encode(frame), *stream.encode(None)])

    def test_a_track_is_chosen_by_its_number(self):
        for track, frequency, other in ((0, 300, 700), (1, 700, 300)):
            samples = soundcache.fetch(self.path, Source(track=track)).samples()
            self.assertGreater(strength(samples, frequency), 10 * strength(samples, other))

    def test_a_track_that_is_not_there_is_told(self):
        with self.assertRaisesRegex(MediaError, "only 2 sound tracks, not a number 3"):
            soundcache.fetch(self.path, Source(track=2))


class Cleaned(FolderTest):
    def test_hum_and_hiss_go_down_and_speech_stays(self):
        speech = np.array(soundcache.fetch(human_recording("beckett.wav")).samples())
        noise = np.random.default_rng(1).standard_normal(len(speech)) * 0.01
        hum = 0.05 * np.sin(2 * np.pi * 50 * np.arange(len(speech)) / RATE)
        path = write_wav(self.folder / "bad.wav", speech + noise + hum)
        before = soundcache.fetch(path).samples()
        after = soundcache.fetch(path, Source(clean=True)).samples()
        self.assertAlmostEqual(len(after), len(before), delta=RATE // 10)
        # The middle of a pause against the middle of a word.
        pause, word = (
            slice(int(1.35 * RATE), int(1.7 * RATE)),
            slice(int(2.2 * RATE), int(2.6 * RATE)),
        )
        gained = [np.std(s[word]) / np.std(s[pause]) for s in (before, after)]
        self.assertGreater(gained[1], 2 * gained[0])
        hums = [strength(s, 50) / np.std(s[word]) for s in (before, after)]
        self.assertLess(hums[1], hums[0] / 3)
