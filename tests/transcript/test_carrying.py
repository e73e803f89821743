"""What goes in comes out: no act loses a field of a cue, and the acts ask one table."""

import unittest
from dataclasses import fields, replace

from hypothesis import given
from hypothesis import strategies as st

from tamarind.captions.limits import Limits
from tamarind.captions.relayout import Reshaping, reshape
from tamarind.transcript import edits, takeback, timing
from tamarind.transcript.fields import OF_A_CUE, Belongs
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.takeback import Part
from tests.support import words_of
from tests.transcript.test_codec import UNUSUAL

CARRIED = [one.name for one in OF_A_CUE if one.belongs is not Belongs.SET_BY_ACTS]
OWN = {name: getattr(UNUSUAL, name) for name in CARRIED}
"""A value of each field that is not as usual."""

TO_ALL = [one.name for one in OF_A_CUE if one.belongs is Belongs.TO_ALL]
TO_BEGINNING = [one.name for one in OF_A_CUE if one.belongs is Belongs.TO_BEGINNING]
TEXT = "the water ran off the moor every winter and nobody minded it until the wells were dry"


def text(count=1, each=16, **other):
    cues = []
    for number in range(count):
        start = number * 10_000
        words = words_of(" ".join(TEXT.split()[:each]), start)
        cues.append(Cue(number + 1, start, words[-1].end, words, **(OWN | other)))
    return Transcript("en", tuple(cues), (Speaker(1, "Warden"), Speaker(2, "Neighbour")))


def values(cue, names):
    return {name: getattr(cue, name) for name in names}


class NothingIsLost(unittest.TestCase):
    def kept(self, before, after):
        """Every piece has what belongs to all of a cue, and what belongs to its beginning is there
        once for each."""
        wanted = values(before.cues[0], TO_ALL)
        for cue in after.cues:
            self.assertEqual(values(cue, TO_ALL), wanted)
        for name in TO_BEGINNING:
            was, now = (
                [getattr(cue, name) for cue in one.cues if getattr(cue, name)]
                for one in (before, after)
            )
            if name == "note":
                was, now = "\n\n".join(was).split("\n\n"), "\n\n".join(now).split("\n\n")
            self.assertEqual(now[: len(was)], was[: len(now)], name)
            self.assertTrue(now, name)

    def test_every_field_has_its_place_in_the_table(self):
        self.assertEqual([one.name for one in OF_A_CUE], [one.name for one in fields(Cue)])
        usual = Cue(1, 0, 1)
        for name in CARRIED:
            self.assertNotEqual(OWN[name], getattr(usual, name), name)

    @given(st.integers(1, 15))
    def test_splitting_and_joining_again(self, word):
        before = text()
        parted = edits.split(before, 0, word)
        self.kept(before, parted)
        (one,) = edits.join(parted, 0).cues
        self.assertEqual(values(one, CARRIED), OWN)

    def test_the_second_of_two_says_what_the_first_does_not(self):
        plain = dict.fromkeys(("placement", "look", "note", "heading"), "")
        before = text(2)
        first = replace(before.cues[0], **plain)
        (one,) = edits.join(replace(before, cues=(first, before.cues[1])), 0).cues
        self.assertEqual(values(one, plain), values(before.cues[1], plain))

    @given(st.sampled_from(list(Reshaping)), st.integers(12, 40), st.integers(800, 5_000))
    def test_laying_out_in_every_way(self, act, wide, longest):
        limits = replace(Limits(), line_length=wide, longest=longest)
        before = text(2)
        after = reshape(before, 0, 2, act, limits, also_locked=True)
        self.kept(before, after)

    def test_retiming(self):
        before = text(2)
        for after in (
            timing.set_times(before, 0, 200, 5_200),
            timing.shift(before, 0, 2, 400),
            timing.stretch(before, 0, 2, 0, 20_000),
            timing.close_gaps(before, 0, 2, 9_000, 80),
            timing.move_word(before, 0, True),
            timing.move_word(before, 1, False),
        ):
            self.assertNotEqual(after, before)
            for cue in after.cues:
                self.assertEqual(values(cue, CARRIED), OWN)

    def test_typing_settling_and_texts_that_come_back(self):
        before = text(2)
        parts = [Part("Rain came first. " + TEXT), Part(TEXT + " at last")]
        for after in (
            edits.set_text(before, 0, "the mire " + TEXT),
            edits.settle_word(before, 0, 3, "over"),
            edits.keep_spelling(before, "moor")[0],
            takeback.with_words(before, parts),
        ):
            for cue in after.cues:
                self.assertEqual(values(cue, CARRIED), OWN)

    def test_a_cue_whose_words_are_gone_leaves_what_begins_with_it(self):
        before = text(2, each=4)
        second = replace(before.cues[1], note="", heading="")
        before = replace(before, cues=(before.cues[0], second))
        (left,) = edits.set_text_over(before, 0, 2, "").cues or before.cues[:1]
        self.assertEqual(left.note, OWN["note"])
        late = " ".join(word.text for word in second.words)
        after = edits.set_text_over(
            replace(before, cues=(replace(before.cues[0], words=words_of("gone", 0)), second)),
            0,
            2,
            late,
        )
        self.assertEqual(after.cues[0].heading, OWN["heading"])


if __name__ == "__main__":
    unittest.main()
