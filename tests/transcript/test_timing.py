import random
import unittest

from tamarind.transcript import timing
from tamarind.transcript.model import Cue, Transcript, Word
from tests.chance import check, edit
from tests.doses import dose


def cue(number, start, end, text):
    tokens = text.split()
    step = (end - start) // max(len(tokens), 1)
    words = tuple(
        Word(token, start + n * step, start + (n + 1) * step, 0.9) for n, token in enumerate(tokens)
    )
    return Cue(number, start, end, words)


def three():
    return Transcript(
        "en",
        (
            cue(1, 1_000, 3_000, "the drain was dug"),
            cue(2, 3_500, 5_000, "by hand"),
            cue(3, 5_000, 8_000, "in the fifties they say"),
        ),
    )


class Times(unittest.TestCase):
    def times(self, text):
        return [(each.start, each.end) for each in text.cues]

    def test_an_edge_goes_as_far_as_the_neighbours_leave_room(self):
        text = timing.set_times(three(), 1, 2_000, 6_000)
        self.assertEqual(self.times(text)[1], (3_000, 5_000))
        text = timing.set_times(three(), 1, 3_600, 4_500)
        self.assertEqual(self.times(text)[1], (3_600, 4_500))
        self.assertTrue(3_600 <= text.cues[1].words[0].start < text.cues[1].words[1].end <= 4_500)
        text = timing.set_times(three(), 1, 2_000, 6_000, overlap=True)
        self.assertEqual(self.times(text)[1], (2_000, 6_000))
        self.assertIs(timing.set_times(three(), 2, 4_000, 8_000).cues[2].start, 5_000)
        short = timing.set_times(three(), 0, 2_990, 3_000)
        self.assertEqual(self.times(short)[0], (2_950, 3_000))

    def test_cues_are_moved_and_stretched_with_their_words(self):
        text = timing.shift(three(), 1, 3, 400)
        self.assertEqual(self.times(text), [(1_000, 3_000), (3_900, 5_400), (5_400, 8_400)])
        self.assertEqual(text.cues[1].words[0].start, 3_900)
        self.assertEqual(self.times(timing.shift(three(), 1, 3, -900))[1][0], 3_000)
        text = timing.stretch(three(), 0, 3, 0, 14_000)
        self.assertEqual(self.times(text), [(0, 4_000), (5_000, 8_000), (8_000, 14_000)])
        self.assertEqual(text.cues[0].words[1].start, 1_000)
        with self.assertRaisesRegex(ValueError, "before is still there"):
            timing.stretch(three(), 1, 3, 2_900, 8_000)
        with self.assertRaisesRegex(ValueError, "has begun"):
            timing.stretch(three(), 0, 1, 1_000, 3_600)

    def test_gaps_are_closed_up_to_a_length(self):
        text = timing.close_gaps(three(), 0, 3, 1_000, 40)
        self.assertEqual(self.times(text), [(1_000, 3_460), (3_500, 5_000), (5_000, 8_000)])
        self.assertEqual(timing.close_gaps(three(), 0, 3, 300, 40).cues, three().cues)

    def test_a_word_goes_over_the_border_and_the_border_with_it(self):
        text = timing.move_word(three(), 0, forward=True)
        self.assertEqual([each.text for each in text.cues[:2]], ["the drain was", "dug by hand"])
        self.assertEqual(text.cues[1].words[0], three().cues[0].words[3])
        self.assertLessEqual(text.cues[0].end, text.cues[1].start)
        back = timing.move_word(text, 1, forward=False)
        self.assertEqual([each.text for each in back.cues], [each.text for each in three().cues])
        self.assertEqual(timing.move_word(three(), 2, forward=True), three())

    def test_an_empty_cue_takes_what_the_gap_has(self):
        text, place = timing.insert_empty(three(), 3_100, 5_100)
        self.assertEqual((place, self.times(text)[1]), (1, (3_100, 3_500)))
        self.assertEqual(len({each.id for each in text.cues}), 4)
        with self.assertRaisesRegex(ValueError, "no gap"):
            timing.insert_empty(three(), 4_990, 6_000)
        text, place = timing.insert_empty(three(), 9_000, 11_000)
        self.assertEqual((place, self.times(text)[3]), (3, (9_000, 11_000)))

    def test_one_word_stays_between_its_neighbours(self):
        text = timing.set_word_times(three(), 0, 1, 0, 99_000)
        before, word, after = text.cues[0].words[:3]
        self.assertEqual((word.start, word.end), (before.end, after.start))


class AnySequence(unittest.TestCase):
    """Edits of chance: nothing overlaps or runs backwards, and older values stay as they were."""

    def test_a_thousand_edits(self):
        for seed in range(5):
            chance = random.Random(seed)
            text, before = three(), []
            for _ in range(dose(120, 4_000)):
                before.append((text, hash(text)))
                text = edit(self, text, three(), chance)
                check(self, text)
            self.assertTrue(all(hash(old) == kept for old, kept in before))
