import unittest

import numpy as np

from tamarind.speech.activity import FRAME_MS, Activity
from tamarind.speech.stretches import stretches


def activity(*parts):
    """Parts of (seconds, probability of speech)."""
    frames = [np.full(round(seconds * 1000 / FRAME_MS), p, np.float32) for seconds, p in parts]
    whole = np.concatenate(frames)
    return Activity(whole, -60 + 40 * whole)


class Stretches(unittest.TestCase):
    def test_speech_is_found_and_short_pauses_stay_within(self):
        sound = activity((1, 0), (2, 0.9), (0.3, 0.05), (1, 0.9), (2, 0), (1, 0.9), (1, 0))
        found = stretches(sound, 0.5, 6_000)
        self.assertEqual(len(found), 2)
        self.assertAlmostEqual(found[0][0], 900, delta=80)
        self.assertAlmostEqual(found[0][1], 4_400, delta=80)

    def test_none_is_longer_than_was_asked_and_all_speech_is_covered(self):
        sound = activity((1, 0), (30, 0.9), (1, 0))
        for longest in (2_000, 5_000, 11_000):
            found = stretches(sound, 0.5, longest)
            self.assertLessEqual(max(end - start for start, end in found), longest + FRAME_MS)
            self.assertGreater(sum(end - start for start, end in found), 29_900)
            self.assertEqual([a[1] for a in found[:-1]], [b[0] for b in found[1:]])

    def test_it_is_cut_where_speech_is_least_likely(self):
        sound = activity((1, 0), (4, 0.9), (0.1, 0.55), (4, 0.9), (1, 0))
        first, second = stretches(sound, 0.5, 6_000)
        self.assertAlmostEqual(first[1], 5_050, delta=100)
        self.assertEqual(first[1], second[0])

    def test_faint_speech_and_where_to_begin(self):
        sound = activity((1, 0), (2, 0.3), (2, 0), (2, 0.9), (1, 0))
        self.assertEqual(len(stretches(sound, 0.5, 6_000)), 1)
        self.assertEqual(len(stretches(sound, 0.2, 6_000)), 2)
        (only,) = stretches(sound, 0.2, 6_000, start_ms=5_500)
        self.assertAlmostEqual(only[0], 5_500, delta=FRAME_MS)
        self.assertEqual(stretches(sound, 0.5, 6_000, start_ms=60_000), [])
