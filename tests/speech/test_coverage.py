"""What is said is in the text, or is marked: skipped sentences are heard again."""

import unittest
from dataclasses import replace
from functools import cache

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tamarind.audio import soundcache
from tamarind.batch.transcribing import tools
from tamarind.speech.alignment import TimedWord
from tamarind.speech.coverage import Ears, PlacedText, covered, uncovered
from tamarind.speech.hearing import hear
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.base import HeardWord, Hypothesis
from tests.doses import dose
from tests.speech.spoken import TWO_CITIES
from tests.support import FolderTest, human_recording, word_error_rate


class Skipping:
    """A recogniser that leaves words out of what it hears at first, as networks do."""

    def __init__(self, inner, first, last, deaf=False):
        self._inner, self._first, self._last, self._deaf = inner, first, last, deaf
        self.languages = inner.languages
        self.calls = 0

    def hear(self, segments, how):
        self.calls += 1
        heard = self._inner.hear(segments, how)
        if self.calls > 1:
            return [[Hypothesis((), 0.0)] for _ in heard] if self._deaf else heard
        result = []
        for best, *others in heard:
            words = (*best.words[: self._first], *best.words[self._last :])
            result.append([replace(best, words=words), *others])
        return result


class Skipped(FolderTest):
    @classmethod
    @cache
    def whole(cls):
        """The words where nothing is skipped."""
        return cls.heard(0, 0)[0]

    @staticmethod
    def heard(first, last, deaf=False, part=(0, 20_000)):
        samples = soundcache.fetch(human_recording("two_cities.wav")).samples()
        loaded = tools()
        leaving = Skipping(loaded.recogniser, first, last, deaf)
        with_it = replace(loaded, recogniser=leaving, other=lambda how: None)
        stretches = list(hear(samples, with_it, HearingOptions(), part))
        words = [word for stretch in stretches for word in stretch.words]
        return words, [span for stretch in stretches for span in stretch.unheard]

    @settings(max_examples=dose(3, 40), deadline=None)
    @given(st.integers(0, 30), st.integers(6, 12))
    def test_what_was_skipped_comes_or_is_told(self, first, count):
        words, told = self.heard(first, first + count)
        whole = self.whole()
        missing = word_error_rate(
            " ".join(word.text for word in whole), " ".join(word.text for word in words)
        )
        if missing > 5 / len(whole):
            self.assertTrue(told, " ".join(word.text for word in words))

    def test_a_sentence_comes_back_in_its_time(self):
        whole = self.whole()
        words, told = self.heard(12, 24)
        self.assertEqual(told, [])
        self.assertLess(
            word_error_rate(TWO_CITIES, " ".join(word.text for word in words)),
            word_error_rate(TWO_CITIES, " ".join(word.text for word in whole)) + 0.03,
        )
        starts = {word.text: word.start for word in whole[10:26]}
        for word in words[10:26]:
            if word.text in starts:
                self.assertLess(abs(word.start - starts[word.text]), 4_000)

    def test_what_nobody_hears_is_told_where_it_is(self):
        whole = self.whole()
        _, told = self.heard(12, 24, deaf=True)
        missing = whole[12].start, whole[23].end
        self.assertTrue(any(a < missing[1] and b > missing[0] for a, b in told), told)


def placed(*words):
    """Words with their times, fits and numbers of phones."""
    return PlacedText(
        tuple(HeardWord(text, 0.95) for text, *_ in words),
        tuple(TimedWord(start, end, fit, phones) for _, start, end, fit, phones in words),
    )


