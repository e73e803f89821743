import unittest

from tamarind.formats.captions import srt
from tamarind.transcript.retiming import Retiming

TEXT = "1\n00:00:10,000 --> 00:00:12,000\nWet peat\n\n2\n00:01:00,000 --> 00:01:02,500\nDry\n"


class RetimingTexts(unittest.TestCase):
    def moved(self, *how):
        text, lost = Retiming(*how).of(srt.read(TEXT, "en"))
        for cue in text.cues:
            for word in cue.words:
                self.assertTrue(cue.start <= word.start < word.end <= cue.end)
        return [(cue.start, cue.end) for cue in text.cues], lost

    def test_later_earlier_and_stretched(self):
        self.assertEqual(self.moved(1500)[0], [(11_500, 13_500), (61_500, 64_000)])
        self.assertEqual(self.moved(0, 1.001)[0], [(10_010, 12_012), (60_060, 62_562)])
        self.assertEqual(self.moved(-11_000), ([(0, 1_000), (49_000, 51_500)], 0))

    def test_what_would_lie_before_the_start_is_counted(self):
        self.assertEqual(self.moved(-20_000), ([(40_000, 42_500)], 1))

    def test_no_rate_that_makes_nonsense(self):
        for rate in (0, -1, 1e6):
            with self.assertRaises(ValueError):
                Retiming(0, rate)
