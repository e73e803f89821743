"""Two hypotheses become one: what differs is a doubt with both readings."""

import unittest

import numpy as np

from tamarind.speech.combining import combined, slots
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tamarind.transcript.model import DOUBTFUL_BELOW


def said(text, confidence=0.95, **own):
    """A hypothesis; some words have a certainty of their own."""
    words = text.split()
    sure = [own.get(word.strip(".,").lower(), confidence) for word in words]
    return Hypothesis(tuple(map(HeardWord, words, sure)), -1.0)


def put_together(one, other, fits=None):
    return combined(one, other, "en", lambda words: [-7.0] * len(words), fits)


class Slots(unittest.TestCase):
    def differing(self, one, other, language="en"):
        one, other = one.split(), other.split()
        return [
            (" ".join(one[slice(*slot.first)]), " ".join(other[slice(*slot.second)]))
            for slot in slots(one, other, language)
            if not slot.same
        ]

    def test_marks_capitals_figures_and_spellings_are_no_differences(self):
        for one, other in (
            ("In 1952 the colour was grey.", "in nineteen fifty two, the color was gray"),
            ("The water-table fell 25 %.", "the water table fell twenty-five percent"),
            ("A metre of fibre, organised.", "a meter of fiber organized"),
            ("40 cm and 3 kilometres", "forty centimeters and 3 km"),
            ("Okay, Mister Hale.", "OK Mr. Hale"),
        ):
            self.assertEqual(self.differing(one, other), [], one)
        self.assertEqual(self.differing("El agua, dijo.", "el agua dijo", "es"), [])

    def test_what_differs_is_found_with_its_words_whole(self):
        for one, other, found in (
            ("He saw Pete there.", "he saw the peat there", [("Pete", "the peat")]),
            ("well yes", "", [("well yes", "")]),
            ("", "well yes", [("", "well yes")]),
            ("It is dry.", "it is very dry now.", [("", "very"), ("", "now.")]),
            ("a hour of four", "an hour for four", [("a", "an"), ("of", "for")]),
        ):
            self.assertEqual(self.differing(one, other), found)

    def test_every_word_of_both_is_in_one_slot_in_order(self):
        chance = np.random.default_rng(4)
        vocabulary = "the peat dam was built in 1952 twenty-five well-known metres".split()
        for _ in range(60):
            one, other = (
                chance.choice(vocabulary, chance.integers(0, 9)).tolist() for _ in range(2)
            )
            found = slots(one, other, "en")
            for side, words in (("first", one), ("second", other)):
                spans = [getattr(slot, side) for slot in found]
                places = [place for span in spans for place in range(*span)]
                self.assertEqual(places, list(range(len(words))))


class Together(unittest.TestCase):
    def test_what_both_say_is_surer_than_what_they_differ_in(self):
        found = put_together(said("the peat is wet"), said("the Pete is wet"))
        sure = [word.confidence for word in found.words]
        self.assertLess(sure[1], DOUBTFUL_BELOW)
        self.assertGreater(min(sure[0], *sure[2:]), DOUBTFUL_BELOW)
        self.assertEqual({found.words[1].text, *found.words[1].others}, {"peat", "Pete"})

    def test_the_surer_side_wins_and_the_sound_may_tell_otherwise(self):
        one, other = said("the peat is wet"), said("the Pete is wet", pete=0.3)
        self.assertEqual(put_together(one, other).text, "the peat is wet")
        one, other = said("the peat is wet", peat=0.3), said("the Pete is wet")
        self.assertEqual(put_together(one, other).text, "the Pete is wet")
        doubtful = said("the peat is wet", peat=0.6), said("the Pete is wet", pete=0.2)

        def fits(texts):
            return [20.0 if "peat" in text else 0.0 for text in texts]

        self.assertEqual(put_together(*doubtful, fits).text, "the peat is wet")

    def test_a_word_that_is_left_out_is_a_reading_of_its_neighbour(self):
        found = put_together(said("it is very dry", very=0.2), said("it is dry", dry=0.99))
        if "very" not in found.text:
            self.assertIn("very dry", found.words[2].others)
            self.assertLess(found.words[2].confidence, DOUBTFUL_BELOW)

    def test_a_side_that_alone_has_a_term_is_taken_and_stays_a_doubt(self):
        one, other = said("the Harrow Creek dam", creek=0.3), said("the arrow crick dam")
        found = combined(
            one, other, "en", lambda words: [-7.0] * len(words), terms=["Harrow Creek"]
        )
        self.assertEqual(found.text, "the Harrow Creek dam")
        self.assertLess(found.words[1].confidence, DOUBTFUL_BELOW)
        self.assertEqual(put_together(one, other).text, "the arrow crick dam")

    def test_further_ears_decide_where_two_differ_and_it_stays_a_doubt(self):
        one, other = said("the old drain ran dry", 0.95), said("the cold drain ran dry", 0.4)

        def voted(*more):
            return combined(
                one, other, "en", lambda words: [-7.0] * len(words), more=list(map(said, more))
            )

        self.assertEqual(voted().text, "the old drain ran dry")
        found = voted("The cold drain, ran dry.")
        self.assertEqual(found.text, "the cold drain ran dry")
        self.assertLess(found.words[1].confidence, DOUBTFUL_BELOW)
        self.assertIn("old", found.words[1].others)
        for undecided in (("the bold drain ran dry",), ("the cold drain ran", "the old drain ran")):
            self.assertEqual(voted(*undecided).text, "the old drain ran dry")
        self.assertEqual(voted("it is the cold drain that ran dry").text, "the cold drain ran dry")

    def test_further_ears_tell_whether_a_word_was_said_at_all(self):
        one, other = said("we went up the moor", 0.6), said("we went the moor", 0.9)
        for third, wanted in (
            ("we went up the moor", "we went up the moor"),
            ("we went the moor", "we went the moor"),
        ):
            found = combined(
                one, other, "en", lambda words: [-7.0] * len(words), more=[said(third)]
            )
            self.assertEqual(found.text, wanted)

    def test_one_that_hears_nothing_leaves_what_the_other_heard(self):
        self.assertEqual(put_together(said("", 0.9), said("it is dry")).text, "it is dry")
        self.assertEqual(put_together(said(""), said("")).words, ())
