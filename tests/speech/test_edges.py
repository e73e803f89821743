"""Word edges at pauses lie where the sound begins and ends."""

import unittest

import numpy as np

from tamarind.speech.alignment import TimedWord
from tamarind.speech.edges import snapped
from tests.support import tone


def sound_at(*stretches, length=3.0, noise=0.0005):
    """Quiet noise with a tone in each stretch (from, to, in ms)."""
    sound = noise * np.random.default_rng(1).standard_normal(int(length * 16_000))
    for start, end in stretches:
        sound[start * 16 : end * 16] += tone((end - start) / 1000)
    return sound.astype(np.float32)


class Edges(unittest.TestCase):
    def edges(self, sound, *words):
        found = snapped([TimedWord(*word, 0.0) for word in words], sound)
        return [(word.start, word.end) for word in found]

    def test_edges_that_are_late_or_early_are_moved_to_the_sound(self):
        sound = sound_at((500, 1000), (1600, 2200))
        for words in (
            [(560, 940), (1500, 2300)],
            [(450, 1080), (1660, 2130)],
            [(500, 1000), (1600, 2200)],
        ):
            self.assertEqual(self.edges(sound, *words), [(500, 1000), (1600, 2200)])

    def test_words_without_a_pause_between_them_keep_their_border(self):
        sound = sound_at((500, 1500))
        self.assertEqual(self.edges(sound, (540, 900), (900, 1440)), [(500, 900), (900, 1500)])

    def test_a_short_silence_within_a_word_does_not_end_it(self):
        sound = sound_at((500, 700), (720, 1000))
        self.assertEqual(self.edges(sound, (560, 900)), [(500, 1000)])

    def test_nothing_is_moved_far(self):
        sound = sound_at((500, 1000), (2000, 2500))
        self.assertEqual(self.edges(sound, (1300, 1500)), [(1300, 1500)])

    def test_in_noise_the_alignment_is_believed(self):
        sound = sound_at((500, 1000), noise=0.2)
        self.assertEqual(self.edges(sound, (560, 940)), [(560, 940)])
        self.assertEqual(self.edges(np.zeros(100, np.float32), (0, 20)), [(0, 20)])
        self.assertEqual(self.edges(sound), [])
