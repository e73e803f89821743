"""The captions of excerpts in a row."""

import unittest

from tamarind.captions.splicing import Piece, spliced
from tamarind.language.stylebook import ORDINARY_STYLE, SHIPPED
from tamarind.transcript.model import Speaker, Transcript
from tests.support import cue

LIMITS = SHIPPED[ORDINARY_STYLE].captions
ONE = Transcript(
    "en",
    (
        cue(1, "The moss came back slowly", 10_000, speaker=1),
        cue(2, "and stayed", 14_000, speaker=2),
    ),
    (Speaker(1, "Ann"), Speaker(2, "")),
)
OTHER = Transcript(
    "en", (cue(7, "That is what Ann said", 60_000, speaker=4),), (Speaker(4, "Ann"),)
)


class Splicing(unittest.TestCase):
    def test_words_have_the_times_of_the_new_recording(self):
        words = ONE.cues[0].words
        start, end = words[1].start - 40, words[3].end + 60
        text = spliced([Piece(ONE, ((start, end),)), Piece(OTHER, ((59_900, 70_000),))], LIMITS)
        self.assertEqual([c.text for c in text.cues], ["moss came back", "That is what Ann said"])
        self.assertEqual(text.cues[0].words[0].start, 40)
        self.assertEqual(text.cues[1].words[0].start, end - start + 100)
        # A speaker of one name is one, and a voice without a name is another in each recording.
        self.assertEqual([text.speaker(c.speaker).name for c in text.cues], ["Ann", "Ann"])
        self.assertEqual(len(text.speakers), 1)
        self.assertLessEqual(text.cues[-1].end, end - start + 10_100)

    def test_a_cue_with_a_cut_stays_one(self):
        words = ONE.cues[0].words
        spans = ((9_900, words[1].start - 5), (words[3].start - 5, 13_000))
        text = spliced([Piece(ONE, spans)], LIMITS)
        self.assertEqual([c.text for c in text.cues], ["The back slowly"])
        times = [time for w in text.cues[0].words for time in (w.start, w.end)]
        self.assertEqual(times, sorted(times))

    def test_what_is_too_short_to_be_read_stands_longer_or_goes_to_its_neighbour(self):
        text = spliced([Piece(ONE, ((9_900, 15_500),)), Piece(OTHER, ((59_900, 60_300),))], LIMITS)
        for before, after in zip(text.cues, text.cues[1:], strict=False):
            self.assertLessEqual(before.end, after.start)
