"""Choosing among recognisers, and those beside the built-in one."""

import shutil
import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.howtohear import HowToHear
from tamarind.speech.recognisers.builtin import model_folder
from tamarind.speech.recognisers.catalogue import NETWORK_FILES, SHIPPED, check, choice, load
from tamarind.speech.recognisers.errors import RecogniserError
from tests.speech.spoken import BECKETT
from tests.support import FolderTest, human_recording, word_error_rate


class Folders(FolderTest):
    def setUp(self):
        super().setUp()
        self.model = self.folder / "my model"
        self.model.mkdir()

    def fill(self):
        for name in NETWORK_FILES:
            shutil.copy(model_folder() / name, self.model / name)

    def test_a_whole_folder_is_heard_with_in_any_language_the_person_says(self):
        self.fill()
        self.assertEqual(choice(str(self.model)).label, "the model in my model")
        check(HowToHear("cy", recogniser=str(self.model)))
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        ((best, *_),) = load(str(self.model)).hear([sound], HowToHear("cy"))
        self.assertLess(word_error_rate(BECKETT, best.text), 0.2)

    def test_what_is_missing_is_named(self):
        with self.assertRaisesRegex(RecogniserError, "holds no model"):
            choice(str(self.model))
        self.fill()
        (self.model / "tokenizer.bin").unlink()
        with self.assertRaisesRegex(RecogniserError, "not whole: tokenizer.bin is missing"):
            choice(str(self.model))

    def test_a_damaged_model_is_told_when_it_is_loaded(self):
        self.fill()
        for name in NETWORK_FILES[:2]:
            whole = (self.model / name).read_bytes()
            (self.model / name).write_bytes(whole[:5000])
            with self.assertRaisesRegex(RecogniserError, "cannot be read"):
                load(str(self.model))
            (self.model / name).write_bytes(whole)


class Shipped(unittest.TestCase):
    def test_a_language_that_nothing_hears_is_told_at_once(self):
        for shipped in SHIPPED:
            check(HowToHear("en-IE", recogniser=shipped.name))
            with self.assertRaisesRegex(RecogniserError, "Nothing here hears “fr”"):
                check(HowToHear("fr", recogniser=shipped.name))

    def test_a_name_that_means_nothing(self):
        with self.assertRaisesRegex(RecogniserError, "“nobody” is no recogniser"):
            choice("nobody")


class SecondOpinion(FolderTest):
    def test_the_dictionary_hears_words_without_marks_and_with_certainties(self):
        sound = soundcache.fetch(human_recording("two_cities.wav")).samples()[: 16_000 * 9]
        recogniser = load("dictionary")
        (readings,) = recogniser.hear([sound], HowToHear())
        best = readings[0]
        self.assertIn("it was the best of times it was the worst of times", best.text)
        self.assertTrue(0.3 < np.mean([word.certainty for word in best.words]) < 1)
        self.assertTrue(all(word.text == word.text.lower() for word in best.words))
        self.assertTrue(all(0 <= word.certainty <= 1 for word in best.words))
        self.assertEqual(len({reading.text for reading in readings}), len(readings))
