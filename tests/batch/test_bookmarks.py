import json
import unittest

import numpy as np

from tamarind.batch import bookmarks
from tamarind.batch.bookmarks import HearingState
from tamarind.speech.activity import Activity
from tamarind.speech.bookmark import Bookmark, VoicesMark
from tamarind.transcript.model import Word


def numbers(count, seed=1):
    return np.random.default_rng(seed).random(count, np.float32)


def place(voices=None):
    mark = Bookmark(
        512_000, (numbers(128), numbers(128, 2), numbers(64, 3)), 400_000,
        waiting=Activity(numbers(300, 4), numbers(300, 5)), block_ms=80_000, voices=voices,
    )  # fmt: skip
    word = Word("peat,", 25_100, 25_600, 0.7, ("Pete,",))
    last = Word("wet", 24_600, 24_900, 0.8), 1
    return HearingState(
        mark, ((word, 2, ""), (Word("“moor”", 25_700, 26_000), None, "es")), 41, 25_000, last
    )


class KeptAsText(unittest.TestCase):
    def test_everything_comes_back_bit_by_bit(self):
        voices = VoicesMark(np.stack([numbers(256, 7), numbers(256, 8)]), (1, 0))
        for known in (None, voices, VoicesMark(np.zeros((0, 256), np.float32), ())):
            before = place(known)
            after = bookmarks.read(bookmarks.written(before))
            self.assertEqual(
                (after.waiting, after.next_id, after.after, after.last),
                (before.waiting, before.next_id, before.after, before.last),
            )
            a, b = before.sound, after.sound
            self.assertEqual((a.border, a.origin, a.block_ms), (b.border, b.origin, b.block_ms))
            for one, other in zip(a.memory, b.memory, strict=True):
                np.testing.assert_array_equal(one, other)
            np.testing.assert_array_equal(a.waiting.level, b.waiting.level)
            if known is not None:
                self.assertEqual(b.voices.numbers, known.numbers)
                np.testing.assert_array_equal(b.voices.middles, known.middles)

    def test_what_is_no_bookmark_begins_at_the_beginning(self):
        good = json.loads(bookmarks.written(place()))
        for change in (
            {"sound": None}, {"sound": {**good["sound"], "voices": {"turns": []}}},
            {"waiting": [["x"]]}, {"next_id": "many"}, {"sound": {"border": 1}},
        ):  # fmt: skip
            text = json.dumps({**good, **change})
            self.assertEqual(bookmarks.read(text), HearingState(), change)
        for text in ("", "{", "[]", "null", '"x"'):
            self.assertEqual(bookmarks.read(text), HearingState())
