import random
import unittest
from dataclasses import replace

from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY, Limits
from tamarind.checks import spellingchecks
from tamarind.checks.catalogue import CHECKS
from tamarind.checks.check import Around, CheckContext
from tamarind.checks.checker import Checker
from tamarind.checks.finding import Retime, Reword
from tamarind.checks.fixing import fixed
from tamarind.language.housestyle import Dashes, HouseStyle, Level, Numbers, Verbatim, Wording
from tamarind.language.stylebook import SHIPPED
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tamarind.translation.tracks import Track, with_texts
from tests import chance
from tests.support import cue, words_of

STYLE = HouseStyle("Test")
QUIET = HouseStyle("Quiet", levels=dict.fromkeys(("spelling", "grammar"), Level.OFF))


def text_of(*cues: Cue, **more: object) -> Transcript:
    return Transcript("en", cues, **more)


def good() -> Transcript:
    """A text that breaks no rule."""
    words = words_of("We lower a tape until it finds the water. Then we write down the depth.")
    return text_of(*(replace(c, words=settled(c.words)) for c in lay_out(words, ORDINARY)))


def settled(words):
    return tuple(replace(word, confidence=None) for word in words)


def found(text: Transcript, **context: object) -> dict[str, list]:
    context.setdefault("style", QUIET)
    rules: dict[str, list] = {}
    for told in Checker().check(text, CheckContext(**context)):
        rules.setdefault(told.finding.rule, []).append(told.finding)
    return rules


