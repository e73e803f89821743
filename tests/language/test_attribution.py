"""Captions that show who speaks."""

import unittest
from dataclasses import replace
from itertools import pairwise

from tamarind.captions.limits import Limits, SpeakerMarks
from tamarind.formats.captions import srt, ttml, vtt
from tamarind.language.attribution import with_speakers
from tamarind.language.housestyle import HouseStyle, read_style
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.reconcile import spread

ANN, BO = Speaker(1, "Ann Aldous"), Speaker(2, "Bo")


def talk(*said):
    """A text of (speaker, seconds from, to, words)."""
    cues = [
        Cue(number, round(a * 1000), round(b * 1000),
            tuple(spread(words.split(), round(a * 1000), round(b * 1000))), who)
        for number, (who, a, b, words) in enumerate(said, 1)
    ]  # fmt: skip
    return Transcript("en", tuple(cues), (ANN, BO))


TALK = talk(
    (1, 1, 4, "We dug the first drains in the spring of that year, by hand."),
    (1, 4.2, 6, "It was wet."),
    (2, 6.2, 7, "How wet?"),
    (1, 7.1, 8, "To the knee."),
    (2, 9, 12, "And who paid for them?"),
)


class Attribution(unittest.TestCase):
    def shown(self, marks, text=TALK, **limits):
        text = with_speakers(text, Limits(speakers=marks, **limits))
        words = [word for cue in text.cues for word in cue.words]
        for one, other in pairwise(words):
            self.assertLessEqual(one.end, other.start)
        for one, other in pairwise(text.cues):
            self.assertLessEqual(one.end, other.start)
        return text

    def test_not_at_all(self):
        self.assertIs(self.shown(SpeakerMarks.NONE), TALK)

    def test_names_at_every_change_and_within_the_limits(self):
        text = self.shown(SpeakerMarks.NAME)
        told = [cue.lines[0] for cue in text.cues]
        self.assertTrue(told[0].startswith("ANN ALDOUS: We dug"))
        self.assertIn("BO: How wet?", told)
        self.assertEqual(sum("ANN ALDOUS:" in line for line in told), 2)
        for cue in text.cues:
            self.assertLessEqual(len(cue.lines), 2)
            self.assertTrue(all(len(line) <= 42 for line in cue.lines), cue.lines)
        self.assertIn("[Bo] How wet?", [c.text for c in self.shown(SpeakerMarks.BRACKETS).cues])

    def test_where_a_name_does_not_fit_the_cue_is_parted(self):
        long = talk((1, 1, 6, "We dug the very first of all the drains in the spring of that year,"
                              " by hand alone."))  # fmt: skip
        text = self.shown(SpeakerMarks.NAME, long)
        self.assertEqual(len(text.cues), 2)
        said = " ".join(cue.text for cue in text.cues)
        self.assertEqual(said, f"ANN ALDOUS: {long.cues[0].text}")
        self.assertTrue(all(len(line) <= 42 for cue in text.cues for line in cue.lines))

    def test_dashes_where_two_share_a_cue(self):
        text = self.shown(SpeakerMarks.DASHES)
        self.assertEqual(len(text.cues), len(TALK.cues) - 1)
        (both,) = [cue for cue in text.cues if len(cue.lines) == 2 and cue.speaker is None]
        self.assertEqual(both.lines, ("- It was wet.", "- How wet?"))
        self.assertEqual((both.start, both.end), (4200, 7000))
        one_line = self.shown(SpeakerMarks.DASHES, lines=1)
        self.assertEqual(len(one_line.cues), len(TALK.cues))

    def test_a_colour_each_in_every_caption_format(self):
        text = self.shown(SpeakerMarks.COLOURS)
        self.assertEqual(text.cues[0].words[0].spans, ())
        self.assertEqual({word.spans for word in text.cues[2].words}, {("c.yellow",)})
        self.assertIn("<c.yellow>How wet?</c>", vtt.write(text))
        self.assertIn('<font color="#ffff00">How wet?</font>', srt.write(text))
        self.assertIn('tts:color="#ffff00"', ttml.write(text))

    def test_it_is_part_of_a_house_style(self):
        style = HouseStyle("Client", replace(Limits(), speakers=SpeakerMarks.BRACKETS))
        self.assertEqual(read_style(style.packed()), style)
