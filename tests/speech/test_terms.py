"""The glossary's terms found by their sound, and the knowledge of words that this stands on."""

import unittest

from tamarind.batch.messages import Hear, Heard
from tamarind.batch.work import do
from tamarind.speech import espeak
from tamarind.speech.alignment import NO_FIT
from tamarind.speech.glossary import NO_TERMS, read_glossary
from tamarind.speech.hearingoptions import Care, HearingOptions
from tamarind.speech.pronouncing import changed, phones_of, unlikeness
from tamarind.speech.recognisers.base import HeardWord
from tamarind.speech.terms import Candidate, TermFinder, with_offer, with_term
from tamarind.speech.wordmodel import UNKNOWN, WordModel, plain
from tests.support import DEMO, FolderTest


def heard(text, confidence=0.3):
    """Words all heard with one confidence."""
    return [HeardWord(word, confidence) for word in text.split()]


class Sounds(unittest.TestCase):
    def test_words_of_the_dictionary_and_others_have_phones(self):
        self.assertEqual(phones_of("Peat,"), ("P", "IY", "T"))
        self.assertEqual(phones_of("nineteen"), phones_of("19"))
        self.assertIn("F", phones_of("sphagnum"))
        self.assertEqual(phones_of("–"), ())

    def test_like_sounds_are_nearer_than_unlike_ones(self):
        peat = phones_of("peat")
        self.assertEqual(unlikeness(peat, phones_of("Pete")), 0)
        near, far = (unlikeness(peat, phones_of(word)) for word in ("pit", "mosque"))
        self.assertLess(near, 0.3)
        self.assertGreater(far, 0.7)
        self.assertEqual(unlikeness(peat, ()), 1)
        for a, b in (("pit", "bit"), ("weather", "Wether"), ("dam", "dim")):
            forth, back = (unlikeness(phones_of(x), phones_of(y)) for x, y in ((a, b), (b, a)))
            self.assertAlmostEqual(forth, back)

    def test_a_voiced_twin_is_nearer_than_another_place_or_a_vowel(self):
        self.assertLess(changed("P", "B"), changed("P", "K"))
        self.assertLess(changed("P", "K"), changed("P", "M"))
        self.assertEqual(changed("P", "IY"), 1)


