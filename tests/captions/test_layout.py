import itertools
import random
import unittest

import numpy as np

from tamarind.captions import layout
from tamarind.captions.frames import is_on_frame
from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY, Limits
from tamarind.captions.lines import break_lines, fits, with_breaks
from tamarind.captions.syntax import border_costs
from tamarind.captions.timing import NEAR_A_SHOT_MS, border_times
from tamarind.transcript.model import Transcript, Word
from tests.doses import dose
from tests.support import words_of

VOCABULARY = (
    "the of a water table moss. peat, sphagnum restoration and in twenty-three centimetres? "
    "over Harrow Creek drains we blocked because honestly; it is"
).split()


class Layout(unittest.TestCase):
    def random_words(self, rng):
        words, at = [], rng.randint(0, 3000)
        for _ in range(rng.randint(1, 120)):
            at += rng.choice((0, 0, 0, 40, 200, 700, 2500))
            length = rng.randint(30, 500)
            words.append(Word(rng.choice(VOCABULARY), at, at + length, 0.9))
            at += length
        return words

    def random_limits(self, rng):
        return Limits(
            line_length=rng.choice((24, 32, 37, 42)),
            lines=rng.choice((1, 2, 2, 3)),
            gap=rng.choice((0, 40, 80)),
            shortest=rng.choice((700, 1000)),
            longest=rng.choice((4000, 7000)),
            frame_rate=rng.choice((None, None, 25.0, 23.976)),
            counts_spaces=rng.random() < 0.5,
        )

    def test_no_word_is_lost_or_moved_and_all_limits_hold(self):
        rng = random.Random(6)
        for _ in range(dose(60, 2_000)):
            words, limits = self.random_words(rng), self.random_limits(rng)
            shots = sorted(rng.sample(range(60_000), rng.choice((0, 5))))
            voices = [rng.choice((1, 2)) for _ in words] if rng.random() < 0.3 else ()
            cues = lay_out(words, limits, first_id=5, voices=voices, shots=shots)
            laid = [w for c in cues for w in c.words]
            self.assertEqual([(w.text, w.start) for w in laid], [(w.text, w.start) for w in words])
            frame = 1000 / limits.frame_rate if limits.frame_rate else 0
            for new, old in zip(laid, words, strict=True):
                self.assertLessEqual(new.end, old.end)
                given = min(limits.gap + 2 * frame, (old.end - old.start) / 2 + 1 + frame)
                self.assertGreaterEqual(new.end, old.end - given)
            self.assertEqual([c.id for c in cues], list(range(5, 5 + len(cues))))
            for before, after in itertools.pairwise(cues):
                self.assertLessEqual(before.end, after.start)
                if after.words[0].start - before.words[-1].end >= limits.gap + 2 * frame:
                    self.assertGreaterEqual(after.start - before.end, limits.gap)
                    self.assertTrue(is_on_frame(after.start, limits.frame_rate), after)
            for cue in cues:
                self.assertLessEqual(cue.start, cue.words[0].start)
                self.assertGreaterEqual(cue.end, cue.words[-1].end)
                self.assertLessEqual(cue.words[0].start - cue.start, NEAR_A_SHOT_MS * 2)
                self.assertTrue(fits([w.text for w in cue.words], limits), cue.text)
                if len(cue.words) > 1:
                    self.assertLessEqual(cue.end - cue.start, limits.longest)

    def test_the_cheapest_of_all_cuttings_is_found(self):
        rng = random.Random(8)
        for _ in range(30):
            words, limits = self.random_words(rng)[:9], self.random_limits(rng)
            chosen = [c.words[0].start for c in lay_out(words, limits)]
            table = cue_costs(words, limits)
            costs = {}
            for size in range(len(words)):
                for cuts in itertools.combinations(range(1, len(words)), size):
                    costs[(0, *cuts)] = cutting_cost(words, table, cuts)
            found = tuple(n for n, w in enumerate(words) if w.start in chosen)
            self.assertAlmostEqual(costs[found], min(costs.values()))

    def test_sentences_and_long_pauses_part_cues(self):
        first = words_of("We blocked the sluices one by one with peat dams.")
        second = words_of("People laughed at us for it that year.", 3200)
        late = words_of("and then nobody laughed", 9000)
        cues = lay_out(first + second + late, ORDINARY)
        self.assertEqual(
            [c.text for c in cues],
            [
                "We blocked the sluices one by one with peat dams.",
                "People laughed at us for it that year.",
                "and then nobody laughed",
            ],
        )

    def test_a_flash_is_read_with_its_neighbour(self):
        cues = lay_out(words_of("Yes. We did it in the rain."), ORDINARY)
        self.assertEqual(len(cues), 1)

    def test_lines_do_not_part_an_article_from_its_noun(self):
        for text, last in (
            ("We lower a tape until it finds the water, and we write down the depth.", "water,"),
            ("They put a new sluice in every one of the drains that run to the beck.", "one"),
        ):
            words = text.split()
            (place,) = break_lines(words, ORDINARY)
            self.assertEqual(words[place - 1], last)

    def test_lines_are_even_and_within_the_length(self):
        rng = random.Random(7)
        for _ in range(dose(80, 3_000)):
            words = rng.choices(VOCABULARY, k=rng.randint(1, 30))
            breaks = [0, *break_lines(words, ORDINARY), len(words)]
            lines = [" ".join(words[a:b]) for a, b in itertools.pairwise(breaks)]
            self.assertEqual(" ".join(lines), " ".join(words))
            self.assertTrue(all(len(line) <= ORDINARY.line_length for line in lines))

    def test_breaks_that_a_person_made_are_kept(self):
        cue = lay_out(words_of("Dry. You could walk to the pines and never wet a boot."), ORDINARY)
        own = [c.__class__(**{**fields(c), "breaks": (1,)}) for c in cue]
        self.assertEqual(with_breaks(Transcript("en", tuple(own)), ORDINARY).cues, tuple(own))


