"""Dates, times, money, measures and spelt-out letters as a style writes them."""

import unittest
from dataclasses import replace

from hypothesis import example, given
from hypothesis import strategies as st

from tamarind.language.housestyle import Dates, Numbers, SpelledLetters, Times, UnitForm, Wording
from tamarind.language.numbers import changes
from tamarind.language.styled import as_style_writes
from tamarind.transcript.model import Transcript, Word, text_of
from tests.support import cue

SHORT = Wording(
    numbers=Numbers.WORDS_BELOW, dates=Dates.FIGURES, times=Times.HALF_DAY, amounts=UnitForm.SHORT,
    measures=UnitForm.SHORT, letters=SpelledLetters.HYPHENS,
)  # fmt: skip
WHOLE = replace(SHORT, times=Times.WHOLE_DAY, letters=SpelledLetters.TOGETHER, spelling="US")
FULL = replace(SHORT, amounts=UnitForm.IN_FULL, measures=UnitForm.IN_FULL)
WORDS = (
    "on the third fourteenth of March May 14 1985, nineteen eighty-five two thousand and half past "
    "quarter to ten at pm p.m. in morning fifteen thirty pounds fifty pence £3 £350 euros million "
    "per cent 20% km 5km kilometres square metres P E N double L. o'clock 3:30 seven hundred point"
).split()


def written(text: str, wording: Wording, language: str = "en") -> str:
    words = text.split()
    for change in reversed(changes(words, wording, language)):
        words[change.first : change.last] = [change.new]
    return " ".join(words)


class Quantities(unittest.TestCase):
    def assert_written(self, wording: Wording, *pairs: tuple[str, str], language: str = "en"):
        for said, wanted in pairs:
            with self.subTest(said):
                self.assertEqual(written(said, wording, language), wanted)

    def test_dates_and_years_are_in_figures(self):
        self.assert_written(
            SHORT,
            ("on the fourteenth of March nineteen eighty-five we dug", "on 14 March 1985 we dug"),
            ("March the fourteenth, two thousand and nineteen.", "14 March 2019."),
            ("on 14th March, 2019, it rained", "on 14 March 2019, it rained"),
            ("since nineteen sixty two.", "since 1962."),
            ("in the nineteen eighties", "in the 1980s"),
        )
        self.assert_written(WHOLE, ("on the third of May 2019", "on May 3, 2019"))

    def test_times_of_day_are_in_figures_and_know_their_half_where_it_is_said(self):
        self.assert_written(
            SHORT,
            ("at quarter to four in the afternoon", "at 3:45 pm"),
            ("it was ten past six", "it was 6:10"),
            ("at 3.30pm we left", "at 3:30 pm we left"),
            ("at 3:30 p.m. we left", "at 3:30 pm we left"),
            ("at fifteen thirty", "at 3:30 pm"),
            ("one in the morning", "1 am"),
        )
        self.assert_written(WHOLE, ("at seven pm", "at 19:00"), ("twelve at night", "0:00"))

    def test_money_and_measures_have_signs_or_names(self):
        self.assert_written(
            SHORT,
            ("three hundred and fifty pounds", "£350"),
            ("three pounds fifty.", "£3.50."),
            ("two million pounds a year", "£2 million a year"),
            ("five point two metres deep", "5.2 m deep"),
            ("it is 5km, twenty per cent", "it is 5 km, 20%"),
            ("two hundred square metres", "200 m²"),
        )
        self.assert_written(
            FULL,
            ("£350 a year", "350 pounds a year"),
            ("£1 and $3.50", "one pound and 3.50 dollars"),
            ("5 km away", "five kilometres away"),
            ("20% of it", "20 per cent of it"),
        )
        self.assert_written(WHOLE, ("fifty pounds of peat", "fifty pounds of peat"))

    def test_spelt_letters_are_one_word(self):
        self.assert_written(
            SHORT, ("I spell it P E N H A double L O W.", "I spell it P-E-N-H-A-L-L-O-W.")
        )
        self.assert_written(WHOLE, ("spelt P. E. N. here", "spelt PEN here"), ("p-e-n-h", "PENH"))
        self.assert_written(SHORT, ("My name is Tom, T O M.", "My name is Tom, T-O-M."))
        for said in ("The U S A is far.", "We read J R R Tolkien."):
            self.assert_written(SHORT, (said, said))

    def test_what_may_mean_something_else_is_left_alone(self):
        for said in (
            "In March three people came", "five to ten people", "We may march on",
            "On the 31st of February", "half a mile", "chapter 3.15 says", "a I o", "five foot six",
            "two to three weeks", "five acres", "at seven o'clock", "the first of them",
        ):  # fmt: skip
            wording = replace(SHORT, numbers=Numbers.AS_THEY_ARE)
            with self.subTest(said):
                self.assertEqual(written(said, wording), said)

    def test_other_languages_have_their_own_ways(self):
        for language, said, wanted in (
            ("de", "am vierzehnten März neunzehnhundertfünfundachtzig", "am 14. März 1985"),
            ("de", "um fünfzehn Uhr dreißig.", "um 15:30 Uhr."),
            ("de", "dreißig Kilometer und zwanzig Prozent", "30 km und 20 %"),
            ("fr", "le premier mai, vingt et un kilomètres", "le 1er mai, 21\u202fkm"),
            ("fr", "trois cents euros", "300\u00a0€"),
            ("es", "el catorce de marzo de dos mil diecinueve", "el 14 de marzo de 2019"),
            ("it", "il quattordici marzo duemiladiciannove", "il 14 marzo 2019"),
            ("ru", "двадцать километров", "20 км"),
            ("nl", "om vijftien uur dertig", "om 15:30 uur"),
            ("ja", "3月14日に5キロメートル", "3月14日に5キロメートル"),
            ("haw", "14 x 3 km", "14 x 3 km"),
        ):
            new = written(said, replace(SHORT, times=Times.WHOLE_DAY), language)
            self.assertEqual(new, wanted, language)

    @given(st.lists(st.sampled_from(WORDS), min_size=1, max_size=9))
    @example(["on", "nineteen", "March", "March"])
    def test_once_written_as_the_style_wants_a_text_stays(self, words):
        for wording in (SHORT, WHOLE, FULL):
            once = written(" ".join(words), wording)
            twice = written(once, wording)
            self.assertEqual(written(twice, wording), twice)
            places = [n for c in changes(words, wording) for n in range(c.first, c.last)]
            self.assertEqual(places, sorted(set(places)))


