"""Words that are written as one today are joined, and no others."""

import unittest
from dataclasses import replace

from tamarind.speech.alignment import TimedWord
from tamarind.speech.compounds import joined
from tamarind.speech.confidence import Sounding, with_sound
from tamarind.speech.hearing import soundings
from tamarind.speech.recognisers.base import HeardWord
from tamarind.speech.wordmodel import WordModel


class Compounds(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.language = WordModel()

    def written(self, text):
        words = [HeardWord(word, 0.9 - 0.1 * n) for n, word in enumerate(text.split())]
        self.result = joined(words, self.language)
        return " ".join(word.text for word in self.result)

    def test_old_spellings_are_joined_with_their_marks_and_capitals(self):
        self.assertEqual(self.written("Some body left, but no body listened."),
                         "Somebody left, but nobody listened.")  # fmt: skip
        self.assertEqual(self.written("We can't ask him to-night."), "We can't ask him tonight.")
        self.assertEqual(self.written("Good morning, every one."), "Good morning, everyone.")

    def test_a_joined_word_is_as_sure_as_its_less_sure_part(self):
        self.written("Some body left.")
        self.assertAlmostEqual(self.result[0].confidence, 0.8)

    def test_what_belongs_apart_stays_apart(self):
        for text in (
            "every one of the dams",
            "we go on to the moor for a while",
            "forty-two well-known pools",
            "come back in a day",
            "Thank you all.",
            "",
        ):
            self.assertEqual(self.written(text), text)


class Sound(unittest.TestCase):
    def test_confidence_falls_with_a_bad_fit_and_beside_doubtful_words(self):
        good = Sounding(0.0, 80.0, 0.0, 0.0)
        sure = [0.9, 0.9, 0.9]
        plain = with_sound(sure, [good] * 3)
        unfit = with_sound(sure, [good, replace(good, fit=-6.0), good])
        beside = with_sound([0.9, 0.9, 0.1], [good] * 3)
        unplaced = with_sound(sure, [good, replace(good, fit=None), good])
        for worse in (unfit, beside, unplaced):
            self.assertLess(worse[1], plain[1])
        self.assertAlmostEqual(unfit[0], plain[0])
        self.assertEqual(with_sound([], []), [])
        odd = [Sounding(None, 0.0, 1e6, 0.0), Sounding(50.0, 1e6, 0.0, 1e6)]
        self.assertTrue(all(0 < value < 1 for value in with_sound([0.0, 1.0], odd)))

    def test_speech_beside_a_word_is_what_no_word_covers(self):
        times = [TimedWord(100, 300, -1.0), TimedWord(700, 900, None)]
        found = soundings(["so", "well,"], times, [(50, 500), (650, 1_000)])
        self.assertEqual(found[0], Sounding(-1.0, 100.0, 50, 250))
        self.assertEqual(found[1], Sounding(None, 50.0, 250, 100))
