"""Cues of a text whose words have voices."""

import unittest

from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY
from tamarind.transcript.edits import with_voices
from tamarind.transcript.model import Speaker, Transcript
from tests.support import words_of


class VoicesInCues(unittest.TestCase):
    def test_a_cue_has_one_voice_and_a_change_opens_a_paragraph(self):
        words = words_of("And who dug them? The estate did, and nobody minded.")
        voices = [1] * 4 + [2] * 6
        cues = lay_out(words, ORDINARY, voices=voices)
        self.assertEqual([cue.speaker for cue in cues], [1, 2])
        self.assertEqual([cue.opens_paragraph for cue in cues], [True, True])
        self.assertEqual([w.start for cue in cues for w in cue.words], [w.start for w in words])

    def test_a_short_answer_is_not_joined_with_the_question(self):
        words = words_of("Ready? Yes. Good.")
        self.assertEqual(len(lay_out(words, ORDINARY, voices=[1, 2, 1])), 3)
        self.assertEqual(len(lay_out(words, ORDINARY)), 1)

    def test_words_without_voices_make_cues_without_speakers(self):
        words = words_of("Nobody knows who said this.")
        self.assertEqual({cue.speaker for cue in lay_out(words, ORDINARY)}, {None})

    def test_every_voice_becomes_a_speaker_and_named_ones_stay(self):
        cues = lay_out(words_of("One two three four."), ORDINARY, voices=[3, 3, 1, 1])
        text = with_voices(Transcript("en", tuple(cues), (Speaker(1, "Warden"),)))
        self.assertEqual([s.label for s in text.speakers], ["Warden", "Speaker 3"])
        self.assertIs(with_voices(text), text)