class InTheDraft(unittest.TestCase):
    def test_a_draft_is_written_by_the_style_with_times_and_certainty(self):
        heard = cue(1, "We dug five kilometres then.", 1_000)
        heard = replace(heard, words=tuple(replace(w, confidence=0.95) for w in heard.words))
        (new,) = as_style_writes(Transcript("en", (heard,)), SHORT).cues
        self.assertEqual(text_of(new.words), "We dug 5 km then.")
        self.assertEqual(new.words[2].start, heard.words[2].start)
        self.assertEqual(new.words[3].end, heard.words[3].end)
        self.assertEqual({word.confidence for word in new.words}, {0.95})
        self.assertEqual((new.start, new.end), (heard.start, heard.end))

    def test_a_doubtful_number_keeps_its_readings(self):
        heard = cue(1, "We dug five kilometres then.", 1_000)
        words = list(heard.words)
        words[2] = Word("five", words[2].start, words[2].end, 0.4, ("nine",))
        text = Transcript("en", (replace(heard, words=tuple(words)),))
        (new,) = as_style_writes(text, SHORT).cues
        self.assertEqual(new.text, "We dug 5 km then.")
        self.assertEqual((new.words[2].confidence, new.words[2].alternatives), (0.4, ("9",)))
        self.assertEqual((new.words[2].start, new.words[2].end), (words[2].start, words[2].end))

    def test_one_number_of_several_words_has_the_readings_of_all(self):
        heard = cue(1, "We cut forty two drains.", 1_000)
        words = list(heard.words)
        words[2] = replace(words[2], confidence=0.3, alternatives=("fifty", "forty-five"))
        text = Transcript("en", (replace(heard, words=tuple(words)),))
        (new,) = as_style_writes(text, Wording(numbers=Numbers.WORDS_BELOW)).cues
        self.assertEqual(new.text, "We cut 42 drains.")
        self.assertEqual(new.words[2].confidence, 0.3)
        self.assertIn("52", new.words[2].alternatives)
