import random
import unittest
from dataclasses import replace

from tamarind.captions.layout import lay_out
from tamarind.captions.limits import ORDINARY, Limits
from tamarind.captions.relayout import (
    Reshaping,
    extend,
    from_script,
    merge_flashes,
    regrouped,
    relay,
    reshape,
    snap,
    split_long,
    taken,
)
from tamarind.captions.syntax import NEAR, PLAIN, TORN, border_costs
from tamarind.transcript import edits
from tamarind.transcript.model import Cue, Transcript
from tests import chance
from tests.support import cue, words_of


def laid(text: str, **more: object) -> Transcript:
    return Transcript("en", tuple(lay_out(words_of(text), ORDINARY, **more)))


LONG = (
    "We lower a tape until it finds the water, and we write down the depth of it every week. "
    "The logger can do the same thing every hour if somebody has put it where it should be."
)


class Relaying(unittest.TestCase):
    def test_no_word_is_lost_and_what_must_hold_holds_after_any_act(self):
        rng = random.Random(3)
        for number in range(120):
            text = laid(LONG)
            for _ in range(rng.randrange(6)):
                text = chance.edit(self, text, text, rng)
            said = [w.text for c in text.cues for w in c.words]
            first = rng.randrange(max(len(text.cues), 1))
            last = rng.randrange(first, len(text.cues) + 1) if text.cues else 0
            limits = Limits(line_length=rng.choice((28, 42)), lines=rng.choice((1, 2)))
            act = list(Reshaping)[number % len(Reshaping)]
            speech = [(0, 2_000), (2_600, 9_000)] if rng.random() < 0.5 else ()
            new = reshape(text, first, last, act, limits, rng.random() < 0.5, (), speech)
            with self.subTest(act=act, number=number):
                self.assertEqual([w.text for c in new.cues for w in c.words], said)
                chance.check(self, new)

    def test_places_notes_and_italics_come_along_when_cues_are_cut_anew(self):
        first, *rest = laid(LONG).cues
        text = Transcript("en", (replace(first, placement="line:0", note="Who?"), *rest))
        text = edits.toggle_span(text, [(0, 1), (0, 2)], "i")
        narrow = Limits(line_length=14, lines=1)
        new = relay(text, 0, len(text.cues), narrow)
        inside = [c for c in new.cues if c.start < text.cues[1].start]
        self.assertGreater(len(inside), 2)
        self.assertEqual({c.placement for c in inside}, {"line:0"})
        self.assertEqual([c.note for c in new.cues if c.note], ["Who?"])
        spans = [w.spans for c in new.cues for w in c.words]
        self.assertEqual(spans, [w.spans for c in text.cues for w in c.words])
        joined = merge_flashes(new, 0, len(new.cues), ORDINARY)
        self.assertEqual("".join(c.note for c in joined.cues), "Who?")

    def test_what_a_person_has_locked_stays_unless_they_say_otherwise(self):
        text = edits.split(laid(LONG), 0, 2)
        kept = relay(text, 0, len(text.cues), ORDINARY)
        self.assertEqual(kept.cues[:2], text.cues[:2])
        anew = relay(text, 0, len(text.cues), ORDINARY, also_locked=True)
        self.assertNotEqual(anew.cues[0].text, text.cues[0].text)
        self.assertFalse(any(c.locked for c in anew.cues))

    def test_laying_out_what_is_laid_out_changes_nothing(self):
        text = laid(LONG)
        self.assertIs(relay(text, 0, len(text.cues), ORDINARY), text)

    def test_paragraphs_speakers_and_ids_stay(self):
        text = laid(LONG)
        text = edits.set_paragraph(text, 2, True)
        text = edits.set_speaker(edits.add_speaker(text, "Warden")[0], 2, 3, 1)
        new = relay(text, 0, len(text.cues), Limits(line_length=32))
        opening = {c.words[0].start for c in text.cues if c.opens_paragraph}
        self.assertEqual({c.words[0].start for c in new.cues if c.opens_paragraph}, opening)
        spoken = {w.start: c.speaker for c in text.cues for w in c.words}
        for each in new.cues:
            self.assertEqual({spoken[w.start] for w in each.words}, {each.speaker})
        ids = {c.words[0].start: c.id for c in text.cues}
        for each in new.cues:
            if each.words[0].start in ids:
                self.assertEqual(each.id, ids[each.words[0].start])

    def test_only_the_runs_that_are_chosen_are_taken(self):
        text = laid(LONG)
        new = relay(text, 0, len(text.cues), Limits(line_length=24, lines=1))
        groups = regrouped(text, new)
        self.assertEqual(taken(text, new, groups).cues, new.cues)
        self.assertEqual(taken(text, new, []).cues, text.cues)
        part = taken(text, new, groups[:1])
        self.assertEqual(part.cues[-1], text.cues[-1])

    def test_a_script_gets_cues_and_each_of_its_paragraphs_opens_one(self):
        script = Transcript("en", (cue(1, "We dug it.", 0), cue(2, "It was wet there.", 5)))
        words = words_of("We dug it. It was wet there.", 9_000)
        text = from_script(script, words, ORDINARY)
        self.assertEqual([c.text for c in text.cues], ["We dug it.", "It was wet there."])
        self.assertTrue(all(c.opens_paragraph for c in text.cues))


