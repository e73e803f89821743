"""What could be cut out of an excerpt."""

import unittest

from tamarind.language.smoothing import KEPT_PAUSE_MS, proposed_cuts
from tamarind.transcript.excerpts import Excerpt
from tamarind.transcript.model import Transcript
from tests.support import cue

TEXT = Transcript(
    "en",
    (
        cue(1, "We um, blocked the, the wa- wet drains.", 1_000),
        cue(2, "Then it rained.", 8_000),
    ),
)


class Smoothing(unittest.TestCase):
    def test_fillers_repeats_false_starts_and_long_pauses(self):
        whole = Excerpt(1, 900, 9_500, "i")
        found = proposed_cuts(TEXT, whole, ("um",))
        kinds = [("um,", "filler"), ("the,", "repeated"), ("wa-", "false start")]
        self.assertEqual([(one.words, one.kind) for one in found[:3]], kinds)
        pause = found[-1]
        told = (pause.words, pause.before, pause.after)
        self.assertEqual(told, ("", "wa- wet drains.", "Then it rained."))
        gap = TEXT.cues[1].start - TEXT.cues[0].end
        self.assertEqual(pause.span[1] - pause.span[0], gap - KEPT_PAUSE_MS)
        # What is cut already is not proposed again.
        for one in found:
            whole = whole.with_cut(*one.span)
        self.assertEqual(proposed_cuts(TEXT, whole, ("um",)), [])

    def test_nothing_is_proposed_that_would_leave_nothing(self):
        self.assertEqual(proposed_cuts(TEXT, Excerpt(1, 1_300, 1_600, "i"), ("um",)), [])
