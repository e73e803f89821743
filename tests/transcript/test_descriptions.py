"""Descriptions of what is seen: where there is room for them, and what is wrong with them."""

import unittest
from dataclasses import replace

from tamarind.formats.data.described import as_webvtt
from tamarind.transcript.descriptions import (
    BREATH_MS,
    SPEAKER_NAME,
    Description,
    description_of,
    gaps,
    interleaved,
    problem_of,
    row_of,
    tidied,
    words_that_fit,
)
from tamarind.transcript.model import Transcript
from tests.support import cue, moor

TEXT = Transcript("en", (cue(1, "a b", 2_000), cue(2, "c", 9_000), cue(3, "d", 9_800)))
"""Words of 300 ms: from 2.0 to 2.6 s, 9.0 to 9.3, 9.8 to 10.1."""


class Room(unittest.TestCase):
    def test_it_lies_where_nobody_speaks_for_long_enough(self):
        found = gaps(TEXT, 11_000)
        self.assertEqual(found, [(0, 2_000 - BREATH_MS), (2_600 + BREATH_MS, 9_000 - BREATH_MS),
                                 (10_100 + BREATH_MS, 11_000)])  # fmt: skip
        self.assertEqual(gaps(Transcript("en"), 5_000), [(0, 5_000)])
        self.assertEqual(words_that_fit(6_000), 16)

    def test_one_that_does_not_fit_says_by_how_much(self):
        there = gaps(TEXT, 11_000)
        good = Description(1, 2_800, "A dam of planks, and water up to its brim.")
        self.assertEqual(problem_of(good, there), "")
        self.assertEqual(
            problem_of(replace(good, start=9_100), there), "begins while somebody speaks"
        )
        late = replace(good, start=6_500)
        self.assertRegex(problem_of(late, there), r"^is \d+ words too long")
        # How long it takes for certain counts more than how long it should.
        self.assertEqual(problem_of(late, there, 2_000), "")
        self.assertIn("too long", problem_of(good, there, 9_000))


class Told(unittest.TestCase):
    SEEN = (Description(2, 7_500, "Water & <reeds>"), Description(1, 2_500, "A dam"))

    def test_a_descriptive_transcript_has_all_in_order(self):
        text = interleaved(moor(), self.SEEN)
        self.assertEqual([c.text for c in text.cues][1], "[A dam]")
        self.assertEqual([c.text for c in text.cues][3], "[Water & <reeds>]")
        speaker = text.speaker(text.cues[1].speaker)
        self.assertEqual(speaker.name, SPEAKER_NAME)
        self.assertEqual(text.cues[0], moor().cues[0])
        # What was one paragraph is two, with what is seen between them.
        self.assertTrue(text.cues[4].opens_paragraph)
        self.assertIs(interleaved(TEXT, ()), TEXT)

    def test_as_webvtt_none_goes_on_into_the_next_one(self):
        seen = (*self.SEEN, Description(3, 2_600, "Planks"))
        told = as_webvtt(seen)
        self.assertIn("00:00:02.500 --> 00:00:02.600\nA dam", told)
        self.assertIn("Water &amp; &lt;reeds>", told)

    def test_as_plain_data_and_back(self):
        for one in self.SEEN:
            self.assertEqual(description_of(row_of(one)), one)
        for row in (
            [0, 1, "a"],
            [1, -1, "a"],
            [1, 1, ""],
            [1, 1, "\0"],
            [1, True, "a"],
            [1, 1],
            {},
        ):
            with self.assertRaises((ValueError, TypeError), msg=str(row)):
                description_of(row)
        self.assertEqual(tidied(" A\n dam \x00"), "A dam")