class Acts(unittest.TestCase):
    def test_a_flash_is_joined_with_the_nearer_neighbour(self):
        text = Transcript("en", (
            cue(1, "They wanted sheep on it.", 1000), cue(2, "Yes.", 3_600),
            cue(3, "So did we.", 3_950),
        ))  # fmt: skip
        new = merge_flashes(text, 0, 3, ORDINARY)
        self.assertEqual(
            [c.text for c in new.cues], ["They wanted sheep on it.", "Yes. So did we."]
        )
        other = replace(text, cues=(*text.cues[:2], replace(text.cues[2], speaker=4)))
        self.assertEqual(len(merge_flashes(other, 1, 3, ORDINARY).cues), 3)

    def test_only_cues_that_are_too_long_are_cut(self):
        long = cue(1, LONG, 1000)
        text = Transcript("en", (long, cue(2, "It was wet.", 60_000)))
        new = split_long(text, 0, 2, ORDINARY)
        self.assertGreater(len(new.cues), 3)
        self.assertEqual(new.cues[-1], text.cues[1])
        self.assertEqual([w.start for c in new.cues[:-1] for w in c.words],
                         [w.start for w in long.words])  # fmt: skip

    def test_a_cue_stands_as_long_as_its_text_needs_if_nothing_else_is_said(self):
        short = Cue(1, 1000, 1600, words_of("We blocked the sluices one by one", 1000, 80))
        text = Transcript("en", (short, cue(2, "And then it rained.", 9000)))
        (first, _) = extend(text, 0, 2, ORDINARY).cues
        self.assertEqual(first.end, 1000 + ORDINARY.reading_time(short.text))
        near = replace(text, cues=(short, cue(2, "And then.", 1800)))
        self.assertEqual(extend(near, 0, 2, ORDINARY).cues[0].end, 1800 - ORDINARY.gap)

    def test_cues_snap_to_the_voice(self):
        late = Cue(1, 0, 9_000, words_of("Dry as dust.", 3_000))
        (one,) = snap(Transcript("en", (late,)), 0, 1, ORDINARY).cues
        self.assertEqual(one.start, 3_000 - ORDINARY.lead_in)
        spread = Cue(1, 1_000, 5_000, words_of("Dry as dust.", 1_000, 1_300))
        (one,) = snap(Transcript("en", (spread,)), 0, 1, ORDINARY, speech=[(2_000, 4_000)]).cues
        self.assertEqual(one.start, 2_000 - ORDINARY.lead_in)
        self.assertLessEqual(one.end, 4_000 + ORDINARY.lead_out)


def border_cost(left, right, language="en"):
    """What a border between two words costs in the middle of a sentence."""
    return border_costs(["then", "there", left, right, "again"], language)[3]


class Syntax(unittest.TestCase):
    def test_phrases_are_not_torn(self):
        for left, right in (
            ("the", "moor"), ("of", "peat"), ("31", "metres"), ("twenty", "years"), ("Dr.", "Hale"),
            ("her", "boots"), ("to", "measure"),
        ):  # fmt: skip
            self.assertGreaterEqual(border_cost(left, right), TORN - 1, (left, right))
        self.assertGreaterEqual(border_cost("have", "seen"), NEAR)
        self.assertEqual(border_cost("moor.", "It"), 0)
        self.assertLess(border_cost("moor,", "and"), border_cost("moor", "and"))
        self.assertLess(border_cost("moor", "and"), PLAIN)
        self.assertGreaterEqual(border_cost("de", "turba", "es"), TORN)

    def test_first_and_last_name_stay_together_but_a_sentence_start_is_no_name(self):
        costs = border_costs("He met Martin Hale there.".split())
        self.assertEqual(costs[3], TORN)
        self.assertLess(border_costs("Nobody Knew.".split())[1], TORN)
