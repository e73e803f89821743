import unittest

from tamarind.transcript.find import Match, PatternError, Wanted, find, replace_all
from tamarind.transcript.model import Cue, Transcript, Word


def text(*lines):
    cues = []
    for number, line in enumerate(lines):
        words = tuple(
            Word(token, number * 1_000 + n * 100, number * 1_000 + n * 100 + 90, 0.5)
            for n, token in enumerate(line.split())
        )
        cues.append(Cue(number + 1, number * 1_000, number * 1_000 + 900, words))
    return Transcript("en", tuple(cues))


MOOR = text("The Peat is deep,", "peaty water in peat.", "no match")


class Finding(unittest.TestCase):
    def test_letters_capitals_and_whole_words(self):
        self.assertEqual(
            find(MOOR, Wanted("peat")), [Match(0, 4, 8), Match(1, 0, 4), Match(1, 15, 19)]
        )
        self.assertEqual(find(MOOR, Wanted("peat", case=True))[0], Match(1, 0, 4))
        self.assertEqual(find(MOOR, Wanted("peat", whole_words=True))[1], Match(1, 15, 19))
        self.assertEqual(find(MOOR, Wanted("is deep")), [Match(0, 9, 16)])
        self.assertEqual(find(MOOR, Wanted("(")), [])

    def test_patterns_and_what_is_none(self):
        self.assertEqual(find(MOOR, Wanted(r"\bp\w+", pattern=True))[1], Match(1, 0, 5))
        self.assertEqual(find(MOOR, Wanted("x*", pattern=True)), [])
        for bad in ("", "(", "a" * 501):
            with self.assertRaises(PatternError):
                find(MOOR, Wanted(bad, pattern=True))

    def test_what_is_replaced_leaves_the_times_of_the_rest(self):
        new, count = replace_all(MOOR, Wanted("peat", whole_words=True), "wet sphagnum")
        self.assertEqual(count, 2)
        self.assertEqual(new.cues[0].text, "The wet sphagnum is deep,")
        self.assertEqual(new.cues[0].words[0], MOOR.cues[0].words[0])
        self.assertEqual(new.cues[0].words[3], MOOR.cues[0].words[2])
        self.assertTrue(90 <= new.cues[0].words[1].start < new.cues[0].words[2].end <= 200)
        self.assertIs(new.cues[2], MOOR.cues[2])

    def test_only_in_the_places_that_were_chosen_and_with_groups(self):
        new, count = replace_all(MOOR, Wanted("peat"), "bog", [Match(1, 15, 19)])
        self.assertEqual((new.cues[1].text, count), ("peaty water in bog.", 1))
        new, _ = replace_all(MOOR, Wanted(r"(\w+) water", pattern=True), r"water, \1")
        self.assertEqual(new.cues[1].text, "water, peaty in peat.")
        with self.assertRaises(PatternError):
            replace_all(MOOR, Wanted("peat", pattern=True), r"\9")
