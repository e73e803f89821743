import shutil
import unittest
from dataclasses import replace

from tamarind.language.housestyle import Wording
from tamarind.translation.draft import Brief, draft, in_target
from tamarind.translation.engines import carried
from tamarind.translation.engines.base import Stopped
from tamarind.translation.engines.catalogue import router
from tamarind.translation.inflection import forms, is_plural, plural_of_term
from tamarind.translation.keeping import Keeper, remark_in
from tamarind.translation.memory import TranslationMemory
from tamarind.translation.routes import Router
from tamarind.translation.termbook import TermBookError, read_terms, write_terms
from tests.translation.engines import Marking
from tests.translation.test_sentences import cues


def drafted(text, engine, wanted=None, **more):
    """The translations of cues by their ids."""
    over = Router([engine])
    brief = Brief("en", "pt", over.route("en", "pt"), **more)
    result = {}
    for some in draft(text, wanted or [cue.id for cue in text], brief, over):
        assert not result.keys() & some.keys()
        result |= some
    return result


def accented(text, _target=""):
    """What an engine that cannot be mistaken for a person makes of a text."""
    return text.replace("e", "é")


class Drafts(unittest.TestCase):
    def test_sentences_are_translated_whole_and_spread(self):
        engine = Marking(change=accented)
        text = cues("The drains were dug,", "and the water ran. Then", "it was dry.")
        self.assertEqual(
            drafted(text, engine),
            {1: "Thé drains wéré dug,", 2: "and thé watér ran. Thén", 3: "it was dry."},
        )
        self.assertIn("The drains were dug, and the water ran.", engine.asked[0][0])

    def test_only_what_is_wanted_comes_though_its_sentence_is_translated_whole(self):
        engine = Marking(change=accented)
        text = cues("The drains were dug,", "and the water ran.", "It was dry.")
        self.assertEqual(drafted(text, engine, [2]), {2: "and thé watér ran."})
        self.assertNotIn("It was dry.", engine.asked[0][0])

    def test_many_sentences_come_bit_by_bit_and_each_cue_once_and_whole(self):
        engine = Marking(change=accented)
        text = cues(*(f"Word {n}. And" for n in range(60)), "the end.")
        found = drafted(text, engine)
        self.assertEqual(found, {cue.id: accented(cue.text) for cue in text})

    def test_what_a_person_said_once_is_taken(self):
        engine = Marking()
        known = TranslationMemory({"it was dry": "Seco."})
        found = drafted(cues("It was dry.", "It was wet."), engine, known=known)
        self.assertEqual(found, {1: "Seco.", 2: "pt: It was wet."})

    def test_a_sentence_like_one_that_a_person_translated_gets_it_mended(self):
        words = {"four": "quatro", "three": "três"}
        engine = Marking(change=lambda text, _: words.get(text.rstrip(".").lower(), f"pt: {text}"))
        known = TranslationMemory({"Dam number four is holding.": "A barragem quatro aguenta."})
        told = {}
        over = Router([engine])
        brief = Brief("en", "pt", over.route("en", "pt"), known=known)
        text = cues(
            "Dam number three is holding.", "Dam number nine is holding.", "Dam four is full.",
            "Is dam number three holding?",
        )  # fmt: skip
        found = {}
        for some in draft(text, [1, 2, 3, 4], brief, over, tell_like=told.__setitem__):
            found |= some
        self.assertEqual(found[1], "A barragem três aguenta.")
        self.assertEqual(found[2], "A barragem pt: Nine aguenta.")
        self.assertEqual([found[3], found[4]], [f"pt: {cue.text}" for cue in text[2:]])
        self.assertEqual(told[1].said, "Dam number four is holding.")
        self.assertEqual(sorted(told), [1, 2])

    def test_remarks_go_by_the_table_and_the_targets_own_words_stay(self):
        engine = Marking()
        text = cues("[Laughter] Well.", "[inaudible 00:12:03]", "Obrigado.", "[odd thing]")
        text[2] = replace(text[2], language="pt-BR")
        self.assertEqual(
            drafted(text, engine),
            {1: "[Risos] pt: Well.", 2: "[inaudível 00:12:03]", 3: "Obrigado.", 4: "[odd thing]"},
        )

    def test_quotes_and_dashes_are_the_targets(self):
        engine = Marking(change=lambda text, _: text.replace(" – ", " - "))
        wording = in_target(Wording())
        found = drafted(cues('He said "no" – twice.'), engine, wording=wording)
        self.assertEqual(found[1], "He said “no” – twice.")

    def test_it_can_be_stopped(self):
        over = Router([Marking()])
        brief = Brief("en", "pt", over.route("en", "pt"))
        with self.assertRaises(Stopped):
            list(draft(cues("It was dry."), [1], brief, over, lambda: True))


