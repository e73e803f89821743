"""Where sound is cut around words."""

import unittest

import numpy as np

from tamarind.speech.cutpoints import around, in_point, out_point
from tamarind.transcript.model import Transcript, Word
from tests.support import cue

RATE = 16


def sound(*spans, length=4_000):
    """Noise in some spans (ms), next to nothing elsewhere."""
    chance = np.random.default_rng(1)
    made = chance.normal(0, 0.0005, length * RATE).astype(np.float32)
    for start, end in spans:
        count = (end - start) * RATE
        made[start * RATE : end * RATE] += chance.normal(0, 0.2, count).astype(np.float32)
    return made


class Cutpoints(unittest.TestCase):
    def test_they_lie_in_the_pause_near_the_word(self):
        samples = sound((500, 1_000), (1_800, 2_300))
        before, word, after = (
            Word("a", 500, 1_000),
            Word("b", 1_800, 2_300),
            Word("c", 3_600, 3_900),
        )
        start = in_point(samples, before, word)
        self.assertTrue(1_520 <= start < 1_795, start)
        end = out_point(samples, word, after, 4_000)
        self.assertTrue(2_305 <= end <= 2_580, end)

    def test_where_words_follow_each_other_they_take_the_quietest_moment(self):
        """The word's end is told a little too early."""
        samples = sound((500, 998), (1_024, 1_500))
        one, other = Word("a", 500, 1_000), Word("b", 1_000, 1_500)
        self.assertTrue(1_003 <= out_point(samples, one, other, 4_000) <= 1_012)
        # From the other side the same moment is found, if the times are no further off.
        late = Word("a", 500, 1_020), Word("b", 1_020, 1_500)
        self.assertTrue(1_008 <= in_point(samples, *late) <= 1_017)

    def test_without_sound_they_lie_between_the_words(self):
        one, other = Word("a", 500, 1_000), Word("b", 1_100, 1_500)
        self.assertEqual(in_point(None, one, other), 1_050)
        self.assertEqual(out_point(None, one, other, 4_000), 1_050)
        self.assertEqual(in_point(None, None, Word("a", 50, 90)), 25)
        self.assertEqual(out_point(None, one, None, 1_020), 1_010)

    def test_neighbours_are_found_across_cues(self):
        text = Transcript("en", (cue(1, "one two", 0), cue(2, "three four", 2_000)))
        first, last = text.cues[0].words[1], text.cues[1].words[0]
        start, end = around(None, text, (0, 1), (1, 0), 9_000)
        self.assertTrue(text.cues[0].words[0].end <= start <= first.start)
        self.assertTrue(last.end <= end <= text.cues[1].words[1].start)
