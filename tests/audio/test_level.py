import numpy as np

from tamarind.audio import soundcache
from tamarind.audio.fingerprint import fingerprint
from tamarind.audio.level import level_of
from tamarind.audio.media import MediaError
from tamarind.audio.peaks import PeakMaker
from tests.support import FolderTest, tone, write_wav


class Levels(FolderTest):
    def level(self, sound, rate=16_000):
        return level_of(write_wav(self.folder / "level.wav", sound, rate))

    def test_a_tone_has_the_level_that_it_has(self):
        for loud in (0.5, 0.05, 0.005):
            level = self.level(tone(12) / 0.3 * loud)
            self.assertAlmostEqual(level.loud_db, 20 * np.log10(loud / np.sqrt(2)), delta=0.5)
            self.assertFalse(level.clipped)

    def test_what_is_cut_off_at_the_top_is_seen(self):
        self.assertTrue(self.level(np.clip(8 * tone(12), -1, 1)).clipped)
        self.assertFalse(self.level(0.9 * tone(12) / 0.3).clipped)

    def test_silence_short_files_and_what_is_no_sound(self):
        self.assertLessEqual(self.level(np.zeros(48_000)).loud_db, -89)
        self.assertIsNotNone(self.level(tone(0.3)))
        path = self.folder / "no.wav"
        path.write_text("nothing to hear " * 9)
        with self.assertRaises(MediaError):
            level_of(path)


class AsItComes(FolderTest):
    def test_peaks_are_told_once_and_in_order(self):
        maker = PeakMaker()
        sound = np.random.default_rng(1).random(16_000).astype(np.float32)
        told = []
        for start in range(0, len(sound), 3_000):
            maker.add(sound[start : start + 3_000])
            told.append(maker.taken())
        self.assertEqual(len(maker.taken()), 0)
        whole = maker.finished()
        joined = np.concatenate(told)
        np.testing.assert_array_equal(joined, whole[: len(joined)])

    def test_a_sound_is_decoded_once_and_what_was_left_half_made_goes(self):
        path = write_wav(self.folder / "a.wav", tone(3))
        sound = soundcache.fetch(path)
        again = soundcache.fetch(path)
        self.assertEqual(sound.folder, again.folder)
        half_made = sound.folder.with_name(f"{fingerprint(path)}.999999999")
        half_made.mkdir()
        soundcache.clear_away()
        self.assertFalse(half_made.exists())
        self.assertTrue(sound.folder.is_dir())
        self.assertEqual(list(sound.folder.parent.glob("*.lock")), [])