class Keeping(unittest.TestCase):
    BOOK = read_terms("peat dam = barragem de turfa\nmoor = charneca\nHarrow Creek\nMay = Maio")

    def kept(self, text, change):
        engine = Marking(change=change)
        return drafted(cues(text), engine, terms=self.BOOK)[1]

    def test_a_term_is_written_into_the_source_when_the_engine_has_another(self):
        found = self.kept(
            "The peat dams hold.", lambda text, _: text.replace("peat dams", "turfas")
        )
        self.assertEqual(found, "The barragens de turfa hold.")

    def test_a_term_that_came_out_in_another_form_is_kept_as_the_engine_has_it(self):
        found = self.kept("Two moors.", lambda text, _: text.replace("moors", "charnecas"))
        self.assertEqual(found, "Two charnecas.")

    def test_a_stand_in_carries_what_the_engine_translates_anyway(self):
        def change(text, _):
            return text.replace("charneca", "pântano").replace("Creek", "Ribeiro")

        found = self.kept("Moor by Harrow Creek.", change)
        self.assertEqual(found, "Charneca by Harrow Creek.")

    def test_at_last_the_parts_between_are_translated_alone(self):
        def change(text, _):
            return (
                "nada" if "XQZ" in text or "charneca" in text or "moor" in text else accented(text)
            )

        self.assertEqual(self.kept("Look, the moor burns!", change), "Look, thé charneca burns!")

    def test_a_name_with_a_capital_is_not_the_word_without(self):
        change = lambda text, _: text.replace("may", "pode")  # noqa: E731
        self.assertEqual(self.kept("It may rain.", change), "It pode rain.")
        self.assertEqual(self.kept("In May it rains.", change), "In Maio it rains.")

    def test_remarks_within_a_sentence(self):
        def change(text, _):
            return text.replace("[", "[[").replace("]", "]]")

        self.assertEqual(self.kept("We [laughter] went.", change), "We [risos] went.")
        self.assertEqual(remark_in("[Long pause]", "en", "es"), "[Pausa]")
        self.assertEqual(remark_in("[sic]", "en", "es"), "[sic]")

    def test_addresses_and_sums_are_nobodys_words(self):
        def change(text, _):
            return text.replace("@", "-").replace("£", "").replace("peat", "turfa")

        self.assertEqual(
            self.kept("Pay £3.50 to ann@peat.example, see www.peat.example/x.", change),
            "Pay £3.50 to ann@peat.example, see www.peat.example/x.",
        )

    def test_forms(self):
        self.assertIn("charnecas", forms("charneca", "pt"))
        self.assertIn("barragens", forms("barragem", "pt"))
        self.assertIn("barragem", forms("barragens", "pt"))
        self.assertIn("ditch", forms("ditches", "en"))
        self.assertIn("warden's", forms("Warden", "en"))
        self.assertEqual(plural_of_term("musgo vermelho", "pt"), "musgos vermelhos")
        self.assertEqual(plural_of_term("luz de gas", "es"), "luces de gas")
        self.assertTrue(is_plural("peat dams", "peat dam", "en"))
        self.assertFalse(is_plural("peat dam", "peat dam", "en"))

    def test_a_glossary_is_read_and_written(self):
        text = "peat dam = barragem de turfa\nHarrow Creek\n"
        self.assertEqual(write_terms(read_terms("# ours\n" + text + "\n")), text)
        self.assertEqual(read_terms("moor\tcharneca\n").pairs[0].target, "charneca")
        with self.assertRaisesRegex(TermBookError, "Line 2"):
            read_terms("moor\n= charneca")


@unittest.skipUnless(
    carried.models(), "the models between English and Portuguese are not installed"
)
class TheNetworkThatComesAlong(unittest.TestCase):
    def translated(self, texts, target="pt", **more):
        route = router().route("en", target)
        brief = Brief("en", target, route, **more)
        text = cues(*texts)
        found = {}
        for some in draft(text, [cue.id for cue in text], brief, router()):
            found |= some
        return [found[cue.id] for cue in text]

    def test_english_becomes_portuguese(self):
        said = ["The drains had been dug in the fifties,", "and every winter the water ran away."]
        first, second = self.translated(said)
        self.assertIn("anos cinquenta", first)
        self.assertIn("inverno", second)
        self.assertTrue(second.startswith("e "))

    def test_terms_and_names_are_kept_whatever_it_would_say(self):
        book = read_terms("sluice = adufa\npeat dam = barragem de turfa")
        keeper = Keeper("en", "pt", book, ("Wim",))
        texts = [
            f"{start} the sluices {end} by {name}."
            for start in ("We closed", "Wim saw")
            for end in ("with peat dams", "of wood")
            for name in ("Wim", "hand")
        ]
        for text, said in zip(
            texts, self.translated(texts, terms=book, names=("Wim",)), strict=True
        ):
            self.assertTrue(keeper.has(said, keeper.found(text)), (text, said))

    @unittest.skipUnless(shutil.which("apertium"), "Apertium is not installed")
    def test_spanish_is_reached_by_way_of_portuguese(self):
        (said,) = self.translated(["The timber has moved and the peat behind it is soft."], "es")
        self.assertIn("La madera se movió", said)
