import unittest

import numpy as np

from tamarind.captions.frames import all_floored, ceiled, floored, is_on_frame

RATES = (24.0, 24_000 / 1001, 25.0, 30_000 / 1001, 30.0, 50.0, 60_000 / 1001)


class Frames(unittest.TestCase):
    def test_the_frames_beside_a_time_are_the_nearest_there_are(self):
        for rate in RATES:
            times = [round(1000 * number / rate) for number in range(400)]
            for time in range(0, times[-1], 7):
                before = max(frame for frame in times if frame <= time)
                behind = min(frame for frame in times if frame >= time)
                self.assertEqual(floored(time, rate), before, (rate, time))
                self.assertEqual(ceiled(time, rate), behind, (rate, time))

    def test_a_frames_own_time_stays_hours_into_a_film(self):
        for rate in RATES:
            for number in (0, 1, 107, 25 * 3600, 30 * 7200 + 11, 60 * 36_000):
                time = round(1000 * number / rate)
                self.assertEqual((floored(time, rate), ceiled(time, rate)), (time, time), rate)
                self.assertTrue(is_on_frame(time, rate))

    def test_times_between_frames_are_on_none(self):
        self.assertEqual([t for t in range(81) if is_on_frame(t, 25)], [0, 40, 80])
        self.assertFalse(is_on_frame(50, 30_000 / 1001))

    def test_without_a_rate_every_whole_time_is_right(self):
        self.assertEqual((floored(12.7, None), ceiled(12.2, None)), (12, 13))
        self.assertTrue(is_on_frame(13, None))

    def test_many_times_at_once_are_as_one_by_one(self):
        times = np.linspace(0, 50_000, 2_001)
        for rate in (None, *RATES):
            one_by_one = [floored(float(time), rate) for time in times]
            np.testing.assert_array_equal(all_floored(times, rate), one_by_one)
