import itertools
import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.batch.transcribing import tools
from tamarind.speech.activity import FRAME_MS, Activity, ActivityMeter, find_speech
from tamarind.speech.hearing import hear
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.errors import RecogniserError
from tamarind.speech.segments import LONGEST_MS, cut
from tests.speech.spoken import BECKETT, TWO_CITIES
from tests.support import FolderTest, human_recording, tone, word_error_rate


def heard_words(name, part=None):
    samples = soundcache.fetch(human_recording(name)).samples()
    stretches = hear(samples, tools(), HearingOptions(), part or (0, len(samples) // 16))
    return [word for stretch in stretches for word in stretch.words]


class HumanRecordings(FolderTest):
    def test_more_than_nine_words_of_ten_are_right(self):
        for name, truth in (("two_cities.wav", TWO_CITIES), ("beckett.wav", BECKETT)):
            with self.subTest(name):
                text = " ".join(word.text for word in heard_words(name))
                self.assertLess(word_error_rate(truth, text), 0.1)

    def test_every_word_has_a_time_in_order_and_a_confidence(self):
        words = heard_words("endgame_nagg_nell.wav")
        self.assertGreater(len(words), 60)
        for before, word in itertools.pairwise(words):
            self.assertLessEqual(before.end, word.start)
        for word in words:
            self.assertLess(word.start, word.end)
            self.assertTrue(0 <= word.confidence <= 1)
        sure = [word for word in words if word.text in ("Yes.", "heartily", "story.")]
        self.assertTrue(all(word.confidence > 0.6 for word in sure))

    def test_words_begin_where_the_sound_does(self):
        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        words = {word.text.lower(): word for word in heard_words("beckett.wav")}
        level = np.abs(samples[: len(samples) // 160 * 160].reshape(-1, 160)).max(axis=1)
        for text in ("no", "try", "fail"):
            start = words[text].start // 10
            quiet = level[start - 45 : start - 10].max()
            self.assertGreater(level[start : start + 25].max(), 4 * quiet)

    def test_a_part_is_heard_in_the_recordings_own_time(self):
        words = heard_words("two_cities.wav", (21_000, 29_000))
        text = " ".join(word.text for word in words)
        self.assertIn("had everything before us", text)
        self.assertNotIn("despair", text)
        self.assertTrue(21_000 <= words[0].start < 21_600)
        self.assertLessEqual(words[-1].end, 29_100)


class NoSpeech(FolderTest):
    def test_nothing_is_heard_in_silence_hum_or_noise(self):
        rng = np.random.default_rng(2)
        for name, sound in (
            ("silence", np.zeros(16_000 * 20)),
            ("hum", tone(20, 50)),
            ("noise", 0.05 * rng.standard_normal(16_000 * 20)),
        ):
            with self.subTest(name):
                stretches = list(
                    hear(sound.astype(np.float32), tools(), HearingOptions("en"), (0, 20_000))
                )
                self.assertEqual([word for s in stretches for word in s.words], [])
                self.assertEqual(stretches[-1].heard_until, 20_000)

    def test_a_language_that_nobody_hears_is_refused_in_a_sentence(self):
        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        with self.assertRaisesRegex(RecogniserError, "English only"):
            list(hear(samples, tools(), HearingOptions("pl"), (0, 9_000)))


class Segments(unittest.TestCase):
    def activity(self, *pieces):
        """(seconds, speaks) one after the other."""
        probability = [
            np.full(int(seconds * 1000 / FRAME_MS), 0.95 if speaks else 0.02)
            for seconds, speaks in pieces
        ]
        joined = np.concatenate(probability).astype(np.float32)
        return Activity(joined, np.where(joined > 0.5, -20, -60).astype(np.float32))

    def test_no_speech_is_lost_and_no_segment_is_too_long(self):
        rng = np.random.default_rng(3)
        pieces = [(rng.uniform(0.3, 9), place % 2 == 0) for place in range(120)]
        activity = self.activity(*pieces)
        segments = cut(activity)
        covered = np.zeros(len(activity), bool)
        for segment in segments:
            self.assertLessEqual(segment.frames * FRAME_MS, LONGEST_MS)
            covered[segment.first : segment.last] = True
        self.assertTrue(covered[activity.probability > 0.5].all())
        for before, after in itertools.pairwise(segments):
            self.assertLessEqual(before.last, after.first)

    def test_cuts_fall_in_the_long_pause(self):
        segments = cut(self.activity((9, True), (0.3, False), (6, True), (0.9, False), (12, True)))
        self.assertEqual(len(segments), 2)
        self.assertAlmostEqual(segments[1].first * FRAME_MS / 1000, 16.1, delta=0.2)

    def test_speech_without_any_pause_is_cut_at_its_quietest(self):
        activity = self.activity((70, True))
        segments = cut(activity)
        self.assertTrue(all(segment.frames * FRAME_MS <= LONGEST_MS for segment in segments))
        twice = sum(a.last - b.first for a, b in itertools.pairwise(segments))
        self.assertEqual(sum(segment.frames for segment in segments) - twice, len(activity))

    def test_long_silence_is_left_out(self):
        segments = cut(self.activity((3, True), (60, False), (3, True)))
        self.assertEqual(len(segments), 2)
        self.assertLess(sum(segment.frames for segment in segments) * FRAME_MS, 7_000)

    def test_activity_does_not_depend_on_the_blocks_it_is_given_in(self):
        sound = np.random.default_rng(4).standard_normal(512 * 40).astype(np.float32) * 0.1
        whole = ActivityMeter().measure(sound)
        meter = ActivityMeter()
        parts = meter.measure(sound[: 512 * 13]).joined(meter.measure(sound[512 * 13 :]))
        np.testing.assert_allclose(whole.probability, parts.probability, atol=1e-6)
        self.assertEqual(find_speech(whole), find_speech(parts))
