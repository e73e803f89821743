"""Excerpts: their points and cuts, what they hold, and how they follow their words."""

import random
import unittest
from dataclasses import replace

from tamarind.transcript import edits, timing
from tamarind.transcript.excerpts import (
    Excerpt,
    excerpt_of,
    followed,
    place_between,
    quote_of,
    row_of,
    speakers_of,
    tags_in,
    words_of,
)
from tamarind.transcript.model import Speaker, Transcript
from tests.support import cue

TEXT = Transcript(
    "en",
    (
        cue(1, "The moss came back", 1_000, speaker=1),
        cue(2, "slowly, um, very slowly", 3_000, speaker=1),
        cue(3, "and then all at once.", 6_000, speaker=2),
    ),
    (Speaker(1, "Ann"), Speaker(2, "")),
)


def excerpt(start, end, **more):
    return Excerpt(1, start, end, "i", **more)


def of_words(text, first, last):
    words = [word for c in text.cues for word in c.words][first:last]
    return excerpt(words[0].start - 20, words[-1].end + 20)


class Cuts(unittest.TestCase):
    def test_they_join_and_what_reaches_a_point_makes_it_shorter(self):
        one = excerpt(1_000, 5_000).with_cut(2_000, 2_500).with_cut(2_510, 3_000)
        self.assertEqual(one.cuts, ((2_000, 3_000),))
        self.assertEqual(one.spans, ((1_000, 2_000), (3_000, 5_000)))
        self.assertEqual(one.length, 3_000)
        self.assertEqual(one.with_cut(900, 1_500).start, 1_500)
        shorter = one.with_cut(2_900, 6_000)
        self.assertEqual((shorter.end, shorter.cuts), (2_000, ()))
        self.assertIs(one.with_cut(6_000, 7_000), one)
        with self.assertRaises(ValueError):
            one.with_cut(0, 9_000)

    def test_other_points_keep_the_cuts_within_them(self):
        one = excerpt(1_000, 5_000).with_cut(2_000, 2_500).with_cut(4_000, 4_500)
        self.assertEqual(one.between(1_500, 3_000).cuts, ((2_000, 2_500),))
        self.assertEqual(one.between(2_200, 4_200).spans, ((2_500, 4_000),))
        for start, end in ((3_000, 3_000), (-5, 100), (4_000, 2_000)):
            with self.assertRaises(ValueError):
                one.between(start, end)


class Words(unittest.TestCase):
    def test_it_holds_the_words_between_its_points_and_marks_what_is_cut(self):
        one = of_words(TEXT, 2, 8)
        self.assertEqual(quote_of(TEXT, one), "came back slowly, um, very slowly")
        filler = TEXT.cues[1].words[1]
        cut = one.with_cut(filler.start, filler.end)
        self.assertEqual(quote_of(TEXT, cut), "came back slowly, … very slowly")
        self.assertEqual(len(words_of(TEXT, cut)), 5)
        self.assertEqual(speakers_of(TEXT, of_words(TEXT, 6, 10)), [1, 2])

    def test_it_follows_every_edit_of_its_text(self):
        one = of_words(TEXT, 4, 8)
        changed = {
            "corrected": edits.set_text(TEXT, 1, "slowly, hm, very, very slowly"),
            "split": edits.split(TEXT, 1, 2),
            "joined": edits.join(TEXT, 0),
            "joined behind": edits.join(TEXT, 1),
        }
        said = {"corrected": "slowly, hm, very, very slowly"}
        for how, text in changed.items():
            (now,) = followed([one], TEXT, text)
            self.assertEqual(quote_of(text, now), said.get(how, "slowly, um, very slowly"), how)
        gone = edits.delete(TEXT, 1)
        (now,) = followed([one], TEXT, gone)
        self.assertEqual((now, quote_of(gone, now)), (one, ""))

    def test_where_its_words_are_moved_it_goes_with_them(self):
        one = of_words(TEXT, 8, 13)
        filler = TEXT.cues[2].words[1]
        one = one.with_cut(filler.start, filler.end)
        before = quote_of(TEXT, one)
        start, end = TEXT.cues[2].start + 700, TEXT.cues[2].end + 700
        moved = timing.set_times(TEXT, 2, start, end)
        (now,) = followed([one], TEXT, moved)
        self.assertEqual(quote_of(moved, now), before)
        shift = moved.cues[2].words[0].start - TEXT.cues[2].words[0].start
        self.assertGreater(shift, 0)
        self.assertEqual(now.start - one.start, shift)
        # Others stay.
        other = of_words(TEXT, 0, 2)
        self.assertEqual(followed([other], TEXT, moved), (other,))


class Places(unittest.TestCase):
    def test_there_is_always_one_between_two(self):
        chance = random.Random(21)
        places = []
        for _ in range(600):
            at = chance.choice([0, len(places), chance.randint(0, len(places))])
            low = places[at - 1] if at else ""
            high = places[at] if at < len(places) else ""
            places.insert(at, place_between(low, high))
        self.assertEqual(places, sorted(set(places)))
        low, high = places[0], places[1]
        for _ in range(200):
            high = place_between(low, high)
            self.assertLess(low, high)


class Kept(unittest.TestCase):
    def test_as_plain_data_and_back(self):
        one = replace(excerpt(1_000, 5_000, name="Moss", note="a\nb", tags=("wet", "dry"),
                              quote="The moss"), cuts=((2_000, 3_000),))  # fmt: skip
        self.assertEqual(excerpt_of(row_of(one)), one)

    def test_what_makes_no_sense_is_refused(self):
        good = row_of(excerpt(1_000, 5_000))
        for key, value in (
            ("in", -1), ("out", 900), ("id", 0), ("place", ""), ("place", "A!"), ("quote", 3),
            ("name", "\x00"), ("tags", [1]), ("tags", ["a"] * 101), ("cuts", [[4_000, 3_000]]),
            ("cuts", [[0, 2_000]]), ("in", True), ("cuts", [[1_500, 2_000], [1_900, 2_500]]),
        ):  # fmt: skip
            with self.assertRaises((ValueError, TypeError, KeyError), msg=f"{key} {value}"):
                excerpt_of({**good, key: value})

    def test_tags_are_read_from_a_line(self):
        self.assertEqual(tags_in(" water,  dry  summers , water,, "), ("water", "dry summers"))