class Language(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.model = WordModel()

    def test_what_follows_well_is_likelier_than_what_does_not(self):
        well = self.model.around("it was the best of times".split())
        badly = self.model.around("it was the basenstay of times".split())
        self.assertEqual(len(well), 6)
        self.assertGreater(well[3], badly[3] + 2)
        self.assertEqual(self.model.around(["basenstay"])[0], UNKNOWN)

    def test_figures_and_marks_are_unknown_not_wrong(self):
        self.assertEqual(self.model.around(["1952"])[0], UNKNOWN)
        self.assertEqual(plain("“Well-known’s,”"), ["well", "known's"])
        self.assertEqual(self.model.around([]), [])


class Finding(unittest.TestCase):
    def places(self, glossary, text, confidence=0.3):
        found = TermFinder(read_glossary(glossary)).candidates(heard(text, confidence))
        words = text.split()
        return [(" ".join(words[c.first : c.last]), c.text) for c in found]

    def test_what_sounds_like_a_term_is_found_the_most_alike_first(self):
        found = self.places("Wether Sike\nPenhallow", "Old Penn Hollow, near weather psyche.")
        self.assertEqual(found[0], ("Penn Hollow,", "Penhallow"))
        self.assertIn(("weather psyche.", "Wether Sike"), found)

    def test_what_is_somebodys_is_found_as_theirs(self):
        found = self.places("Penhallow", "Old Penn Hollow's drain.")
        self.assertEqual(found[0], ("Penn Hollow's", "Penhallow's"))
        self.assertNotIn(
            "Penhallow's", [term for _, term in self.places("Penhallow", "a pen hollow")]
        )

    @unittest.skipUnless(espeak.voices(), "there is no synthesiser here")
    def test_a_name_from_another_language_is_found_said_in_either_way(self):
        for said in ("a chakky", "a bee an ketty"):
            self.assertTrue(self.places("Bianchetti\nIacchi", said), said)
        self.assertIn(("a lee", "Eilidh"), self.places("Eilidh", "then a lee came"))

    def test_a_spelling_of_its_sound_helps_a_term(self):
        self.assertEqual(self.places("coir = koyer", "the koyer mats")[0], ("koyer", "coir"))
        plain, helped = (
            TermFinder(read_glossary(terms)).candidates(heard("the koyer mats"))[0].unlike
            for terms in ("coir", "coir = koyer")
        )
        self.assertLess(helped, plain / 2)

    def test_what_was_heard_surely_is_left_alone(self):
        self.assertEqual(self.places("Wether Sike", "near weather psyche.", 0.95), [])

    def test_a_term_that_stands_there_is_not_looked_for_again(self):
        for text in ("the Wether Sike dam", "the wether sike's dam", "at Wether Sike, sike"):
            self.assertEqual(self.places("Wether Sike", text), [])
        self.assertEqual(self.places("dip wells", "one dip well stood"), [])

    def test_words_that_sound_otherwise_are_not_found(self):
        self.assertEqual(
            self.places("bog asphodel\nsphagnum", "we had two spades and a digger"), []
        )
        self.assertEqual(TermFinder(NO_TERMS).candidates(heard("anything")), [])

    def test_sound_text_and_likeness_speak_for_a_term_together(self):
        alike, unlike = Candidate(0, 1, "x", 0.05), Candidate(0, 1, "x", 0.4)
        self.assertGreater(alike.odds(-25, 0), 0)
        self.assertLess(unlike.odds(-25, 0), 0)
        self.assertGreater(unlike.odds(3, 40), 0)
        self.assertLess(unlike.odds(40, -200), 0)
        self.assertGreater(alike.odds(0, NO_FIT), unlike.odds(0, NO_FIT))

    def test_marks_stay_and_what_was_heard_is_a_reading(self):
        words = heard("“weather psyche,” he said")
        taken = with_term(words, Candidate(0, 2, "Wether Sike", 0.1))
        self.assertEqual([word.text for word in taken], ["“Wether", "Sike,”", "he", "said"])
        self.assertEqual(taken[0].others, ("weather psyche",))
        self.assertGreater(taken[0].confidence, 0.6)

    def test_a_term_not_taken_is_offered_a_word_at_a_time(self):
        words = heard("the koyer mats")
        offered = with_offer(words, Candidate(1, 2, "coir", 0.3))
        self.assertEqual(offered[1].others, ("coir",))
        both = with_offer(heard("near weather psyche,"), Candidate(1, 3, "Wether Sike", 0.3))
        self.assertEqual([word.others for word in both], [(), ("Wether",), ("Sike",)])


class InTheDemo(FolderTest):
    """Real sound: the interview speaks of places and plants that the network does not know."""

    PART = (62_900, None)
    TERMS = "Harrow Creek\nsphagnum\ndip wells"

    def text(self, terms, care=Care.QUICK):
        how = HearingOptions(care=care, glossary=read_glossary(terms))
        events = list(do(Hear(1, DEMO / "media" / "Warden interview.m4a", how, self.PART)))
        return " ".join(c.text for e in events if isinstance(e, Heard) for c in e.cues).lower()

    def test_terms_come_out_right_with_the_glossary_and_foreign_ones_never(self):
        right = [
            sum(term in text for term in self.TERMS.lower().splitlines())
            for text in (self.text(""), self.text(self.TERMS))
        ]
        self.assertGreater(right[1], right[0])
        foreign = "asphodel\nkestrel\nBarrowmere\nImogen Tarrant"
        text = self.text(foreign)
        self.assertEqual([term for term in foreign.lower().splitlines() if term in text], [])