def cue_costs(words, limits):
    """The table of costs that the search goes by, and those of borders healed by pauses."""
    syntax = border_costs([w.text for w in words])
    forced = np.zeros(len(words) + 1, bool)
    forced[0] = True
    times = border_times(words, limits)
    pauses = np.concatenate([[0.0], times.pauses, [0.0]])
    healed = syntax * (1 - layout.HEALING * np.clip(pauses / layout.HEALING_MS, 0, 1))
    healed[1:-1] += np.where(times.tight[1:-1], layout.NO_GAP, 0.0)
    return layout.cue_costs(words, limits, syntax, forced, times), healed


def cutting_cost(words, table, cuts):
    """What one cutting costs."""
    costs, healed = table
    total = 0.0
    for first, last in itertools.pairwise((0, *cuts, len(words))):
        if last - first > len(costs):
            return float("inf")
        total += costs[last - first - 1][first]
        total += healed[last]
    return total


def fields(cue):
    return {name: getattr(cue, name) for name in cue.__slots__}


class Timing(unittest.TestCase):
    def test_lead_in_and_lead_out_where_there_is_room(self):
        early, late = words_of("Dry.", 5000), words_of("People laughed at us for it.", 12_000)
        first, second = lay_out(early + late, ORDINARY)
        self.assertEqual(first.start, 5000 - ORDINARY.lead_in)
        self.assertEqual(first.end, first.start + ORDINARY.shortest)
        self.assertEqual(second.start, 12_000 - ORDINARY.lead_in)
        self.assertEqual(second.end, second.words[-1].end + ORDINARY.lead_out)

    def test_the_gap_takes_of_the_pause_first_and_then_of_the_last_word(self):
        words = words_of("We dug all the drains in the rain.")
        more = words_of("Nobody on the estate thought of it as harm then.", words[-1].end + 50)
        first, second = lay_out(words + more, ORDINARY)
        self.assertEqual(second.start - first.end, ORDINARY.gap)
        self.assertEqual(second.start, more[0].start - 10)
        self.assertEqual(first.end, words[-1].end)

    def test_a_stretch_goes_on_after_the_one_before(self):
        (cue,) = lay_out(words_of("It was harm.", 7000), ORDINARY, first_id=40, after=6940)
        self.assertEqual((cue.id, cue.start), (40, 6940 + ORDINARY.gap))

    def test_paragraphs_open_at_the_start_and_after_a_long_pause_that_ends_a_sentence(self):
        words = words_of("We dug the drains one by one.") + words_of(
            "It was a long and very wet winter.", 6000
        )
        self.assertEqual([c.opens_paragraph for c in lay_out(words, ORDINARY)], [True, True])
        unfinished = words_of("We dug the drains and then in") + words_of("the rain.", 6000)
        self.assertEqual([c.opens_paragraph for c in lay_out(unfinished, ORDINARY)], [True, False])
