"""Word times: near the truth in clean and in noisy sound, for any word, and how well words fit."""

import itertools
import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.alignment import NO_FIT, Aligner
from tamarind.speech.pronouncing import pronunciations
from tamarind.speech.pronunciation import sounded_out, spoken_forms
from tests.support import FolderTest, human_recording

TEXT = "Ever tried. Ever failed. No matter. Try again. Fail again. Fail better."


class Alignment(FolderTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.aligner = Aligner()

    def setUp(self):
        super().setUp()
        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        self.sound = np.array(samples[: 16_000 * 10], np.float32)

    def align(self, words, sound, speech):
        (times,) = self.aligner.align([sound], [words], [speech])
        return times

    def test_words_no_dictionary_knows_get_a_place_of_their_own(self):
        words = "Ever tried, ever failed. Sphagnxx matter, 1952 – again.".split()
        times = self.align(words, self.sound[: 16_000 * 6], [(200, 5500)])
        self.assertEqual(len(times), len(words))
        for before, time in itertools.pairwise(times):
            self.assertLessEqual(before.end, time.start)
        self.assertTrue(all(time.end - time.start >= 20 for time in times))
        self.assertAlmostEqual(times[0].start, 256, delta=80)
        self.assertFalse(times[words.index("–")].aligned)

    def test_a_text_that_does_not_fit_is_spread_over_the_speech(self):
        times = self.align(["quite"] * 200, self.sound[:16_000], [(100, 900)])
        self.assertEqual(len(times), 200)
        self.assertTrue(all(time.end > time.start for time in times))
        self.assertFalse(any(time.aligned for time in times))

    def test_steady_noise_hardly_moves_a_word(self):
        words = TEXT.split()
        clean = self.align(words, self.sound, [])
        noise = np.random.default_rng(2).standard_normal(len(self.sound)).astype(np.float32)
        level = np.sqrt(np.mean(self.sound**2))
        noisy = self.align(words, self.sound + noise * level * 10 ** (-10 / 20), [])
        moved = [abs(a.start - b.start) for a, b in zip(clean, noisy, strict=True)]
        self.assertLessEqual(np.median(moved), 50)
        self.assertLessEqual(max(moved), 250)

    def test_what_was_said_fits_better_than_what_was_not(self):
        words = TEXT.split()
        wrong = [*words]
        wrong[1], wrong[5] = "hydrology.", "bicycle."
        said, other = self.align(words, self.sound, []), self.align(wrong, self.sound, [])
        for place in (1, 5):
            self.assertLess(other[place].fit, said[place].fit - 3)

    def test_of_whole_texts_the_one_that_was_said_fits_best(self):
        texts = [TEXT.split(), "Ever cried. Ever mailed. No batter.".split(), ["quite"] * 999]
        fits = self.aligner.fits(self.sound, texts)
        self.assertGreater(fits[0], fits[1] + 50)
        self.assertEqual(fits[2], NO_FIT)

    def test_sounds_do_not_depend_on_their_company(self):
        words = TEXT.split()
        alone = self.align(words, self.sound, [])
        short = self.sound[: 16_000 * 3]
        _, together = self.aligner.align([short, self.sound], [words[:2], words], [[], []])
        self.assertEqual([(t.start, t.end) for t in alone], [(t.start, t.end) for t in together])

    def test_a_sound_shorter_than_a_step_and_an_empty_text(self):
        self.assertEqual(self.align([], self.sound, []), [])
        (time,) = self.align(["Again."], self.sound[:50], [])
        self.assertFalse(time.aligned)


class Pronouncing(unittest.TestCase):
    def test_how_figures_and_marks_are_said(self):
        self.assertEqual(spoken_forms("1952,"), ["nineteen", "fifty", "two"])
        self.assertEqual(spoken_forms("40%"), ["forty", "percent"])
        self.assertEqual(spoken_forms("–"), [])
        self.assertEqual(spoken_forms("Warden’s"), ["warden's"])
        self.assertEqual(sounded_out("sphag"), "S F AE G")
        self.assertEqual(sounded_out("bbc"), "B IY B IY S IY")

    def test_a_word_may_be_said_in_several_ways(self):
        self.assertEqual(pronunciations("the"), (("DH", "AH"), ("DH", "IY")))
        self.assertEqual(pronunciations("sphag"), (("S", "F", "AE", "G"),))
