"""What the benchmarks measure with: wrong words, and the truth of the evaluation set."""

import sys
import unittest
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parent.parent / "benchmarks"))

from evaluation_set import CONDITIONS, SUBJECTS, glossary_file, spoilt
from tamarind.speech.glossary import read_glossary
from truth import matched, plain, right_words, word_errors

TEXTS = Path(__file__).parent.parent / "benchmarks" / "texts"


class WrongWords(unittest.TestCase):
    def test_wrong_missing_and_added_words_count_one_each(self):
        said = "the peat was dry and deep"
        for heard, wrong in (
            (said, 0),
            ("the pit was dry and deep", 1),
            ("the was dry and deep", 1),
            ("the peat was very dry and deep", 1),
            ("", 6),
        ):
            self.assertEqual(word_errors(said, heard), (wrong, 6), heard)

    def test_marks_capitals_hyphens_and_figures_are_no_errors(self):
        self.assertEqual(word_errors("It was nineteen fifty two.", "it was 1952")[0], 0)
        self.assertEqual(word_errors("twenty-three boots", "Twenty three boots!")[0], 0)
        self.assertEqual(word_errors("Mister Hale", "Mr. Hale")[0], 0)

    def test_the_words_that_were_not_said_are_pointed_out(self):
        said = "we had forty two wells".split()
        self.assertEqual(right_words(said, "We had 42 whales.".split()), [True, True, True, False])
        self.assertEqual(right_words(said, []), [])

    def test_pairs_are_in_order_and_take_in_every_word(self):
        a, b = "a b c d e".split(), "a x c e f".split()
        pairs = matched(a, b)
        self.assertEqual([x for x, _ in pairs if x is not None], list(range(5)))
        self.assertEqual([y for _, y in pairs if y is not None], list(range(5)))
        self.assertIn((2, 2), pairs)

    def test_a_written_word_owns_all_that_is_said_for_it(self):
        forms = plain(["1952,", "well-known"])
        self.assertEqual([form.owner for form in forms], [0, 0, 0, 1, 1])


class TheSet(unittest.TestCase):
    def test_every_term_of_the_glossary_is_said_somewhere(self):
        texts = " ".join((TEXTS / f"{subject}.txt").read_text() for subject in SUBJECTS).casefold()
        for term in read_glossary(glossary_file().read_text()).terms:
            self.assertIn(term.text.casefold(), texts)

    def test_every_condition_keeps_the_length_and_spoils_the_sound_its_way(self):
        rng = np.random.default_rng(1)
        time = np.arange(32_000) / 16_000
        speech = 0.1 * np.sin(2 * np.pi * 500 * time) + 0.1 * np.sin(2 * np.pi * 6000 * time)
        speech = speech.astype(np.float32)
        made = {name: spoilt(speech, name, rng) for name in CONDITIONS}
        self.assertEqual({len(sound) for sound in made.values()}, {32_000})
        self.assertLess(np.abs(made["faint"]).max(), 0.01)
        self.assertLessEqual(np.abs(made["clipped"]).max(), 0.51)
        high = {
            name: np.abs(np.fft.rfft(sound))[11_000:13_000].max() for name, sound in made.items()
        }
        self.assertLess(high["telephone"], high["clean"] / 50)
        for name in ("noise", "music"):
            added = np.sqrt(np.mean((made[name] - speech) ** 2))
            self.assertAlmostEqual(20 * np.log10(0.08 / added), 10, delta=1.0)
