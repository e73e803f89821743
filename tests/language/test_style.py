import json
import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from tamarind.captions.limits import Limits
from tamarind.formats.reading.paragraphs import SpeakerForm, Stamps, TextOptions
from tamarind.language.housestyle import (
    Dashes,
    Dates,
    HouseStyle,
    Level,
    Numbers,
    Quotes,
    SpelledLetters,
    StyleError,
    Times,
    UnitForm,
    Verbatim,
    Wording,
    read_style,
)
from tamarind.language.numbers import changes
from tamarind.language.stylebook import SHIPPED, STYLES
from tamarind.language.typography import restyled
from tamarind.transcript.tokens import joined, tokens_of
from tests.support import FolderTest

STRICT = HouseStyle(
    "Moor Trust",
    Limits(
        line_length=37,
        lines=1,
        shortest=800,
        longest=5_000,
        gap=80,
        lead_in=0,
        lead_out=200,
        reading_speed=15.5,
        counts_spaces=False,
        frame_rate=24_000 / 1_001,
    ),
    TextOptions(
        SpeakerForm.INITIALS, True, stamps=Stamps.MINUTES, stamp_minutes=3, longest_paragraph=90
    ),
    Wording(
        Verbatim.EDITED,
        ("um", "like"),
        ("at the end of the day",),
        Numbers.WORDS_BELOW,
        figures_from=13,
        dates=Dates.FIGURES,
        times=Times.WHOLE_DAY,
        amounts=UnitForm.SHORT,
        measures=UnitForm.IN_FULL,
        letters=SpelledLetters.TOGETHER,
        quotes=Quotes.ANGLED,
        dashes=Dashes.EM,
        spelling="US",
    ),
    {"gap": Level.OFF, "filler": Level.MUST},
)


class OfTheLanguage(unittest.TestCase):
    def test_quotes_and_their_spaces_are_those_of_the_language(self):
        wording = Wording(quotes=Quotes.OF_THE_LANGUAGE)
        for language, text, right in (
            ("en-GB", 'He said "no".', "He said “no”."),
            (
                "fr",
                'Il dit "oui" : où ? Là!',
                "Il dit «\u202foui\u202f»\u202f: où\u202f? Là\u202f!",
            ),
            ("fr-CA", 'Il dit "oui" !', "Il dit «\u202foui\u202f» !"),
            ("de", "Er sagte \"nein\" und 'ja'.", "Er sagte „nein“ und ‚ja‘."),
            ("es", 'Dijo "agua". ¿Sí? ¡Sí!', "Dijo «agua». ¿Sí? ¡Sí!"),
            ("ja", '彼は"水"と言った。', "彼は「水」と言った。"),
            ("ru", 'Он сказал "вода".', "Он сказал «вода»."),
        ):
            new = restyled(text, wording, language)
            self.assertEqual(new, right, language)
            self.assertEqual(restyled(new, wording, language), right, language)
            self.assertEqual(joined(tokens_of(new)), new, language)

    def test_numbers_are_in_the_words_of_the_language(self):
        wording = Wording(numbers=Numbers.WORDS_BELOW, figures_from=10)
        for language, word in (("es", "tres"), ("de", "drei"), ("fr-CA", "trois"), ("en", "three")):
            (change,) = changes("x 3 x 12 x".split(), wording, language)
            self.assertEqual((change.first, change.new), (1, word))
        self.assertEqual(changes("x 3 x".split(), wording, "haw"), [])


class Files(FolderTest):
    def test_a_style_comes_back_from_its_file_as_it_was(self):
        for style in (*SHIPPED.values(), STRICT):
            self.assertEqual(read_style(style.packed()), style)

    def test_what_a_file_does_not_say_is_as_usual(self):
        text = '{"format": "tamarind-house-style", "version": 1, "name": "Trust",'
        style = read_style(text + '"captions": {"line_length": 30}}')
        self.assertEqual(style, HouseStyle("Trust", Limits(line_length=30)))

    def test_what_makes_no_sense_is_told_by_the_name_of_the_rule(self):
        for part, rule, value, said in (
            ("captions", "line_length", 2, "line_length"), ("captions", "lines", 1.5, "lines"),
            ("captions", "lines", True, "lines"), ("captions", "gap", "wide", "gap"),
            ("captions", "frame_rate", 0, "frame_rate"), ("captions", "shortest", 9_000, "longer"),
            ("captions", "colour", 1, "colour"), ("transcript", "stamps", "often", "stamps"),
            ("wording", "fillers", "um", "fillers"), ("wording", "clean", 1, "clean"),
        ):  # fmt: skip
            data = json.loads(HouseStyle("A").packed())
            data[part][rule] = value
            with self.subTest(rule), self.assertRaisesRegex(StyleError, said):
                read_style(json.dumps(data))
        for change in ({"version": 2}, {"name": " "}, {"checks": {"gap": "x"}}, {"captions": 3}):
            data = {**json.loads(HouseStyle("A").packed()), **change}
            with self.subTest(change), self.assertRaises(StyleError):
                read_style(json.dumps(data))

    @given(st.binary(max_size=200) | st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(max_size=5),
        lambda inner: st.lists(inner, max_size=3)
        | st.dictionaries(st.sampled_from(["captions", "name", "lines", "checks"]), inner),
    ).map(lambda value: json.dumps(
        {"format": "tamarind-house-style", "version": 1, "name": "x", "wording": value}
    ).encode()))  # fmt: skip
    def test_any_file_is_a_style_or_a_clear_error(self, data):
        path = self.folder / "any.style.json"
        path.write_bytes(data)
        try:
            STYLES.read_file(path)
        except StyleError as error:
            self.assertIn("any.style.json", str(error))

    def test_own_styles_are_kept_found_and_taken_away(self):
        STYLES.keep(STRICT)
        (STYLES.folder / "broken.style.json").write_text("{")
        self.assertEqual(STYLES.own(), {"moor-trust": STRICT})
        self.assertEqual(STYLES.find("moor-trust"), STRICT)
        self.assertEqual(STYLES.find("Moor TRUST"), STRICT)
        path = self.folder / "sent.json"
        path.write_text(replace(STRICT, name="Sent").packed())
        self.assertEqual(STYLES.find(str(path)).name, "Sent")
        with self.assertRaisesRegex(StyleError, "ordinary"):
            STYLES.find("nobody's")
        STYLES.discard("moor-trust")
        self.assertEqual(STYLES.own(), {})

    def test_what_was_called_clean_is_read_as_a_degree(self):
        kept = STRICT.packed().replace('"verbatim": "edited"', '"clean": true')
        self.assertEqual(read_style(kept).wording.verbatim, Verbatim.CLEAN)


class Speeds(unittest.TestCase):
    def test_spaces_count_or_not(self):
        text = "We dug it."
        self.assertEqual(Limits().speed(text, 0, 1000), 10)
        self.assertEqual(Limits(counts_spaces=False).speed(text, 0, 1000), 8)
        limits = Limits(reading_speed=17)
        self.assertLessEqual(limits.speed(text, 0, limits.reading_time(text)), 17)
