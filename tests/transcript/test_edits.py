import random
import unittest
from dataclasses import replace

from tamarind.transcript import edits
from tamarind.transcript.changed import changed_range
from tamarind.transcript.model import Cue, Transcript, Word
from tamarind.transcript.reconcile import reconcile, retext
from tamarind.transcript.survey import Survey
from tests.chance import WORDS
from tests.doses import dose
from tests.support import cue, moor, words_of


class Reconcile(unittest.TestCase):
    def setUp(self):
        self.cue = cue(1, "the first thing we did was block the sluices", 1000)

    def texts(self, text):
        return {word.text: word for word in retext(self.cue, text).words}

    def test_a_corrected_word_keeps_its_time_and_becomes_the_persons(self):
        new = self.texts("the first thing we did was block the sluice-gates")
        old = self.cue.words[-1]
        self.assertEqual((new["sluice-gates"].start, new["sluice-gates"].end), (old.start, old.end))
        self.assertIsNone(new["sluice-gates"].confidence)
        self.assertEqual(new["block"], self.cue.words[6])

    def test_marks_and_capitals_leave_the_confidence_as_it_was(self):
        word = self.texts("The first thing we did was block the sluices.")["sluices."]
        self.assertEqual(word.confidence, 0.95)

    def test_a_word_put_in_takes_nothing_from_any_word_but_its_neighbours(self):
        new = retext(self.cue, "the very first thing we did was block the sluices").words
        self.assertEqual(new[3:], self.cue.words[2:])
        self.assertGreater(new[1].end, new[1].start)
        self.assertLessEqual(new[0].end, new[1].start)
        self.assertLessEqual(new[1].end, new[2].start)

    def test_a_word_cut_in_two_shares_its_time(self):
        old = words_of("away we go")
        new = reconcile(old, ["a", "way", "we", "go"], 0, 900)
        self.assertEqual((new[0].start, new[1].end), (0, 300))
        self.assertEqual(new[2:], old[1:])

    def test_a_word_taken_out_leaves_the_others(self):
        new = retext(self.cue, "the first thing did was block the sluices").words
        self.assertEqual(
            [w.start for w in new], [w.start for w in self.cue.words if w.text != "we"]
        )

    def test_a_whole_text_is_matched_word_for_word(self):
        rng = random.Random(9)
        old = words_of(
            " ".join(rng.choices("peat dam water moss sluice pool creek".split(), k=900))
        )
        tokens = [word.text for word in old]
        for place in range(895, 0, -30):
            tokens[place] = "heather"
        del tokens[500]
        tokens.insert(200, "indeed")
        new = reconcile(old, tokens, 0, old[-1].end)
        kept = {word.start for word in new} & {word.start for word in old}
        self.assertGreater(len(kept), 890)
        changed = [word for word in new if word.text == "heather"]
        self.assertTrue(all(word.end - word.start == 300 for word in changed))

    def test_any_edit_keeps_times_in_order_and_longer_than_nothing(self):
        rng = random.Random(5)
        vocabulary = "peat dam water a the of moss sluice over pool".split()
        for _ in range(dose(100, 4_000)):
            old = cue(1, " ".join(rng.choices(vocabulary, k=rng.randint(0, 9))), 500)
            tokens = [w.text for w in old.words]
            for _ in range(rng.randint(1, 4)):
                place = rng.randint(0, len(tokens))
                tokens[place : place + rng.randint(0, 2)] = rng.choices(
                    vocabulary, k=rng.randint(0, 3)
                )
            new = retext(old, " ".join(tokens))
            self.assertEqual([w.text for w in new.words], tokens)
            for word in new.words:
                self.assertGreater(word.end, word.start)
            for before, after in zip(new.words, new.words[1:], strict=False):
                self.assertLessEqual(before.end, after.start)
            self.assertGreaterEqual(new.end, max([w.end for w in new.words], default=0))

    def test_typing_letter_by_letter_ends_where_pasting_does(self):
        typed = self.cue
        text = typed.text
        for letter in " of all":
            text += letter
            typed = retext(typed, text)
        self.assertEqual([w.text for w in typed.words][-3:], ["sluices", "of", "all"])
        self.assertEqual(typed.words[:8], self.cue.words[:8])
        self.assertEqual(typed.words[8].start, self.cue.words[8].start)


