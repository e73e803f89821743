import random
import unittest
from dataclasses import replace

from tamarind.captions.limits import ORDINARY, Limits
from tamarind.checks.check import CheckContext
from tamarind.checks.checker import caption_findings
from tamarind.checks.finding import Rebreak, Recut, Retime, Reword
from tamarind.checks.fixing import fixed
from tamarind.checks.manyfixes import LEFT_OUT, ManyFixes
from tamarind.language.housestyle import HouseStyle
from tamarind.transcript.model import Cue, Transcript
from tests import chance
from tests.doses import dose
from tests.support import cue, words_of


def text_of(*cues: Cue) -> Transcript:
    return Transcript("en", cues)


def breaches(text: Transcript, limits: Limits) -> int:
    context = CheckContext(HouseStyle("", limits))
    places = range(len(text.cues))
    return sum(len(list(caption_findings(text, place, context))) for place in places)


class Words(unittest.TestCase):
    def setUp(self):
        self.text = text_of(
            cue(1, "um we dug um a drain", 0), cue(2, "Um.", 4_000), cue(3, "It um ran.", 6_000)
        )
        gone = [Reword(1, 0, ("um",), ""), Reword(1, 3, ("um",), ""), Reword(2, 0, ("Um.",), ""),
                Reword(3, 1, ("um",), "")]  # fmt: skip
        self.mending = ManyFixes(self.text, gone, ORDINARY)

    def test_each_cue_is_shown_once_before_and_after(self):
        shown = [self.mending.shown(number) for number in range(self.mending.count)]
        lines = [(before.split("\n")[0], after.split("\n")[0]) for before, after in shown]
        self.assertEqual(
            lines,
            [
                ("um we dug um a drain", "we dug a drain"),
                ("Um.", LEFT_OUT),
                ("It um ran.", "It ran."),
            ],
        )
        self.assertEqual([self.mending.start(n) for n in range(3)], [0, 4_000, 6_000])

    def test_only_what_is_chosen_is_made(self):
        self.assertEqual(
            [c.text for c in self.mending.taken([0, 2]).cues], ["we dug a drain", "Um.", "It ran."]
        )
        self.assertEqual(len(self.mending.taken([0, 1, 2]).cues), 2)
        self.assertEqual(self.mending.taken([]), self.text)

    def test_a_fix_that_fits_no_more_is_not_offered(self):
        old = [Reword(1, 0, ("er",), ""), Reword(9, 0, ("um",), "")]
        self.assertEqual(ManyFixes(self.text, old, ORDINARY).count, 0)


class Times(unittest.TestCase):
    def test_times_alone_are_shown_as_times(self):
        text = text_of(cue(1, "It was dry.", 1_000), cue(2, "It was wet.", 9_000))
        mending = ManyFixes(text, [Retime(1, 1_000, 2_500), Retime(2, 9_000, 10_500)], ORDINARY)
        self.assertEqual(mending.count, 2)
        self.assertEqual(mending.shown(0), ("00:01.00 – 00:01.90", "00:01.00 – 00:02.50"))
        self.assertEqual([c.end for c in mending.taken([1]).cues], [1_900, 10_500])


class Cuts(unittest.TestCase):
    def long_text(self, rng: random.Random, each: int) -> Transcript:
        spoken = "we lower a tape until it finds the water and write down the depth".split()
        cues, start = [], 0
        for number in range(1, 7):
            tokens = " ".join(rng.choices(spoken, k=rng.randint(2, 26)))
            words = words_of(tokens, start, each)
            cues.append(Cue(number, start, words[-1].end, words))
            start = words[-1].end + rng.choice((0, 20, 400, 2_000))
        return text_of(*cues)

    def test_a_cut_never_breaks_more_than_it_mends(self):
        rng = random.Random(8)
        made = 0
        for _ in range(dose(15, 400)):
            text = self.long_text(rng, rng.choice((140, 220, 400)))
            for one in text.cues:
                new, count = fixed(text, [Recut(one.id)], ORDINARY)
                chance.check(self, new)
                made += count
                if count:
                    self.assertLess(breaches(new, ORDINARY), breaches(text, ORDINARY))
                else:
                    self.assertIs(new, text)
        self.assertGreater(made, 15)

    def test_cues_that_change_together_are_one_change(self):
        text = self.long_text(random.Random(3), 300)
        long = [Recut(one.id) for one in text.cues if one.end - one.start > ORDINARY.longest]
        self.assertTrue(long)
        mending = ManyFixes(text, long, ORDINARY)
        self.assertTrue(1 <= mending.count <= len(long))
        for number in range(mending.count):
            before, after = mending.shown(number)
            self.assertNotEqual(before, after)
        everything = mending.taken(range(mending.count))
        self.assertEqual(everything, fixed(text, long, ORDINARY)[0])
        said = [w.text for c in text.cues for w in c.words]
        self.assertEqual([w.text for c in everything.cues for w in c.words], said)

    def test_lines_that_are_laid_out_are_shown_as_lines(self):
        text = text_of(replace(cue(1, "We dug the peat out of it.", 0), breaks=(1, 3, 5)))
        before, after = ManyFixes(text, [Rebreak(1)], ORDINARY).shown(0)
        self.assertEqual(before.count("\n"), 4)
        self.assertEqual(after.split("\n")[0], "We dug the peat out of it.")
