"""Networks for many languages: their ears and their decoder against the library's own, the model
that comes along, and how words of any language are said and timed."""

import os
import subprocess
import sys
import tempfile
import unittest
from importlib import metadata
from pathlib import Path
from unittest import mock

import ctranslate2
import numpy as np
from faster_whisper.feature_extractor import FeatureExtractor

from tamarind.audio import soundcache
from tamarind.speech import espeak
from tamarind.speech.alignment import Aligner
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.ipa import arpabet
from tamarind.speech.pronouncer import pronouncer_for
from tamarind.speech.recognisers import network
from tamarind.speech.recognisers.catalogue import best_for, load
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.recognisers.known.multilingual import MANY
from tamarind.speech.recognisers.multilingual import carried
from tamarind.speech.recognisers.multilingual.mel import log_mel
from tamarind.speech.recognisers.multilingual.network import MultilingualNetwork
from tamarind.speech.search import search
from tests.speech.tinymodel import make_model
from tests.support import FolderTest, human_recording, word_error_rate

BECKETT = "Ever tried. Ever failed. No matter. Try again. Fail again. Fail better."


class AgainstTheLibrary(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        kept = tempfile.TemporaryDirectory()
        cls.addClassCleanup(kept.cleanup)
        cls.folder = Path(kept.name) / "tiny"
        make_model(cls.folder, seed=23)
        # A network as narrow as this one is another once it is rounded.
        with mock.patch.object(network, "multiplies_bytes", lambda: False):
            cls.network = MultilingualNetwork(cls.folder)
        cls.library = ctranslate2.models.Whisper(str(cls.folder), compute_type="float32")

    def setUp(self):
        self.sound = np.random.default_rng(3).normal(0, 0.1, 32_000).astype(np.float32)

    def test_the_spectrogram_is_the_one_that_the_networks_know(self):
        theirs = FeatureExtractor()(np.pad(self.sound, (0, 480_000 - len(self.sound))))
        np.testing.assert_allclose(log_mel(self.sound, 80), theirs[:, :3000], atol=1e-3)

    def test_each_step_finds_the_librarys_token(self):
        how = HearingOptions("es")
        hidden = self.network.listen(self.sound)
        vocabulary = self.network.vocabulary
        state = self.network.begin([hidden], 1, how)
        found = search(state, np.array([24]), 1, self.network.first, self.network.end)[0][0]
        (theirs,) = self.library.generate(
            ctranslate2.StorageView.from_array(hidden[None]), [vocabulary.prompt("es")],
            beam_size=1, max_length=60, suppress_blank=False,
            suppress_tokens=vocabulary.barred,
        )  # fmt: skip
        theirs = theirs.sequences_ids[0][:24]
        self.assertEqual(list(found.tokens[: len(theirs)]), theirs)
        self.assertGreater(len(set(theirs)), 4)

    def test_a_whole_text_is_as_likely_as_its_steps(self):
        how = HearingOptions("cy")
        hidden = self.network.listen(self.sound)
        state = self.network.begin([hidden], 1, how)
        text = search(state, np.array([9]), 1, self.network.first, self.network.end)[0][0]
        end = state.step(np.array([text.tokens[-1]]))[0, self.network.end]
        short, _ = self.network.score(hidden, [text.tokens, (*text.tokens, 7)], how)
        told = self.network.begin([hidden], 1, how)
        first = self.network.score(hidden, [()], how)[0]
        alone = told.step(np.array([self.network.first]))[0, self.network.end]
        self.assertAlmostEqual(
            float(short - first),
            sum(text.log_probabilities) + float(end) - float(alone),
            delta=0.01,
        )

    def test_words_of_bytes_in_several_tokens_are_whole(self):
        vocabulary = self.network.vocabulary
        tokens = vocabulary.encode(" ¿Qué? Пушица")
        words = [word for word, _ in vocabulary.words(tokens)]
        self.assertEqual(words, ["¿Qué?", "Пушица"])


class Rounding(unittest.TestCase):
    def setUp(self):
        random = np.random.default_rng(8)
        self.weight = random.normal(0, 0.05, (512, 2048)).astype(np.float32)
        self.rows = random.normal(0, 1, (9, 512)).astype(np.float32)
        self.rows[4, 17] = 80.0

    def product(self, is_quick):
        made = network.Network(("x",))
        with mock.patch.object(network, "multiplies_bytes", lambda: is_quick):
            product = made.rounded_product("x", self.weight)
        return made.ending((product,))

    def test_products_of_bytes_are_nearly_those_of_floats_whatever_one_row_has(self):
        true = self.rows @ self.weight
        for is_quick in (True, False):
            (found,) = self.product(is_quick)(self.rows)
            wrong = np.square(found - true).mean(axis=1) / np.square(true).mean(axis=1)
            self.assertLess(float(np.sqrt(wrong.max())), 0.08)
            self.assertLess(float(np.sqrt(np.delete(wrong, 4).max())), 0.02)

    def test_a_row_does_not_hang_on_those_beside_it(self):
        product = self.product(True)
        (together,), (alone,) = product(self.rows), product(self.rows[2:3])
        np.testing.assert_array_equal(together[2], alone[0])
        (nothing,) = product(np.zeros((1, 512), np.float32))
        self.assertEqual(float(np.abs(nothing).max()), 0.0)


class TheModelThatComesAlong(FolderTest):
    def install(self, part1=None, part2=None):
        """Two packages in the way that stand before the real ones."""
        site = self.folder / "site"
        for package, data in zip(carried.PACKAGES, (part1, part2), strict=True):
            name = package.replace("-", "_")
            info = site / f"{name}-1.0.0.dist-info"
            info.mkdir(parents=True)
            (info / "METADATA").write_text(
                f"Metadata-Version: 2.1\nName: {package}\nVersion: 1.0.0\n"
            )
            files = data or {}
            (site / name / "data").mkdir(parents=True)
            for file, content in files.items():
                (site / name / "data" / file).write_bytes(content)
            (info / "RECORD").write_text(
                "".join(f"{name}/data/{file},,\n" for file in files) + f"{info.name}/METADATA,,\n"
            )
        path = mock.patch.object(sys, "path", [str(site), *sys.path])
        path.start()
        self.addCleanup(path.stop)

    def test_it_hears_people_and_is_put_together_once(self):
        recogniser = load(MANY, Aligner())
        sound = soundcache.fetch(human_recording("beckett.wav")).samples()
        ((best, *_),) = recogniser.hear([sound], HearingOptions("en"))
        self.assertLess(word_error_rate(BECKETT, best.text), 0.1)
        confidences = [word.confidence for word in best.words]
        self.assertGreater(min(confidences), 0.0)
        whole = carried.folder() / "model.bin"
        before = whole.stat()
        carried.folder()
        self.assertEqual(whole.stat().st_ino, before.st_ino)
        whole.write_bytes(b"cut off")
        left = whole.parent.parent / "putting-together-killed"
        left.mkdir()
        os.utime(left, (0, 0))
        carried.folder()
        self.assertEqual(whole.stat().st_size, carried.SIZE)
        self.assertEqual([p.name for p in whole.parent.parent.iterdir()], [whole.parent.name])

    def test_a_damaged_or_missing_half_is_a_sentence_and_leaves_nothing(self):
        others = {"config.json": b"{}", "tokenizer.json": b"{}", "vocabulary.txt": b"x"}
        self.install({"model.bin.part1": b"one", **others}, {"model.bin.part2": b"two"})
        with self.assertRaisesRegex(RecogniserError, "damaged; install it again"):
            carried.folder()
        self.assertEqual(list((self.folder / "XDG_CACHE_HOME/tamarind/models").iterdir()), [])

    def test_without_its_second_half(self):
        self.install({"model.bin.part1": b"one", "config.json": b"{}"}, {})
        self.assertFalse(carried.is_there())
        with self.assertRaisesRegex(RecogniserError, "model.bin.part2 is missing"):
            carried.folder()

    def test_english_of_other_languages_is_heard_by_what_knows_several(self):
        for name in ("builtin", "dictionary", MANY):
            self.assertEqual(
                best_for(HearingOptions("fr", recogniser=name, into_english=True)), MANY
            )

    def test_the_language_chooses(self):
        self.assertEqual(best_for(HearingOptions("en-GB")), "builtin")
        self.assertEqual(best_for(HearingOptions("es-MX")), MANY)
        self.assertEqual(best_for(HearingOptions("es", recogniser="dictionary")), "dictionary")

    def test_its_packages_are_those_that_were_looked_at(self):
        for package in carried.PACKAGES:
            self.assertEqual(metadata.version(package), "1.0.0")


class SayingWords(FolderTest):
    def test_sounds_of_other_languages_go_to_the_nearest_ones(self):
        for ipa, phones in (
            ("tˈuɾβa", "T UW D V AH"), ("ʒɑ̃pɑ̃s", "ZH AA N P AA N S"), ("tʃʲaj", "CH AH Y"),
            ("kʷæːʔ", "K AE"), ("ɲɛŋ", "N EH NG"), ("", ""),
        ):  # fmt: skip
            self.assertEqual(" ".join(arpabet(ipa)), phones, ipa)

    def test_every_word_has_its_own_answer_whatever_stands_in_it(self):
        words = ["turba,", "1952", "–", "p. ej.", "¿qué?", "3,5", "a/b", "'", "seca"]
        forms = pronouncer_for("es").forms(words)
        self.assertEqual(len(forms), len(words))
        self.assertEqual([bool(own) for own in forms], [w not in ("–", "'") for w in words])
        self.assertGreater(len(forms[1][0][0]), 12)
        self.assertEqual(forms[-1], pronouncer_for("es-MX").forms(["seca"])[0])

    def test_words_of_other_languages_are_found_in_the_sound(self):
        text = "La turba está seca. Nadie camina por aquí en invierno."
        path = self.folder / "es.wav"
        subprocess.run([espeak.program(), "-v", "es", "-s", "130", "-w", path, text], check=True)
        sound = soundcache.fetch(path).samples()
        silence = np.zeros(16_000, np.float32)
        (times,) = Aligner().align(
            [np.concatenate([silence, sound, silence])], [text.split()], [[(1000, 4000)]],
            pronouncer_for("es"),
        )  # fmt: skip
        self.assertTrue(all(time.aligned for time in times))
        self.assertAlmostEqual(times[0].start, 1000, delta=120)
        pause = times[4].start - times[3].end
        self.assertGreater(pause, 150)
        self.assertLess(max(time.end - time.start for time in times), 900)

    def test_nobody_says_what_the_synthesiser_does_not_know(self):
        self.assertIsNone(pronouncer_for("ast"))
        self.assertIsNotNone(pronouncer_for("zh"))