def said(number: int, text: str, start: int, end: int, **more: object) -> Cue:
    """A cue with settled words over its whole time."""
    each = max((end - start) // max(len(text.split()), 1), 1)
    words = settled(words_of(text, start, each))
    return Cue(number, start, end, words, **more)


class Rules(unittest.TestCase):
    def only(self, rule: str, text: Transcript, **context: object):
        rules = found(text, **context)
        self.assertEqual(set(rules), {rule}, rules)
        return rules[rule]

    def test_a_good_text_has_no_findings(self):
        self.assertEqual(found(good(), style=STYLE), {})

    def test_each_rule_of_captions_is_found(self):
        after = said(2, "It was wet there.", 9_000, 11_000)
        fast = said(1, "We dug the drains one by one in the rain.", 1_000, 2_400)
        self.assertIn(
            "29 characters per second", self.only("reading-speed", text_of(fast))[0].reason
        )
        long = said(1, "Nobody of us had thought it harm, back then.", 1_000, 5_000)
        one_line = replace(long, breaks=())
        self.only("line-length", text_of(one_line, after))
        three = replace(said(1, "We dug the peat out.", 1_000, 4_000), breaks=(1, 3))
        self.only("line-count", text_of(three, after))
        self.only("too-short", text_of(said(1, "Dry.", 1_000, 1_600), after))
        self.only("too-long", text_of(said(1, "It was dry.", 1_000, 8_500), after))
        self.only("overlap", text_of(said(1, "It was dry.", 1_000, 3_000),
                                     said(2, "It was wet.", 2_900, 5_000)))  # fmt: skip
        self.only("gap", text_of(said(1, "It was dry.", 1_000, 3_000),
                                 said(2, "It was wet.", 3_010, 5_000)))  # fmt: skip
        film = replace(QUIET, captions=Limits(frame_rate=25))
        self.only("frames", text_of(said(1, "It was dry.", 1_011, 3_000)), style=film)

    def test_each_rule_of_wording_is_found(self):
        clean = replace(QUIET, wording=Wording(
            verbatim=Verbatim.CLEAN, numbers=Numbers.WORDS_BELOW, dashes=Dashes.SPACED_EN
        ))  # fmt: skip
        for rule, wording in (
            ("repeated", "We dug the the drains."), ("filler", "We, um, dug the drains."),
            ("brackets", "We dug (the drains."), ("brackets", "We dug] the drains."),
            ("quotes", "We “dug the drains."), ("quotes", "We dug” the drains."),
            ("sentence-start", "we dug the drains."), ("sentence-end", "We dug the drains"),
            ("numbers", "We dug 3 drains."), ("typography", "We dug - and dug."),
        ):  # fmt: skip
            with self.subTest(wording):
                self.only(rule, text_of(said(1, wording, 1_000, 4_000)), style=clean)
        self.assertEqual(found(text_of(said(1, "We, um, dug.", 1_000, 4_000))), {})

    def test_a_spanish_question_is_opened_where_it_begins(self):
        said_so = said(1, "Sí. «Cuándo empezó?» ¡Qué bien! ¿Y ahora?", 1_000, 6_000)
        text = replace(text_of(said_so), language="es")
        (finding,) = self.only("opening-marks", text)
        (fix,) = finding.fixes
        self.assertEqual((finding.first, fix.new), (1, "«¿Cuándo"))
        self.assertEqual(found(text_of(said(1, "Yes. When? Now!", 1_000, 4_000))), {})

    def test_a_word_said_again_over_a_border_is_found(self):
        text = text_of(said(1, "We dug the", 1_000, 3_000), said(2, "the drains.", 3_200, 5_000))
        (finding,) = self.only("repeated", text)
        self.assertEqual(finding.cue, 2)

    def test_a_cue_in_another_language_is_spelt_in_that(self):
        english = cue(1, "The water ran off the moor.", 0)
        spanish = replace(cue(2, "El agua baja del páramo cada invierno.", 4_000), language="es")
        text = Transcript("en", (english, spanish))
        told = Checker().check(text, CheckContext(HouseStyle("a")))
        found = [one.finding for one in told if one.finding.rule in ("spelling", "grammar")]
        self.assertEqual(found, [])

    def test_spelling_and_grammar_know_the_glossary(self):
        text = text_of(said(1, "The dipwell have went to teh moor.", 1_000, 6_000))
        rules = found(text, style=STYLE)
        self.assertEqual([f.excerpt for f in rules["spelling"]], ["dipwell", "teh"])
        self.assertTrue(rules["grammar"])
        rules = found(text, style=STYLE, terms=("dipwell",))
        self.assertEqual([f.excerpt for f in rules["spelling"]], ["teh"])
        self.assertEqual(rules["spelling"][0].fixes[0].new, "the")

    def test_other_languages_go_by_their_dictionary(self):
        class Known:
            def knows(self, word):
                return word.strip(".").casefold() in ("la", "turbera", "seca")

        text = replace(text_of(said(1, "La turvera seca.", 1_000, 4_000)), language="es")
        try:
            before, spellingchecks.dictionary = spellingchecks.dictionary, lambda _language: Known()
            (finding,) = self.only("spelling", text, style=STYLE)
        finally:
            spellingchecks.dictionary = before
        self.assertEqual(finding.excerpt, "turvera")

    def test_sound_and_text_are_held_against_each_other(self):
        text = text_of(said(1, "It was dry.", 1_000, 3_000), said(2, "It was wet.", 9_000, 11_000))
        rules = found(text, speech=((900, 3_000), (4_000, 7_500)))
        self.assertEqual([f.cue for f in rules["silent-text"]], [2])
        self.assertEqual(rules["unheard"][0].reason, "3.5 s of speech without text")
        self.assertEqual(found(text, speech=((1_000, 3_100), (8_900, 11_200))), {})
        self.only("unheard", text, unheard=((4_000, 7_500),))
        (both,) = self.only("at-once", text, at_once=((9_500, 10_700), (4_000, 5_000)))
        self.assertEqual((both.cue, both.reason), (2, "two speak at once for 1.2 s"))

    def test_doubts_speakers_and_what_an_encoding_lacks_are_found(self):
        unsure = replace(said(1, "It was dry.", 1_000, 3_000), words=(
            Word("It", 1_000, 1_500, 0.4, ("At", "")),
            *said(1, "x was dry.", 1_000, 3_000).words[1:],
        ))  # fmt: skip
        (doubt,) = self.only("doubt", text_of(unsure))
        self.assertEqual([fix.new for fix in doubt.fixes], ["At"])
        named = text_of(said(1, "Dry as dust.", 1_000, 3_000, speaker=1),
                        said(2, "Was it so?", 4_000, 6_000, speaker=2, opens_paragraph=True),
                        said(3, "It was so.", 7_000, 9_000, opens_paragraph=True),
                        speakers=(Speaker(1, "Warden"), Speaker(2, "")))  # fmt: skip
        self.assertEqual([f.cue for f in self.only("speaker", named)], [2, 3])
        (finding,) = self.only(
            "characters", text_of(said(1, "It was 水.", 1_000, 3_000)), encoding="cp1252"
        )
        self.assertIn("水", finding.reason)

    def test_translations_that_are_missing_stale_or_too_long(self):
        text = good()
        track = with_texts(Track("es"), [text.cues[0]], ["Bajamos una cinta hasta el agua. " * 9])
        rules = found(text, tracks=(track,))
        self.assertEqual(set(rules), {"untranslated", "translation-speed"})
        self.assertEqual(rules["untranslated"][0].cue, text.cues[1].id)
        changed = edits.set_text(text, 0, "We lower a rope until it finds the water.")
        self.assertIn("stale", found(changed, tracks=(track,)))

    def test_numbers_of_a_translation_are_those_of_the_source(self):
        text = text_of(said(1, "We took 1,250 m³ on 12/05/1987 at 9:30.", 1_000, 9_000))
        good_one = "Tirámos 1.250 m³ em 12/05/1987 às 9.30."
        for words, wrong in ((good_one, False), (good_one.replace("1.250", "1.350"), True)):
            track = with_texts(Track("pt"), text.cues, [words])
            rules = found(text, tracks=(track,))
            self.assertEqual("translation-numbers" in rules, wrong, rules)

    def test_a_style_says_how_much_each_rule_counts(self):
        text = text_of(said(1, "we dug the drains.", 1_000, 4_000))
        style = replace(QUIET, levels={**QUIET.levels, "sentence-start": Level.MUST})
        (told,) = Checker().check(text, CheckContext(style))
        self.assertIs(told.level, Level.MUST)
        off = replace(QUIET, levels={**QUIET.levels, "sentence-start": Level.OFF})
        self.assertEqual(Checker().check(text, CheckContext(off)), [])
        for style in SHIPPED.values():
            self.assertLessEqual(set(style.levels), set(CHECKS))


class Fixes(unittest.TestCase):
    def test_every_fix_that_is_offered_mends_its_finding(self):
        cases = (
            text_of(said(1, "We dug the the drains.", 1_000, 4_000)),
            text_of(said(1, "we dug the drains", 1_000, 4_000)),
            text_of(said(1, "Dry.", 1_000, 1_600), said(2, "It was wet there.", 9_000, 11_000)),
            text_of(said(1, "It was dry.", 1_000, 3_000), said(2, "It was wet.", 3_010, 5_000)),
            text_of(said(1, "We dug the drains one by one in the rain.", 1_000, 2_400)),
            text_of(said(1, "We lower a tape until it finds the water, and then we write down the "
                            "depth of it, week by week, in all of the wells.", 1_000, 12_000)),
            text_of(replace(said(1, "We dug the peat out.", 1_000, 4_000), breaks=(1, 3))),
        )  # fmt: skip
        for text in cases:
            for rule, findings in found(text).items():
                for finding in findings:
                    with self.subTest(rule, text=finding.excerpt):
                        self.assertTrue(finding.fixes)
                        new, made = fixed(text, finding.fixes[:1], ORDINARY)
                        self.assertEqual(made, 1)
                        left = [f.excerpt for f in found(new).get(rule, [])]
                        self.assertNotIn(finding.excerpt, left)

    def test_a_fix_that_no_longer_fits_changes_nothing(self):
        text = text_of(said(1, "We dug the drains.", 1_000, 4_000))
        fixes = (Reword(1, 1, ("filled",), "dug"), Reword(9, 0, ("We",), "They"), Retime(8, 1, 2))
        self.assertEqual(fixed(text, fixes, ORDINARY), (text, 0))

    def test_many_fixes_at_once_do_not_disturb_each_other(self):
        text = text_of(*(
            said(n, "we we dug the the drains", n * 5_000, n * 5_000 + 3_000, opens_paragraph=True)
            for n in range(1, 30)
        ))  # fmt: skip
        for _ in range(3):
            told = Checker().check(text, CheckContext(QUIET))
            fixes = [one.finding.fixes[0] for one in told if one.finding.fixes]
            text, _ = fixed(text, fixes, ORDINARY)
        self.assertEqual({c.text for c in text.cues}, {"We dug the drains."})

    def test_mending_everything_keeps_a_text_sound(self):
        rng = random.Random(11)
        for _ in range(60):
            text = good()
            for _ in range(rng.randrange(1, 8)):
                text = chance.edit(self, text, text, rng)
            told = Checker().check(text, CheckContext(QUIET))
            new, _ = fixed(text, [f for one in told for f in one.finding.fixes[:1]], ORDINARY)
            chance.check(self, new)


class Spy:
    """Stands for a context, and remembers what is asked of it."""

    def __init__(self, thing, seen, path=""):
        self._thing, self._seen, self._path = thing, seen, path

    def __getattr__(self, name):
        if (self._path, name) == ("", "style"):
            return Spy(self._thing.style, self._seen, "style.")
        self._seen.add(self._path + name)
        return getattr(self._thing, name)


class Following(unittest.TestCase):
    def test_a_changed_text_is_checked_as_if_for_the_first_time(self):
        rng = random.Random(5)
        same = Checker()
        text = good()
        for _ in range(80):
            text = chance.edit(self, text, text, rng)
            context = CheckContext(QUIET, speech=((0, 4_000),))
            self.assertEqual(same.check(text, context), Checker().check(text, context))

    def test_other_rules_are_held_at_once(self):
        same = Checker()
        text = text_of(said(1, "We dug the drains one by one in the rain.", 1_000, 4_000))
        self.assertEqual(same.check(text, CheckContext(QUIET)), [])
        strict = replace(QUIET, captions=Limits(line_length=12, lines=1))
        rules = {one.finding.rule for one in same.check(text, CheckContext(strict))}
        self.assertEqual(rules, {"line-count"})

    def test_another_language_is_checked_by_its_own_rules(self):
        same = Checker()
        text = text_of(said(1, "der Damm hält", 1_000, 4_000, opens_paragraph=True))
        same.check(text, CheckContext(QUIET))
        for language in ("de", "en"):
            other = replace(text, language=language)
            self.assertEqual(
                same.check(other, CheckContext(QUIET)), Checker().check(other, CheckContext(QUIET))
            )

    def test_every_check_declares_what_it_uses(self):
        track = with_texts(Track("es"), good().cues, ["Bajamos 12 cintas. " * 9, "Y ya."])
        wording = Wording(verbatim=Verbatim.CLEAN, numbers=Numbers.FIGURES)
        context = CheckContext(
            HouseStyle("All", wording=wording), (track,), ("moor",), speech=((0, 1),)
        )
        under_other_names = {"tracks": "languages", "right": "terms"}
        text = replace(good(), language="es-ES")
        cues = (
            *(replace(cue, words=words_of("um it was 12 12 and “no” ?")) for cue in text.cues),
            said(9, "we dug twelve the", 1_000, 1_100),
        )
        for check in CHECKS.values():
            seen = set()
            for one in cues:
                around = Around(None, one, text.cues[1], one.language, Spy(context, seen))
                list(check.in_cue(around))
            used = {under_other_names.get(name, name) for name in seen}
            self.assertLessEqual(used, set(check.uses), check.key)

    def test_it_stops_when_asked(self):
        asked = []
        Checker().check(good(), CheckContext(QUIET), lambda: asked.append(1) or True)
        self.assertLessEqual(len(asked), 3)
