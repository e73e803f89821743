"""Loud stretches in which nobody speaks."""

import unittest

import numpy as np

from tamarind.audio import soundcache
from tamarind.speech.activity import speech_of
from tamarind.speech.soundevents import SoundKind, sound_events
from tests.support import DEMO, human_recording

RATE = 16_000


def noise(seconds, loud, seed=1):
    return np.random.default_rng(seed).normal(0, loud, round(seconds * RATE)).astype(np.float32)


def music(seconds):
    """Chords of three tones with their overtones, each of half a second."""
    time = np.arange(round(seconds * RATE)) / RATE
    made = np.zeros(len(time))
    for beat, root in enumerate((220, 262, 196, 247) * 9):
        part = (time >= beat / 2) & (time < beat / 2 + 0.5)
        for ratio in (1, 1.26, 1.5):
            for overtone in (1, 2, 3):
                wave = np.sin(2 * np.pi * root * ratio * overtone * time[part])
                made[part] += wave / overtone
    return (0.05 * made).astype(np.float32)


class Sounds(unittest.TestCase):
    def test_noise_and_music_are_found_and_speech_is_left_out(self):
        quiet = noise(2, 0.001)
        sound = np.concatenate(
            [quiet, noise(1.5, 0.1), quiet, music(6), quiet, noise(2, 0.1), quiet]
        )
        speech = [(13_500, 15_500)]
        found = sound_events(sound, speech)
        self.assertEqual([one.kind for one in found], [SoundKind.SOUND, SoundKind.MUSIC])
        self.assertEqual([(one.start, one.end) for one in found], [(2_000, 3_500), (5_500, 11_500)])
        self.assertGreater(found[0].level, 30)

    def test_applause_is_no_music_and_what_is_soft_or_short_is_nothing(self):
        quiet = noise(3, 0.001)
        claps = noise(5, 0.1) * (0.4 + 0.6 * np.random.default_rng(2).random(5 * RATE) ** 4)
        found = sound_events(np.concatenate([quiet, claps.astype(np.float32), quiet]), [])
        self.assertEqual([one.kind for one in found], [SoundKind.SOUND])
        soft = np.concatenate([quiet, noise(1, 0.002), quiet, noise(0.2, 0.1), quiet])
        self.assertEqual(sound_events(soft, []), [])
        self.assertEqual(sound_events(np.zeros(0, np.float32), []), [])
        self.assertEqual(sound_events(quiet, [(0, 3_000)]), [])

    def test_in_recordings_of_speech_alone_hardly_anything_is_proposed(self):
        """Where somebody speaks is told by the detector, as the window does."""
        for path in (human_recording("two_cities.wav"), human_recording("beckett.wav"),
                     DEMO / "media" / "Warden interview.m4a"):  # fmt: skip
            samples = soundcache.fetch(path).samples()
            found = sound_events(samples, speech_of(samples))
            self.assertLessEqual(len(found), 1, path.name)