class Uncovered(unittest.TestCase):
    def test_a_word_that_is_drawn_out_and_fits_badly(self):
        text = placed(("the", 0, 100, -2.0, 2), ("which", 100, 3_200, -7.0, 3))
        (found,) = uncovered(text, [(0, 3_200)], -2.0)
        self.assertEqual(found.worst, (100, 3_200))

    def test_a_long_word_and_a_slow_one_that_fits_are_none(self):
        slow = placed(("well", 0, 700, -1.0, 3), ("hydrological", 700, 1_700, -2.0, 12))
        self.assertEqual(uncovered(slow, [(0, 1_700)], -2.0), [])

    def test_a_text_without_words(self):
        (found,) = uncovered(PlacedText((), ()), [(0, 2_400)], -2.0)
        self.assertEqual((found.span, found.first, found.last), ((0, 2_400), 0, 0))

    def test_speech_without_a_word(self):
        text = placed(("yes", 0, 300, -2.0, 3))
        (found,) = uncovered(text, [(0, 300), (900, 2_400)], -2.0)
        self.assertEqual((found.span, found.first, found.last), ((900, 2_400), 1, 1))

    def test_two_places_in_a_segment_are_each_put_right_in_their_place(self):
        text = placed(
            ("one", 0, 300, -2.0, 3), ("which", 1_000, 3_000, -8.0, 3),
            ("two", 4_000, 4_300, -2.0, 3), ("the", 5_000, 7_000, -8.0, 2),
            ("three", 8_000, 8_300, -2.0, 4),
        )  # fmt: skip
        speech = [(0, 300), (1_000, 3_000), (4_000, 4_300), (5_000, 7_000), (8_000, 8_300)]
        said = {1_000: ["here", "is", "which"], 5_000: ["and", "this", "is", "the"]}

        def hear(only):
            def heard(parts):
                texts = []
                for part in parts:
                    start = int(part[0])
                    words = said[start] if start in only else []
                    texts.append(Hypothesis(tuple(HeardWord(w, 0.9) for w in words), 0.0))
                return texts

            return heard

        def align(parts, texts):
            return [
                tuple(
                    TimedWord(n * 300 + 200, n * 300 + 490, -2.0, 3)
                    for n, _ in enumerate(one.words)
                )
                for one in texts
            ]

        # Each sample says when it is, so that who hears a part knows which.
        sound = np.repeat(np.arange(0, 9_000), 16).astype(np.float32)
        sound = np.where(sound < 4_000, 1_000, 5_000).astype(np.float32)
        ears = Ears((hear({1_000}), hear({5_000})), align, lambda s, texts: [0.0, 1.0])
        (kept,), told = covered([text], [sound], [speech], ears)
        words = [word.text for word in kept.words]
        self.assertEqual(
            words, ["one", "here", "is", "which", "two", "and", "this", "is", "the", "three"]
        )
        self.assertEqual(told, [[]])
        starts = [time.start for time in kept.times]
        self.assertEqual(starts, sorted(starts))

    def test_an_ordinary_word_drawn_out_is_not_believed_from_one_alone(self):
        text = placed(("which", 0, 3_000, -8.0, 3))
        same = Hypothesis((HeardWord("Which", 0.9),), 0.0)
        nothing = Hypothesis((), 0.0)
        for other, expected in ((same, [[]]), (nothing, [[(0, 3_000)]])):
            ears = Ears(
                (
                    lambda parts: [same] * len(parts),
                    lambda parts, other=other: [other] * len(parts),
                ),
                lambda parts, texts: [
                    [TimedWord(0, 3_000, -8.0, 3)] * len(text.words) for text in texts
                ],
                lambda sound, texts: [0.0, 0.0],
            )
            _, told = covered([text], [np.zeros(60_000, np.float32)], [[(0, 3_000)]], ears)
            self.assertEqual(told, expected)

    def test_a_text_that_comes_again_is_confirmed_and_nothing_is_told(self):
        text = placed(("8500", 0, 2_000, -7.0, 3))
        same = Hypothesis((HeardWord("8500.", 0.9),), 0.0)
        ears = Ears(
            (lambda parts: [same] * len(parts),),
            lambda parts, texts: [[TimedWord(0, 2_000, -7.0, 3)]] * len(parts),
            lambda sound, texts: [],
        )
        kept, told = covered([text], [np.zeros(40_000, np.float32)], [[(0, 2_000)]], ears)
        self.assertEqual((kept, told), ([text], [[]]))


if __name__ == "__main__":
    unittest.main()