class Edits(unittest.TestCase):
    def test_split_takes_its_time_from_the_words_and_join_undoes_it(self):
        text = moor()
        halves = edits.split(text, 1, 1)
        self.assertEqual(
            [c.text for c in halves.cues[1:3]], ["Dry.", "You could walk to the pines."]
        )
        self.assertEqual(halves.cues[1].end, 4300)
        self.assertEqual(halves.cues[2].start, 4300)
        self.assertEqual(halves.cues[2].speaker, 2)
        self.assertEqual(edits.join(halves, 1).cues[1].words, text.cues[1].words)
        self.assertIs(edits.split(text, 1, 0), text)

    def test_an_edit_shares_all_it_does_not_change(self):
        text = moor()
        new = edits.set_text(text, 1, "Wet.")
        self.assertIs(new.cues[0], text.cues[0])
        self.assertIs(new.cues[2], text.cues[2])

    def test_a_speaker_is_named_once_for_all_turns(self):
        new = edits.name_speaker(moor(), 2, "Martin Hale")
        self.assertEqual(new.speaker(new.cues[1].speaker).name, "Martin Hale")
        self.assertEqual(edits.turn_of(new, 1), (1, 3))
        given = edits.set_speaker(new, 1, 3, 1)
        self.assertEqual({c.speaker for c in given.cues}, {1})

    def test_a_settled_doubt_stays_settled(self):
        text = moor()
        ((row, word),) = Survey().follow(text).doubts()
        self.assertEqual(text.cues[row].words[word].text, "pines.")
        settled = edits.settle_word(text, row, word)
        self.assertEqual(Survey().follow(settled).doubts(), [])
        self.assertEqual(settled.cues[row].text, text.cues[row].text)

    def test_a_doubt_may_be_settled_as_several_words_or_as_none(self):
        words = tuple(Word(text, n * 100, n * 100 + 90, 0.5) for n, text in enumerate("abcd"))
        text = Transcript("en", (Cue(1, 0, 400, words, breaks=(1, 3)),))
        (cue,) = edits.settle_word(text, 0, 1, "as phodel").cues
        self.assertEqual((cue.text, cue.breaks), ("a as phodel c d", (1, 4)))
        self.assertEqual([(w.start, w.end) for w in cue.words[1:3]], [(100, 135), (135, 190)])
        (cue,) = edits.settle_word(text, 0, 1, "").cues
        self.assertEqual((cue.text, cue.breaks), ("a c d", (1, 2)))
        (cue,) = edits.settle_word(text, 0, 3, "").cues
        self.assertEqual((cue.text, cue.breaks), ("a b c", (1,)))
        alone = Transcript("en", (Cue(1, 0, 90, words[:1]),))
        self.assertEqual(edits.settle_word(alone, 0, 0, "").cues, ())

    def test_words_go_into_italics_and_out_and_edits_keep_them(self):
        text = edits.toggle_span(moor(), [(1, 1), (1, 2), (1, 3)], "i")
        chosen = [word.spans for word in text.cues[1].words]
        self.assertEqual(chosen[:5], [(), ("i",), ("i",), ("i",), ()])
        both = edits.toggle_span(text, [(1, 0), (1, 1)], "i")
        self.assertTrue(all(word.spans for word in both.cues[1].words[:4]))
        self.assertEqual(edits.toggle_span(both, [(1, n) for n in range(4)], "i"), moor())
        words = [word.text for word in text.cues[1].words]
        words[2:3] = ["rather", "more"]
        new = edits.set_text(text, 1, " ".join(words)).cues[1]
        self.assertEqual([w.spans for w in new.words[:6]], [(), *[("i",)] * 4, ()])

    def test_a_note_stays_with_the_first_words_of_its_cue(self):
        first, second, *rest = moor().cues
        text = replace(
            moor(), cues=(replace(first, note="Who?"), replace(second, note="Dry?"), *rest)
        )
        parts = edits.split(text, 0, 2).cues
        self.assertEqual([parts[0].note, parts[1].note], ["Who?", ""])
        self.assertEqual(edits.join(text, 0).cues[0].note, "Who?\n\nDry?")

    def test_the_cue_at_a_time(self):
        text = moor()
        for time, place in ((0, None), (1000, 0), (3999, 0), (4000, 1), (99_000, 2)):
            self.assertEqual(text.place_at(time), place)


