import itertools
import random
import unittest
from functools import cache

import numpy as np

from tamarind.audio import soundcache
from tamarind.batch import transcribing
from tamarind.batch.messages import HearOnDemand
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.script import timed_script
from tests.support import FolderTest, human_recording


@cache
def heard():
    """What is told while a recording is heard, the last of which has its words."""
    task = HearOnDemand(1, human_recording("two_cities.wav"), HearingOptions())
    return tuple(transcribing.hear_on_demand(task, transcribing.tools))


class Scripts(FolderTest):
    def setUp(self):
        super().setUp()
        *told, last = heard()
        self.assertTrue(told and told[-1].until <= told[-1].end)
        self.words = last.words
        self.sound = soundcache.fetch(human_recording("two_cities.wav")).samples()
        self.aligner = transcribing.tools().aligner

    def timed(self, tokens, heard=None):
        return timed_script(
            tokens, self.words if heard is None else heard, self.sound, self.aligner
        )

    def test_words_that_were_heard_keep_their_times(self):
        result = self.timed([word.text.lower() for word in self.words])
        self.assertEqual([w.start for w in result], [w.start for w in self.words])
        self.assertTrue(all(w.confidence is None for w in result))

    def test_words_that_were_not_heard_are_found_in_the_sound(self):
        rng = random.Random(2)
        heard = [word for word in self.words if rng.random() < 0.85]
        result = self.timed([word.text for word in self.words], heard)
        away = [abs(a.start - b.start) for a, b in zip(result, self.words, strict=True)]
        self.assertLessEqual(np.median(away), 20)
        self.assertLessEqual(np.percentile(away, 95), 80)

    def test_a_script_of_a_part_lies_within_it(self):
        start, end = self.words[6].start - 100, self.words[17].end + 100
        part = (start, end)
        task = HearOnDemand(
            1, human_recording("two_cities.wav"), HearingOptions(), part,
            ("sphagnum", *(word.text for word in self.words[6:18])),
        )  # fmt: skip
        *_, last = transcribing.hear_on_demand(task, transcribing.tools)
        self.assertTrue(all(start <= w.start < w.end <= end + 100 for w in last.words), last.words)
        self.assertTrue(last.words[0].is_doubt())
        away = [abs(a.start - b.start) for a, b in
                zip(last.words[1:], self.words[6:18], strict=True)]  # fmt: skip
        self.assertLessEqual(np.median(away), 40)

    def test_a_script_may_differ_from_what_is_said(self):
        rng = random.Random(3)
        script, source = [], []
        for word in self.words:
            chance = rng.random()
            if chance < 0.08:
                continue
            if chance < 0.16:
                script.append("sphagnum")
                source.append(None)
            script.append(word.text)
            source.append(word)
        result = self.timed(script)
        self.assertEqual([w.text for w in result], script)
        for before, after in itertools.pairwise(result):
            self.assertLessEqual(before.end, after.start)
        for one, true in zip(result, source, strict=True):
            if true is None:
                self.assertTrue(one.is_doubt(), one)
        kept = [(a, b) for a, b in zip(result, source, strict=True) if b is not None]
        away = [abs(a.start - b.start) for a, b in kept]
        self.assertLessEqual(np.percentile(away, 90), 20)


class WithoutSound(unittest.TestCase):
    def test_a_script_for_silence_has_times_in_order_and_only_doubts(self):
        sound = np.zeros(3 * 16_000, np.float32)
        result = timed_script("nobody says this".split(), [], sound, transcribing.tools().aligner)
        self.assertEqual(len(result), 3)
        self.assertTrue(all(w.is_doubt() and 0 <= w.start < w.end <= 3_100 for w in result))
