"""Choosing among recognisers, and those beside the built-in one."""

import shutil
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.alignment import Aligner
from tamarind.speech.hearing import Tools, hear
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.speech.recognisers.builtin import model_folder
from tamarind.speech.recognisers.catalogue import check, choice, load, shipped
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.folder import NETWORK_FILES, look_into
from tests.speech.spoken import BECKETT
from tests.speech.tinymodel import make_model
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
        check(HearingOptions("cy", recogniser=str(self.model)))
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        ((best, *_),) = load(str(self.model), Aligner()).hear([sound], HearingOptions("cy"))
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
                load(str(self.model), Aligner())
            (self.model / name).write_bytes(whole)


class CTranslateFolders(FolderTest):
    """With random weights: that a model loads, is told its language, and its words are taken."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.kept = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.kept.cleanup)
        make_model(Path(cls.kept.name) / "tiny")

    def setUp(self):
        super().setUp()
        self.model = self.folder / "tiny"
        shutil.copytree(Path(self.kept.name) / "tiny", self.model)
        self.how = HearingOptions("cy", recogniser=str(self.model))

    def test_a_sentence_says_what_it_is_and_what_is_missing(self):
        self.assertRegex(
            look_into(self.model).sentence(), "tiny: .*CTranslate2.* 3 languages, . MB"
        )
        for name in ("config.json", "tokenizer.json", "vocabulary.json"):
            whole = (self.model / name).read_bytes()
            (self.model / name).unlink()
            with self.assertRaisesRegex(RecogniserError, f"not whole: {name} is missing"):
                choice(str(self.model))
            (self.model / name).write_bytes(whole)
        (self.model / "tokenizer.json").write_text("{}")
        with self.assertRaisesRegex(RecogniserError, "tokenizer.json .* cannot be read"):
            choice(str(self.model))

    def test_its_languages_are_heard_and_no_others(self):
        check(self.how)
        with self.assertRaisesRegex(RecogniserError, "Nothing here recognises “fr”"):
            check(replace(self.how, language="fr"))
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        recogniser = load(str(self.model), Aligner())
        ((reading,),) = recogniser.hear([sound], self.how)
        for word in reading.words:
            self.assertTrue(0 <= word.confidence <= 1 and word.text)
        with self.assertRaisesRegex(RecogniserError, "Spanish only, not “fr”"):
            recogniser.hear([sound], HearingOptions("fr"))

    def test_a_damaged_model_is_told_when_it_is_loaded(self):
        (self.model / "model.bin").write_bytes(b"no model")
        with self.assertRaisesRegex(RecogniserError, "cannot be used"):
            load(str(self.model), Aligner())

    def test_without_the_extra_package_the_way_to_it_is_told(self):
        with (
            mock.patch("importlib.util.find_spec", return_value=None),
            self.assertRaisesRegex(RecogniserError, "pip install"),
        ):
            choice(str(self.model))


class Scripted:
    """Hears what it is told to, at the times that it is told."""

    languages = ()

    def __init__(self, words):
        self.words = words

    def hear(self, segments, how):
        return [[Hypothesis(self.words, 0.0)] for _ in segments]


class OwnTimes(FolderTest):
    def hear(self, language):
        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        words = tuple(
            HeardWord(word, 0.9, time=(100 * n, 100 * n + 90))
            for n, word in enumerate(BECKETT.split())
        )
        tools = Tools(Scripted(words), Aligner(), None)
        how = HearingOptions(language)
        found = [w for s in hear(samples, tools, how, (0, 20_000)) for w in s.words]
        return [word.end - word.start for word in found]

    def test_they_are_kept_only_where_nobody_knows_how_words_are_said(self):
        self.assertLess(self.hear("en").count(90), 4)
        self.assertLess(self.hear("cy").count(90), 4)
        self.assertGreaterEqual(self.hear("ast").count(90), len(BECKETT.split()) - 3)


class Shipped(unittest.TestCase):
    def test_a_language_that_nothing_hears_is_told_at_once(self):
        for known in shipped():
            check(HearingOptions("en-IE", recogniser=known.name))
            with self.assertRaisesRegex(RecogniserError, "Nothing here recognises “ast”"):
                check(HearingOptions("ast", recogniser=known.name))

    def test_a_name_that_means_nothing(self):
        with self.assertRaisesRegex(RecogniserError, "“nobody” is no recogniser"):
            choice("nobody")


class SecondOpinion(FolderTest):
    def test_the_dictionary_hears_words_without_marks_and_with_confidences(self):
        sound = soundcache.fetch(human_recording("two_cities.wav")).samples()[: 16_000 * 9]
        recogniser = load("dictionary", Aligner())
        (hypotheses,) = recogniser.hear([sound], HearingOptions())
        best = hypotheses[0]
        self.assertIn("it was the best of times it was the worst of times", best.text)
        self.assertTrue(0.3 < np.mean([word.confidence for word in best.words]) < 1)
        self.assertTrue(all(word.text == word.text.lower() for word in best.words))
        self.assertTrue(all(0 <= word.confidence <= 1 for word in best.words))
        self.assertEqual(len({reading.text for reading in hypotheses}), len(hypotheses))
