"""Captions read as text: sentences in paragraphs, and who speaks."""

import unittest

from tamarind.formats.captions import srt, vtt
from tamarind.formats.reading.paragraphs import paragraphs
from tamarind.language.prose import as_prose


def captions(*said):
    """An SRT of (start, end in s, lines)."""
    blocks = [
        f"{number}\n00:00:{a:02},000 --> 00:00:{b:02},000\n{body}\n"
        for number, (a, b, body) in enumerate(said, 1)
    ]
    return srt.read("\n".join(blocks), "en")


def read(text):
    return [(p.label, p.text) for p in paragraphs(as_prose(text))]


class Prose(unittest.TestCase):
    def test_cues_run_together_to_paragraphs_that_end_with_a_sentence_and_a_pause(self):
        text = captions(
            (1, 4, "We dug the first drain\nin the spring,"), (5, 8, "by hand. It was wet."),
            (9, 11, "It ran."), (20, 22, "Then came the moss,"), (28, 30, "slowly."),
        )  # fmt: skip
        self.assertEqual(
            read(text),
            [
                (None, "We dug the first drain in the spring, by hand. It was wet. It ran."),
                (None, "Then came the moss, slowly."),
            ],
        )

    def test_a_dash_begins_a_paragraph_and_stays(self):
        text = captions(
            (1, 4, "- Who dug them?\n- The estate did."), (5, 8, "It wanted sheep."),
            (9, 11, "–How many?"),
        )  # fmt: skip
        self.assertEqual(
            [said for _, said in read(text)],
            ["- Who dug them?", "- The estate did.", "It wanted sheep.", "–How many?"],
        )

    def test_a_name_and_a_colon_is_a_speaker_until_the_next_one(self):
        text = captions(
            (1, 4, "CHAIR: Welcome to the meeting.\nIs it wet?"), (5, 8, "Let us begin."),
            (9, 11, "ANN ALDOUS: It is wet.\nCHAIR: Thank you."), (12, 14, "Note: bring boots."),
        )  # fmt: skip
        self.assertEqual(
            read(text),
            [
                ("CHAIR:", "Welcome to the meeting. Is it wet? Let us begin."),
                ("ANN ALDOUS:", "It is wet."),
                ("CHAIR:", "Thank you. Note: bring boots."),
            ],
        )

    def test_no_word_is_lost_and_voices_that_are_known_stay(self):
        text = vtt.read(
            "WEBVTT\n\n00:01.000 --> 00:04.000\n<v Ann>We dug: a drain.</v>\n\n"
            "00:04.000 --> 00:06.000\n<v Bo>Deep?</v>\n",
            "en",
        )
        self.assertEqual(read(text), [("Ann:", "We dug: a drain."), ("Bo:", "Deep?")])
