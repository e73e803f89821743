"""Which language is spoken: at several places, when it may be taken unasked, and in turns."""

import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.alignment import Aligner
from tamarind.speech.hearing import Tools, hear
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.identification import identify, languages_in
from tamarind.speech.languageguess import Guess, is_sure, speaks_against
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tests.support import FolderTest, human_recording

RATE = 16_000


def said(name):
    """A recording of people at full length."""
    return np.array(soundcache.fetch(human_recording(name)).samples())


class Listener:
    """Says what a sound is by how loud it is: each level stands for a language."""

    def __init__(self, by_level):
        self.by_level, self.asked = by_level, 0

    def languages_heard(self, sound):
        self.asked += 1
        level = float(np.abs(sound).max()) if len(sound) else 0.0
        return min(self.by_level, key=lambda entry: abs(entry[0] - level))[1]


def at(level, seconds):
    """A segment of one level."""
    return np.full(int(seconds * RATE), level, np.float32)


class FindingOut(FolderTest):
    def test_people_are_heard_at_several_places_and_silence_is_passed_over(self):
        speech = said("two_cities.wav")[: 20 * RATE]
        sound = np.concatenate([np.zeros(40 * RATE, np.float32), np.tile(speech, 3)])
        listener = Listener([(0.5, {"es": 0.7, "it": 0.3})])
        guesses = identify(sound, (0, len(sound) * 1000 // RATE), listener)
        self.assertEqual([guess.language for guess in guesses], ["es", "it"])
        self.assertAlmostEqual(guesses[0].probability, 0.7, 3)
        self.assertIn(listener.asked, (2, 3))

    def test_speech_in_one_place_of_a_long_silence_is_found(self):
        sound = np.zeros(400 * RATE, np.float32)
        speech = said("beckett.wav")
        sound[340 * RATE : 340 * RATE + len(speech)] = speech
        guesses = identify(sound, (0, 400_000), Listener([(0.5, {"en": 1.0})]))
        self.assertEqual(guesses[0].language, "en")

    def test_where_nobody_speaks_there_is_no_guess(self):
        listener = Listener([(0.5, {"en": 1.0})])
        self.assertEqual(identify(np.zeros(90 * RATE, np.float32), (0, 90_000), listener), ())

    def test_what_no_one_brings_is_no_answer_and_makes_no_other_one_sure(self):
        speech = np.tile(said("two_cities.wav")[: 20 * RATE], 2)
        listener = Listener([(0.5, {"la": 0.85, "it": 0.15})])
        guesses = identify(speech, (0, 40_000), listener)
        self.assertEqual([guess.language for guess in guesses], ["it"])
        self.assertFalse(is_sure(guesses))


class WhatFollows(unittest.TestCase):
    def test_only_a_clear_answer_is_taken_or_speaks_against_a_choice(self):
        unsure = (Guess("sv", 0.5), Guess("no", 0.4), Guess("da", 0.02))
        self.assertFalse(is_sure(unsure) or is_sure(()))
        self.assertFalse(speaks_against(unsure, "en"))
        sure = (Guess("sv", 0.93),)
        self.assertTrue(speaks_against(sure, "en"))
        self.assertFalse(speaks_against(sure, "sv-FI") or speaks_against(sure, "en", "sv"))


class TwoEars:
    """Tells two languages by their loudness, and says in which it was asked to hear."""

    languages = ("fr", "ru")

    def __init__(self):
        self.asked = []

    def languages_heard(self, sound):
        loud = float(np.abs(sound).max()) > 0.1
        return {"fr": 0.97, "ru": 0.02} if loud else {"fr": 0.02, "ru": 0.97}

    def hear(self, segments, how):
        self.asked += [(how.language, how.others, len(one) / RATE) for one in segments]
        return [[Hypothesis((HeardWord(f"{how.language}-word", 0.9),), 0.0)] for _ in segments]


class SeveralLanguages(FolderTest):
    def test_each_stretch_is_heard_in_its_language_in_pieces_as_long_as_they_can_be(self):
        loud = said("beckett.wav")
        loud = loud / np.abs(loud).max() * 0.5
        sound = np.concatenate([loud, np.zeros(RATE, np.float32), loud * 0.1]).astype(np.float32)
        ears = TwoEars()
        how = HearingOptions("fr", others=("ru",))
        tools = Tools(ears, Aligner(), None)
        found = list(hear(sound, tools, how, (0, len(sound) * 1000 // RATE)))
        words = [word for stretch in found for word in stretch.words]
        tags = [tag for stretch in found for tag in stretch.languages]
        self.assertEqual([word.text.split("-")[0].casefold() for word in words], tags)
        self.assertEqual(list(dict.fromkeys(tags)), ["fr", "ru"])
        border = len(loud) / RATE * 1000
        self.assertTrue(
            all((w.start > border) == (t == "ru") for w, t in zip(words, tags, strict=True))
        )
        self.assertTrue(all(others == () for _, others, _ in ears.asked))
        self.assertGreater(max(length for _, _, length in ears.asked), 4)


class Turns(unittest.TestCase):
    def test_each_segment_is_in_its_language_and_a_short_doubtful_one_goes_with_the_others(self):
        french, russian = {"fr": 0.98, "ru": 0.01}, {"ru": 0.98, "fr": 0.01}
        doubtful = {"fr": 0.3, "ru": 0.6}
        listener = Listener([(0.1, french), (0.2, russian), (0.3, doubtful)])
        segments = [at(level, 2) for level in (0.1, 0.3, 0.1, 0.2, 0.2, 0.1)]
        self.assertEqual(
            languages_in(segments, ("fr", "ru"), listener), ["fr", "fr", "fr", "ru", "ru", "fr"]
        )

    def test_one_segment(self):
        listener = Listener([(0.1, {"fr": 0.9})])
        self.assertEqual(languages_in([at(0.1, 1)], ("ru", "fr"), listener), ["fr"])
        self.assertEqual(languages_in([], ("ru", "fr"), listener), [])


if __name__ == "__main__":
    unittest.main()
