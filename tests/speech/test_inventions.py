"""Text that nobody said is marked, and text that was said is not."""

import unittest

from tamarind.speech.alignment import TimedWord
from tamarind.speech.inventions import echoed, invented, looping
from tests.speech.spoken import BECKETT, TWO_CITIES


def evenly(words, each=300):
    """Every word as long as the other, one after the other."""
    return [TimedWord(n * each, (n + 1) * each, 0.0) for n in range(len(words))]


class Loops(unittest.TestCase):
    def test_a_phrase_over_and_over_is_marked_from_its_second_time_on(self):
        words = ("we thank you for watching " * 4).split()
        marks = looping(words)
        self.assertEqual(marks, [False] * 5 + [True] * 15)

    def test_only_the_loop_is_marked_not_what_comes_before_or_after(self):
        words = ["The", "dam", "held.", *["the water rose,"] * 3, "and", "fell"]
        flat = " ".join(words).split()
        marks = looping(flat)
        self.assertEqual([w for w, m in zip(flat, marks, strict=True) if m],
                         ["the", "water", "rose,"] * 2)  # fmt: skip

    def test_what_people_really_repeat_is_not_a_loop(self):
        for text in (
            TWO_CITIES,
            BECKETT,
            "No, no, no, no!",
            "very, very, very good",
            "bye bye bye",
        ):
            self.assertFalse(any(looping(text.split())), text)

    def test_a_word_that_goes_round_in_itself_is_one(self):
        for text in (
            "4-4-4-4-4-4-4-4-4-4-4-4",
            "尉尉尉尉尉尉尉尉尉尉尉尉尉尉尉尉",
            "lalalalalalalalala",
        ):
            self.assertEqual(looping(["so", text]), [False, True], text)
        for text in ("hahahahahaha", "nooooooo", "1-800-555-0100", "Donaudampfschiffahrt"):
            self.assertEqual(looping([text]), [False], text)

    def test_marks_and_capitals_do_not_hide_a_loop(self):
        self.assertTrue(any(looping("So it goes. so it goes, So it goes!".split())))


class Places(unittest.TestCase):
    WORDS = "the peat was dry and the ditch was deep".split()

    def test_words_in_speech_are_not_marked(self):
        self.assertFalse(any(invented(self.WORDS, evenly(self.WORDS), [(0, 2700)])))
        self.assertEqual(invented([], [], []), [])

    def test_words_where_nobody_speaks_are_marked(self):
        marks = invented(self.WORDS, evenly(self.WORDS), [(0, 1200)])
        self.assertEqual(marks, [False] * 5 + [True] * 4)

    def test_words_too_fast_to_say_are_marked(self):
        times = evenly(self.WORDS, 40)
        self.assertTrue(all(invented(self.WORDS, times, [(0, 400)])))

    def test_a_phrase_once_more_may_be_an_echo(self):
        marks = echoed("Well, so where did you begin? So where did you begin?".split())
        self.assertEqual(marks, [False] * 6 + [True] * 5)
        self.assertFalse(any(echoed("very, very good, it was very good".split())))
        self.assertEqual(echoed(["a", "b", "c"] * 3), [False] * 3 + [True] * 6)
