"""Two people edit one text: nothing of either is lost."""

import random
import unittest
from dataclasses import replace

from tamarind.transcript import edits
from tamarind.transcript.merging import merge_texts, merged_words
from tamarind.transcript.model import Speaker, Transcript
from tests.doses import dose
from tests.support import cue, words_of

BASE = Transcript(
    "en",
    tuple(
        cue(n, said, n * 5_000, speaker=1)
        for n, said in enumerate(
            ("We dug the drains.", "It was wet then.", "The water ran off.", "Nobody came."), 1
        )
    ),
    (Speaker(1, ""),),
)


def with_text(text, place, said):
    old = text.cues[place]
    new = replace(cue(old.id, said, old.start), end=old.end, speaker=old.speaker)
    return replace(text, cues=(*text.cues[:place], new, *text.cues[place + 1 :]))


def said(text):
    return [one.text for one in text.cues]


class Merging(unittest.TestCase):
    def merged(self, mine, theirs):
        return merge_texts(BASE, mine, theirs)

    def test_what_only_one_has_changed_is_taken(self):
        mine, theirs = with_text(BASE, 0, "We dug a drain."), with_text(BASE, 2, "It ran off.")
        made = self.merged(mine, theirs)
        self.assertEqual((made.conflicts, made.taken), ([], 1))
        self.assertEqual(
            said(made.decided(lambda _: False)),
            ["We dug a drain.", "It was wet then.", "It ran off.", "Nobody came."],
        )

    def test_other_words_of_one_cue_are_both_taken(self):
        base, mine, theirs = (
            words_of(text, 0)
            for text in ("We dug the old drains by hand.", "They dug the old drains by hand.",
                         "We dug the old drains by spade.")
        )  # fmt: skip
        made = merged_words(base, mine, theirs)
        self.assertEqual([w.text for w in made], "They dug the old drains by spade.".split())
        self.assertIsNone(merged_words(base, mine, words_of("He dug the old drains.", 0)))

    def test_the_same_place_is_a_conflict_that_either_can_win(self):
        mine, theirs = with_text(BASE, 1, "It was dry."), with_text(BASE, 1, "It was cold then.")
        made = self.merged(mine, theirs)
        (conflict,) = made.conflicts
        self.assertEqual(conflict.start, BASE.cues[1].start)
        self.assertEqual(said(made.decided(lambda _: False))[1], "It was dry.")
        self.assertEqual(said(made.decided(lambda _: True))[1], "It was cold then.")

    def test_cues_that_were_cut_joined_and_deleted_are_taken(self):
        cut = edits.split(BASE, 0, 2)
        mine = with_text(BASE, 3, "Somebody came.")
        made = self.merged(mine, cut)
        self.assertEqual(made.conflicts, [])
        self.assertEqual(said(made.decided(lambda _: False))[:2], ["We dug", "the drains."])
        gone = replace(BASE, cues=BASE.cues[:2] + BASE.cues[3:])
        self.assertEqual(len(self.merged(mine, gone).decided(lambda _: False).cues), 3)
        both = self.merged(with_text(BASE, 2, "It ran."), gone)
        self.assertEqual(len(both.conflicts), 1)

    def test_names_of_speakers_are_taken_and_new_ones_have_numbers_of_their_own(self):
        mine = replace(BASE, speakers=(Speaker(1, ""), Speaker(2, "Ann")))
        theirs = replace(
            BASE,
            speakers=(Speaker(1, "Joan"), Speaker(2, "Pete")),
            cues=(*BASE.cues[:3], replace(BASE.cues[3], speaker=2)),
        )
        made = self.merged(mine, theirs).decided(lambda _: False)
        names = {one.id: one.name for one in made.speakers}
        self.assertEqual(sorted(names.values()), ["Ann", "Joan", "Pete"])
        self.assertEqual(names[made.cues[3].speaker], "Pete")

    def test_no_change_of_either_is_ever_lost(self):
        rng = random.Random(6)
        for _ in range(dose(40, 600)):
            versions = []
            for who in ("here", "there"):
                text = BASE
                for number in range(rng.randint(1, 4)):
                    place = rng.randrange(len(text.cues))
                    if rng.random() < 0.3 and len(text.cues[place].words) > 2:
                        text = edits.split(text, place, 1)
                    else:
                        words = text.cues[place].text.split()
                        words[rng.randrange(len(words))] = f"{who}{number}{rng.randrange(99)}"
                        text = with_text(text, place, " ".join(words))
                versions.append(text)
            made = self.merged(*versions)
            decided = [set(" ".join(said(made.decided(lambda _, t=t: t))).split()) for t in (0, 1)]
            for text, who, own in zip(versions, ("here", "there"), decided, strict=True):
                wanted = {word for word in " ".join(said(text)).split() if word.startswith(who)}
                self.assertLessEqual(wanted, own)
            ids = [one.id for one in made.decided(lambda _: True).cues]
            self.assertEqual(len(ids), len(set(ids)))
