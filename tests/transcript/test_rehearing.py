"""A second hearing: what differs is found word by word, and taken without harm to the rest."""

import unittest
from dataclasses import replace

from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.rehearing import (
    differences,
    fill_empty,
    in_context,
    is_open,
    passage,
    take,
)


def words(text, start=0, each=300, confidence=0.5):
    return tuple(
        Word(word, start + n * each, start + (n + 1) * each - 20, confidence)
        for n, word in enumerate(text.split())
    )


def text(*cues):
    made, start = [], 1000
    for number, line in enumerate(cues, 1):
        own = words(line, start)
        made.append(Cue(number, start - 50, own[-1].end + 50, own))
        start = own[-1].end + 500
    return Transcript("en", tuple(made))


class Differences(unittest.TestCase):
    def setUp(self):
        self.text = text("the peep dams hold the water", "and the bog grows again")

    def heard(self, line):
        return words(line, 1000)

    def test_marks_and_capitals_are_no_difference(self):
        heard = self.heard("The peep dams hold the water,") + words(
            "And the bog grows again.", self.text.cues[1].start
        )
        self.assertEqual(differences(self.text, 0, 2, heard), ())

    def test_changed_missing_and_added_words_each_are_one(self):
        heard = self.heard("the peat dams hold back water") + words(
            "the big bog grows again", self.text.cues[1].start
        )
        found = differences(self.text, 0, 2, heard)
        self.assertEqual(
            [(d.cue, d.first, d.old, d.new_text) for d in found],
            [
                (1, 1, ("peep",), "peat"),
                (1, 4, ("the",), "back"),
                (2, 0, ("and",), ""),
                (2, 2, (), "big"),
            ],
        )

    def test_one_over_a_border_of_cues_is_cut_there(self):
        found = differences(self.text, 0, 2, self.heard("the peep dams hold a flood then a bog"))
        self.assertEqual({d.cue for d in found}, {1, 2})
        both = self.text
        rest = found
        while rest:
            both, rest = take(both, rest[0], rest)
        said = " ".join(cue.text for cue in both.cues)
        self.assertEqual(said, "the peep dams hold a flood then a bog")

    def test_words_added_at_the_end_go_to_the_last_cue(self):
        heard = self.heard("the peep dams hold the water and the bog grows again in spring")
        (found,) = differences(self.text, 0, 2, heard)
        self.assertEqual((found.cue, found.first, found.new_text), (2, 5, "in spring"))


class Taking(unittest.TestCase):
    def setUp(self):
        self.text = text("the peep dams hold the water", "and the bog grows again")

    def test_taken_words_are_settled_and_the_others_move_along(self):
        heard = words("the old peat dams hold back water", 1000)
        found = differences(self.text, 0, 1, heard)
        new, rest = take(self.text, found[0], found)
        self.assertEqual(new.cues[0].text, "the old peep dams hold the water")
        new, rest = take(new, rest[0], rest)
        self.assertEqual(new.cues[0].text, "the old peat dams hold the water")
        self.assertFalse(any(word.is_doubt() for word in new.cues[0].words[1:3]))
        self.assertEqual(new.cues[1], self.text.cues[1])
        new, rest = take(new, rest[0], rest)
        self.assertEqual(new.cues[0].text, "the old peat dams hold back water")
        self.assertEqual(rest, ())

    def test_times_stay_in_order_and_inside(self):
        heard = words("the very old and very wet peat dams hold the water", 400, each=900)
        new = self.text
        rest = differences(new, 0, 1, heard)
        while rest:
            new, rest = take(new, rest[0], rest)
        times = [time for word in new.cues[0].words for time in (word.start, word.end)]
        self.assertEqual(times, sorted(times))
        self.assertTrue(all(word.end > word.start for word in new.cues[0].words))
        self.assertLessEqual(times[-1], new.cues[1].start)

    def test_lines_stay_with_the_words_they_began_with(self):
        cue = replace(self.text.cues[0], breaks=(3,))
        old = replace(self.text, cues=(cue, self.text.cues[1]))
        (found,) = differences(old, 0, 1, words("the big peep dams hold the water", 1000))
        new, _ = take(old, found)
        self.assertEqual(new.cues[0].lines, ("the big peep dams", "hold the water"))

    def test_a_difference_whose_words_are_gone_is_not_open(self):
        (found,) = differences(self.text, 0, 1, words("the peat dams hold the water", 1000))
        other = replace(self.text, cues=(self.text.cues[1],))
        self.assertTrue(is_open(self.text, found))
        self.assertFalse(is_open(other, found))
        with self.assertRaises(KeyError):
            take(other, found)


class Subnetwork(unittest.TestCase):
    def test_no_sound_of_its_neighbours_is_heard_with_it(self):
        whole = text("one two three", "four five", "six")
        start, end = passage(whole, 1, 2)
        self.assertGreaterEqual(start, whole.cues[0].end)
        self.assertLess(start, whole.cues[1].start)
        self.assertGreater(end, whole.cues[1].end)
        self.assertLessEqual(end, whole.cues[2].start)
        self.assertEqual(passage(whole, 0, 3)[0], whole.cues[0].start - 300)

    def test_a_short_cue_is_heard_with_its_neighbours_but_not_over_a_long_pause(self):
        whole = text(*["one two three four five six seven eight"] * 12)
        first, last = in_context(whole, 5, 6)
        self.assertTrue(first <= 5 < last)
        self.assertGreaterEqual(whole.cues[last - 1].end - whole.cues[first].start, 12_000)
        self.assertLess(last - first, 8)
        moved = [replace(c, start=c.start + 9000, end=c.end + 9000) for c in whole.cues[5:]]
        apart = replace(whole, cues=(*whole.cues[:5], *moved))
        self.assertEqual(in_context(apart, 5, 6)[0], 5)
        self.assertEqual(in_context(text("one", "two"), 0, 1), (0, 2))


class EmptyCues(unittest.TestCase):
    def test_each_gets_what_was_heard_in_its_time_as_sure_as_it_was_heard(self):
        whole = text("the peat dams hold", "and the bog grows", "year after year")
        heard = tuple(word for cue in whole.cues for word in cue.words)
        bare = replace(whole, cues=(
            replace(whole.cues[0], words=()), whole.cues[1], replace(whole.cues[2], words=()),
        ))  # fmt: skip
        found = differences(bare, 0, 3, heard)
        self.assertEqual([d.cue for d in found], [1, 3])
        filled, left = fill_empty(bare, found)
        self.assertEqual((filled, left), (whole, ()))

    def test_what_differs_beside_them_is_left_to_the_person(self):
        whole = text("the peat dams hold", "and the bog grows")
        heard = tuple(word for cue in whole.cues for word in cue.words)
        wrong = replace(whole.cues[1].words[2], text="dog")
        second = replace(whole.cues[1], words=(*whole.cues[1].words[:2], wrong,
                                               *whole.cues[1].words[3:]))  # fmt: skip
        bare = replace(whole, cues=(replace(whole.cues[0], words=()), second))
        filled, left = fill_empty(bare, differences(bare, 0, 2, heard))
        self.assertEqual(filled.cues[0], whole.cues[0])
        self.assertEqual(filled.cues[1], second)
        self.assertEqual([(d.cue, d.old, d.new_text) for d in left], [(2, ("dog",), "bog")])