class Surveys(unittest.TestCase):
    def test_following_edits_gives_what_looking_afresh_does(self):
        text, survey = moor(), Survey()
        for change in (
            lambda t: edits.split(t, 1, 2),
            lambda t: edits.settle(t, 0, 2),
            lambda t: edits.join(t, 0),
            lambda t: edits.set_text(t, 1, "Wet pines."),
            lambda t: edits.delete(t, 0),
        ):
            text = change(text)
            survey.follow(text)
            afresh = Survey().follow(text)
            self.assertEqual(survey.doubts(), afresh.doubts())
            self.assertEqual(survey.words(), afresh.words())
            self.assertEqual(survey.proofed_share(), afresh.proofed_share())

    def test_where_two_versions_differ(self):
        text = moor()
        self.assertEqual(changed_range(text.cues, text.cues), (3, 3, 3))
        self.assertEqual(changed_range(text.cues, edits.split(text, 1, 1).cues), (1, 2, 3))
        self.assertEqual(changed_range(text.cues, edits.delete(text, 0).cues), (0, 1, 0))
        self.assertEqual(changed_range((), text.cues), (0, 0, 3))


class ByHand(unittest.TestCase):
    def test_empty_cues_replace_what_is_there_or_fill_the_gaps(self):
        text = moor()
        first = text.cues[0]
        later = text.cues[-1].end + 1_000
        spans = [(first.start, first.end), (later, later + 2_000)]
        new = edits.with_empty_cues(text, spans, 0, keep=False)
        self.assertEqual([(c.start, c.end, c.words) for c in new.cues], [(*s, ()) for s in spans])
        kept = edits.with_empty_cues(text, spans, 0, keep=True)
        self.assertEqual(kept.cues[:-1], text.cues)
        self.assertEqual((kept.cues[-1].start, kept.cues[-1].words), (later, ()))
        self.assertEqual(len({cue.id for cue in kept.cues}), len(kept.cues))
        from_there = edits.with_empty_cues(text, spans, text.cues[1].start, keep=False)
        self.assertEqual(from_there.cues[0], first)
        self.assertEqual(from_there.cues[-1].start, later)

    def test_all_of_one_spelling_are_kept_marks_and_capitals_aside(self):
        words = [Word(t, n * 100, n * 100 + 90, c) for n, (t, c) in enumerate(
            (("Peat,", 0.4), ("peat", 0.5), ("pea", 0.4), ("peat.", 0.99), ("PEAT", 0.1))
        )]  # fmt: skip
        text = Transcript("en", (Cue(1, 0, 250, (*words[:3],)), Cue(2, 300, 500, (*words[3:],))))
        new, count = edits.keep_spelling(text, "peat")
        self.assertEqual(count, 3)
        left = [(r, w) for r, w in Survey().follow(new).doubts()]
        self.assertEqual(left, [(0, 2)])
        self.assertEqual([c.text for c in new.cues], [c.text for c in text.cues])
        self.assertEqual(edits.keep_spelling(new, "moor"), (new, 0))

    def test_joined_words_never_run_backwards(self):
        over = Cue(1, 0, 100, (Word("one", 0, 300), Word("two", 300, 320)))
        after = Cue(2, 100, 400, (Word("three", 120, 200),))
        (joined,) = edits.join(Transcript("en", (over, after)), 0).cues
        times = [(w.start, w.end) for w in joined.words]
        self.assertEqual(times[:2], [(0, 300), (300, 320)])
        self.assertGreaterEqual(times[2][0], 320)
        self.assertGreaterEqual(joined.end, times[2][1])


class SeveralTexts(unittest.TestCase):
    def test_it_is_as_one_after_the_other(self):
        """Also where they need more time, push the next ones, or overlap from the start."""
        chance = random.Random(11)
        moved = 0
        for _ in range(300):
            cues, at = [], 0
            for number in range(1, 9):
                start = max(at + chance.randrange(-40, 100), 0)
                said = " ".join(chance.choices(WORDS, k=chance.randrange(1, 5)))
                words = words_of(said, start, chance.choice((2, 40)))
                cues.append(Cue(number, start, words[-1].end, words))
                at = words[-1].end
            text = Transcript("en", tuple(sorted(cues, key=lambda cue: cue.start)))
            texts = {
                place: " ".join(chance.choices(WORDS, k=chance.choice((1, 2, 3, 40))))
                for place in chance.sample(range(8), 4)
            }
            one_by_one = text
            for place, new in sorted(texts.items()):
                one_by_one = edits.set_text(one_by_one, place, new)
            self.assertEqual(edits.set_texts(text, texts), one_by_one)
            moved += any(
                (now.start, now.end) != (was.start, was.end)
                for place, (now, was) in enumerate(zip(one_by_one.cues, text.cues, strict=True))
                if place not in texts
            )
        self.assertGreater(moved, 5)
