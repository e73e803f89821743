"""Mending never spoils: only what is certain, twice as once, and no rule is broken by it."""

import unittest
from collections import Counter
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from tamarind.captions.limits import Limits
from tamarind.checks.catalogue import CHECKS
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import Checker
from tamarind.checks.manyfixes import fixed_by_kinds, is_certain
from tamarind.language.housestyle import (
    Dates,
    HouseStyle,
    Numbers,
    Quotes,
    SpelledLetters,
    Verbatim,
    Wording,
)
from tamarind.transcript.model import Cue, Transcript, Word
from tests.doses import dose
from tests.support import words_of

CERTAIN = [rule.key for rule in CHECKS.values() if rule.certain]
STRICT = HouseStyle(
    "strict",
    Limits(line_length=32, gap=80, frame_rate=25.0),
    wording=Wording(
        verbatim=Verbatim.CLEAN,
        numbers=Numbers.WORDS_BELOW,
        dates=Dates.FIGURES,
        letters=SpelledLetters.HYPHENS,
        quotes=Quotes.DOUBLE,
    ),
)
SAID = """the the moor um was wet. uh it ran P E N. off, "twelve" drains on the fourteenth of March
Siobhan said Zwolle Nedap twenty-one sluices you know? and no one minded (it) ¿ 3 4""".split()


@st.composite
def texts(draw):
    cues, at = [], 0
    for number in range(draw(st.integers(1, 6))):
        words = []
        at += draw(st.integers(-600, 900))
        start = time = max(at, 0)
        for text in draw(st.lists(st.sampled_from(SAID), max_size=12)):
            end = time + draw(st.integers(20, 500))
            sure = draw(st.sampled_from((None, 0.3, 0.97)))
            words.append(Word(text, time, end, sure, ("mire", "more") if sure == 0.3 else ()))
            time = end
        breaks = (len(words) // 2,) if len(words) > 3 and draw(st.booleans()) else None
        at = max(time, start + 1)
        cues.append(Cue(number + 1, start, at, tuple(words), breaks=breaks))
    cues.sort(key=lambda cue: cue.start)
    return Transcript("en", tuple(cues))


def broken(text, context):
    told = Checker().check(text, context)
    return Counter((one.finding.cue, one.finding.rule) for one in told)


def spoken(text):
    return [word.text for cue in text.cues for word in cue.words]


class ManyFixes(unittest.TestCase):
    @settings(max_examples=dose(25, 1_000), deadline=None)
    @given(texts(), st.sampled_from((STRICT, HouseStyle("plain"))))
    def test_twice_is_as_once_and_nothing_is_broken_by_it(self, text, style):
        context = CheckContext(style, terms=("Siobhan", "Zwolle"))
        once, changes = fixed_by_kinds(text, context, CERTAIN)
        again, more = fixed_by_kinds(once, context, CERTAIN)
        self.assertEqual((again, more), (once, []))
        before, after = broken(text, context), broken(once, context)
        kept = {cue.id for cue in text.cues}
        for (cue, rule), count in after.items():
            if cue in kept:
                self.assertLessEqual(count, before[cue, rule] or 0, (rule, changes))

    @given(texts())
    def test_doubts_names_and_repetitions_are_left_to_the_person(self, text):
        style = replace(STRICT, wording=Wording())
        once, _ = fixed_by_kinds(text, CheckContext(style), CERTAIN)
        said = [one.casefold().strip("¿") for one in spoken(text)]
        self.assertEqual([one.casefold().strip("¿") for one in spoken(once)], said)

    def test_guesses_are_never_made_many_at_once(self):
        words = [
            *words_of("the the um I mean Siobhan walked"),
            Word("moor", 3_000, 3_200, 0.2, ("more",)),
        ]
        text = Transcript("en", (Cue(1, 0, 4_000, tuple(words)),))
        found = {
            one.finding.rule: is_certain(one.finding)
            for one in Checker().check(text, CheckContext(STRICT))
            if one.finding.fixes
        }
        for rule in ("doubt", "repeated", "spelling", "grammar", "sentence-end"):
            self.assertFalse(found.get(rule, False), rule)

    def test_lines_are_broken_anew_where_a_fix_made_them_longer(self):
        words = words_of("we counted one hundred and twenty three drains by hand here")
        text = Transcript("en", (Cue(1, 0, 9_000, words, breaks=(7,)),))
        style = HouseStyle("full", Limits(line_length=30), wording=Wording(numbers=Numbers.FIGURES))
        once, _ = fixed_by_kinds(text, CheckContext(style), ["numbers"])
        self.assertIn("123", once.cues[0].text)
        self.assertFalse(
            [rule for _, rule in broken(once, CheckContext(style)) if rule == "line-length"]
        )


if __name__ == "__main__":
    unittest.main()
