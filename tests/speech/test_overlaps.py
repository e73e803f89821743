"""Speech without a pause: segments overlap, and their words are joined without loss or doubling."""

import itertools
import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.activity import FRAME_MS, Activity, ActivityMeter
from tamarind.speech.alignment import Aligner
from tamarind.speech.hearing import Tools, hear
from tamarind.speech.hearingoptions import HearingOptions, Sensitivity
from tamarind.speech.overlaps import merged
from tamarind.speech.recognisers.base import Hypothesis
from tamarind.speech.recognisers.builtin import BuiltinRecogniser
from tamarind.speech.segments import LONGEST_MS, cut, settled
from tamarind.speech.unheard import unheard
from tamarind.transcript.model import Word
from tests.speech.spoken import TWO_CITIES
from tests.support import FolderTest, human_recording, word_error_rate


def said(text, start, each=300):
    return [Word(w, start + n * each, start + n * each + 250) for n, w in enumerate(text.split())]


def text(words):
    return " ".join(word.text for word in words)


class Merging(unittest.TestCase):
    def test_a_word_that_both_have_is_the_joint_and_stands_once(self):
        before = said("the water stays in the peat all sumner", 0)
        after = said("stay in the peat all summer long", 600)
        both = merged(before, after, (600, 2400))
        self.assertEqual(text(both), "the water stays in the peat all summer long")

    def test_the_same_word_at_another_time_is_no_joint(self):
        before, after = said("on and on", 0), said("on and off", 900)
        self.assertEqual(text(merged(before, after, (850, 950))), "on and on on and off")

    def test_without_a_common_word_the_middle_decides(self):
        before, after = said("a b c d", 0), said("x y z", 610)
        self.assertEqual(text(merged(before, after, (600, 1200))), "a b c y z")


class Cutting(unittest.TestCase):
    def activity(self, seconds, pause_at=()):
        count = int(seconds * 1000 / FRAME_MS)
        probability = np.ones(count, np.float32)
        for second in pause_at:
            at = int(second * 1000 / FRAME_MS)
            probability[at : at + 10] = 0
        return Activity(probability, np.full(count, -20, np.float32))

    def test_only_borders_without_a_pause_overlap(self):
        segments = cut(self.activity(60))
        for before, after in itertools.pairwise(segments):
            self.assertLess(after.first, before.last)
        self.assertLess(max(segment.frames for segment in segments) * FRAME_MS, LONGEST_MS + 1)
        first, second = cut(self.activity(30, pause_at=(15,)))
        self.assertLess(first.last, second.first)

    def test_segments_that_overlap_are_not_torn_apart_between_blocks(self):
        self.assertEqual(settled(cut(self.activity(60))), 0)
        segments = cut(self.activity(75, pause_at=(15, 30)))
        self.assertEqual(settled(segments), 2)
        self.assertGreater(len(segments), 3)

    def test_sensitivity_says_how_weak_speech_may_be(self):
        weak = Activity(np.full(100, 0.3, np.float32), np.full(100, -50, np.float32))
        found = {kind: len(cut(weak, kind)) for kind in Sensitivity}
        self.assertEqual(
            found, {Sensitivity.CLEAR: 0, Sensitivity.ORDINARY: 0, Sensitivity.FAINT: 1}
        )


class Unheard(FolderTest):
    def test_long_speech_without_words_is_told_and_pauses_are_not(self):
        words = [*said("one two three", 0), *said("four", 4000)]
        self.assertEqual(unheard([(0, 4300)], words), [(1000, 3850)])
        self.assertEqual(unheard([(0, 900), (3900, 4300)], words), [])
        self.assertEqual(unheard([(0, 5000)], []), [(0, 5000)])

    def test_a_recogniser_that_says_nothing_leaves_its_speech_marked(self):
        class Silent:
            languages = ()

            def hear(self, segments, how):
                return [[Hypothesis((), 0.0)] for _ in segments]

        samples = soundcache.fetch(human_recording("two_cities.wav")).samples()[: 16_000 * 12]
        (stretch,) = hear(samples, Tools(Silent(), Aligner(), None), HearingOptions(), (0, 12_000))
        self.assertEqual(stretch.words, ())
        self.assertGreater(sum(b - a for a, b in stretch.unheard), 7_000)


class WithoutPauses(FolderTest):
    def segments(self, samples):
        return cut(ActivityMeter().measure(samples))

    def test_speech_with_its_pauses_cut_out_is_heard_whole(self):
        samples = np.array(soundcache.fetch(human_recording("two_cities.wav")).samples())
        frames = samples[: len(samples) // 320 * 320].reshape(-1, 320)
        quiet = np.sqrt(np.mean(frames**2, axis=1)) < 0.004
        run = np.array([quiet[max(at - 3, 0) : at + 1].all() for at in range(len(quiet))])
        dense = frames[~run].reshape(-1)
        tools = Tools(BuiltinRecogniser(), Aligner(), None)
        found = hear(dense, tools, HearingOptions(), (0, len(dense) // 16))
        words = [word for stretch in found for word in stretch.words]
        self.assertTrue(any(c.first < b.last for b, c in itertools.pairwise(self.segments(dense))))
        self.assertLess(word_error_rate(TWO_CITIES, text(words)), 0.15)
        self.assertTrue(all(a.end <= b.start for a, b in itertools.pairwise(words)))
