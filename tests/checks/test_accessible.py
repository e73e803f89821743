"""Whether everybody can follow a recording."""

import unittest
from dataclasses import replace
from html.parser import HTMLParser

from tamarind.checks.accessible import Answer, Looked, points, report
from tamarind.transcript.descriptions import Description
from tamarind.transcript.model import Speaker, Transcript
from tests.support import cue, moor

BARE = Looked(12_000, True)
GOOD = Looked(12_000, True, writes_transcript=True, writes_captions=True, sounds_looked=True)


def answers(text, looked, descriptions=()):
    return {point.title: point for point in points(text, descriptions, looked)}


def settled():
    return replace(moor(), cues=tuple(replace(cue, settled=True) for cue in moor().cues))


class Points(unittest.TestCase):
    def test_what_is_missing_has_a_way_to_mend_it(self):
        found = answers(moor(), replace(BARE, doubts=1, broken=2, contrasts=(3.0, 9.0)))
        missing = {title for title, point in found.items() if point.answer is Answer.MISSING}
        self.assertEqual(missing, {"Captions", "Proofed", "No uncertain words", "Sounds",
        "Transcript",
                                   "Audio description", "Contrast", "Readable"})  # fmt: skip
        self.assertTrue(all(found[title].mend for title in missing))
        self.assertEqual(found["No uncertain words"].told, "1 word is uncertain.")
        self.assertEqual(found["Readable"].told, "2 errors are in the captions.")

    def test_what_is_complete_has_nothing_to_do(self):
        seen = (Description(1, 100, "A moor"),)
        found = points(settled(), seen, GOOD)
        self.assertFalse([point for point in found if point.answer is Answer.MISSING])
        self.assertFalse(any(point.mend for point in found))

    def test_what_is_not_needed_is_told_as_such(self):
        alone = Transcript("en", (cue(1, "Dry.", 0),))
        found = answers(alone, replace(GOOD, has_picture=False))
        for title in ("Speakers", "Audio description"):
            self.assertEqual(found[title].answer, Answer.NEEDLESS, title)
        found = answers(settled(), replace(GOOD, needs_no_description=True))
        self.assertEqual(found["Audio description"].answer, Answer.NEEDLESS)

    def test_speakers_sounds_languages_and_descriptions(self):
        text = replace(settled(), language="und", speakers=(Speaker(1, ""), Speaker(2, "Warden")))
        late = (Description(1, 11_900, "A moor under a wide sky, with sheep and a cutting in it"),)
        found = answers(text, GOOD, late)
        self.assertEqual(found["Speakers"].told, "1 speaker is without a name.")
        self.assertEqual(found["Sounds"].told, "No sound needs a name.")
        self.assertEqual(found["Languages"].answer, Answer.MISSING)
        self.assertIn("too long", found["Audio description"].told)
        self.assertEqual(list(answers(Transcript("en"), GOOD)), ["Captions"])

    def test_the_report_is_a_page_in_which_nothing_runs(self):
        evil = "<script>alert(1)</script>"
        tags = []

        class Read(HTMLParser):
            def handle_starttag(self, tag, attrs):
                tags.append(tag)

        Read().feed(report(evil, [(evil, points(moor(), (), BARE))]))
        self.assertNotIn("script", tags)
        self.assertEqual(tags.count("h2"), 1)
