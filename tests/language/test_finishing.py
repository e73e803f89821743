"""A draft as an editor would write it: one form for a name, spelling of a region, numbers alike."""

import unittest
from dataclasses import replace

from tamarind.job.jobfile import examine
from tamarind.language.finishing import finished
from tamarind.language.housestyle import Wording
from tamarind.language.oneform import with_one_form
from tamarind.language.regional import spelled
from tamarind.language.stylebook import SHIPPED
from tamarind.transcript.edits import opens_paragraph
from tamarind.transcript.model import Cue, Transcript, Word
from tests.support import DEMO


def text(said, language="en", pause=0):
    words, at, cues = [], 0, []
    for token in said.split():
        words.append(Word(token, at, at + 250, 0.9))
        at += 300
        if token.endswith((".", "?")):
            at += pause
            cues.append(Cue(len(cues) + 1, words[0].start, at, tuple(words)))
            words = []
    return Transcript(language, tuple(cues))


def written(transcript):
    return " ".join(cue.text for cue in transcript.cues)


class OneForm(unittest.TestCase):
    def one(self, said, terms=()):
        return written(with_one_form(text(said), terms))

    def test_a_name_is_written_as_it_mostly_is(self):
        self.assertEqual(
            self.one("The PBX is old. We sold the Pbx then. A PBX rings."),
            "The PBX is old. We sold the PBX then. A PBX rings.",
        )

    def test_a_name_of_the_glossary_decides_whatever_is_more_frequent(self):
        said = "We ask Mcleod again. So Mcleod came, and McLeod left."
        self.assertEqual(self.one(said, ["McLeod"]), said.replace("Mcleod", "McLeod"))

    def test_what_may_be_another_word_is_left_alone(self):
        for said in (
            "It is for us in the US and for us alone.",
            "It helps that IT is here. It does.",
            "May we come in may? We may.",
            "The OK came late, ok. Ok then.",
        ):
            self.assertEqual(self.one(said), said)


class Regional(unittest.TestCase):
    def test_words_are_spelled_as_their_region_does(self):
        self.assertEqual(spelled("Centimeters,", "en", "GB"), "Centimetres,")
        self.assertEqual(spelled("COLOR", "en-GB", "US"), "COLOUR")
        self.assertEqual(spelled("neighbour’s", "en-US", "GB"), "neighbor’s")
        self.assertEqual(spelled("traveling", "en", "AU"), "travelling")

    def test_what_is_right_in_a_region_as_it_is_stays(self):
        for word in ("meter", "program", "organize", "practice", "rivals", "tires", "centred"):
            self.assertEqual(spelled(word, "en-GB", "GB"), word)
        self.assertEqual(spelled("color", "es", "GB"), "color")
        self.assertEqual(spelled("parlor", "en-US", "GB"), "parlor")


class Finished(unittest.TestCase):
    def test_numbers_are_alike_through_a_text_and_stay_figures_in_names_dates_and_measures(self):
        style = SHIPPED["ordinary"]
        for said, wanted in (
            ("Two to lock it, 3 to open it.", "Two to lock it, three to open it."),
            ("We meet twelve people in Room 9.", "We meet 12 people in Room 9."),
            ("It was on 5 May at a depth of 3 to 4 metres.",) * 2,
            ("Call 5 5 5 2 1 now.",) * 2,
        ):
            self.assertEqual(written(finished(text(said), style)), wanted)

    def test_a_style_that_leaves_numbers_leaves_them(self):
        said = "Two to lock it, 3 to open it."
        self.assertEqual(written(finished(text(said), SHIPPED["verbatim"])), said)
        self.assertEqual(Wording().spelling, "GB")

    def test_paragraphs_are_of_a_length_that_people_read(self):
        lecture = examine(DEMO / "Peatland voices.tamarind").documents[2].transcript
        cues = tuple(
            replace(cue, opens_paragraph=False, paragraph_set=False) for cue in lecture.cues
        )
        parted = finished(replace(lecture, cues=cues), SHIPPED["ordinary"])
        lengths = [0]
        for place, cue in enumerate(parted.cues):
            if place and opens_paragraph(parted.cues, place):
                lengths.append(0)
            lengths[-1] += len(cue.text) + 1
        self.assertTrue(150 <= sum(lengths) / len(lengths) <= 700, lengths)
        self.assertLess(max(lengths), 1_000)


if __name__ == "__main__":
    unittest.main()
