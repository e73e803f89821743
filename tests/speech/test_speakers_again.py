"""Speakers of people's recordings told apart anew, from points that are kept."""

from unittest.mock import patch

import numpy as np

from tamarind.speech.diarisation import keptpoints
from tamarind.speech.diarisation.again import by_example, so_many
from tamarind.speech.diarisation.encoder import VoiceEncoder
from tamarind.speech.diarisation.keptpoints import points_through
from tamarind.speech.diarisation.windows import NO_POINTS
from tests.speech.test_voices import people
from tests.support import FolderTest


def through(sound, folder):
    work = points_through(sound, (0, len(sound) // 16), VoiceEncoder(), folder)
    told = []
    while True:
        try:
            told.append(next(work))
        except StopIteration as end:
            return end.value, told


class SpeakersAgain(FolderTest):
    def setUp(self):
        super().setUp()
        self.sound, said = people()
        self.words, self.said = [list(column) for column in zip(*said, strict=True)]
        self.points, _ = through(self.sound, self.folder)

    def wrong(self, found):
        return sum(a != b for a, b in zip(found, self.said, strict=True)) / len(found)

    def test_as_many_as_are_said(self):
        self.assertLess(self.wrong(so_many(self.words, self.points, 2).speakers), 0.03)
        self.assertEqual(set(so_many(self.words, self.points, 1).speakers), {1})
        three = so_many(self.words, self.points, 3)
        self.assertEqual(set(three.speakers), {1, 2, 3})
        self.assertEqual({voice.speaker for voice in three.voices}, {1, 2, 3})

    def test_one_example_tells_a_second_speaker_apart(self):
        """All was one person's; one turn of the other is said to be somebody else's."""
        certain = [8 <= place < 16 for place in range(len(self.words))]
        given = [2 if is_certain else 1 for is_certain in certain]
        told = by_example(self.words, self.points, given, certain)
        self.assertEqual(told.speakers[8:16], (2,) * 8)
        self.assertLess(self.wrong(told.speakers), 0.05)

    def test_points_are_kept_and_damaged_ones_made_again(self):
        with patch.object(keptpoints, "points_of", side_effect=AssertionError("listened again")):
            again, told = through(self.sound, self.folder)
        np.testing.assert_array_equal(again.spans, self.points.spans)
        self.assertEqual(told, [1.0])
        (kept,) = self.folder.glob("voices-*.npz")
        for damaged in (b"", kept.read_bytes()[:900], b"PK\x03\x04" + b"x" * 99):
            kept.write_bytes(damaged)
            found, _ = through(self.sound, self.folder)
            np.testing.assert_array_equal(found.spans, self.points.spans)

    def test_where_nobody_is_heard_nobody_is_told(self):
        self.assertEqual(set(so_many(self.words, NO_POINTS, 2).speakers), {None})
        self.assertEqual(so_many([], self.points, 2).speakers, ())
