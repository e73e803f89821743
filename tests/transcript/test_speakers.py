import unittest

from tamarind.transcript.model import Cue, Speaker, Transcript, Word
from tamarind.transcript.speakers import join_speakers, known_as, with_speakers


def cue(number, start, *texts, speaker=None, **more):
    words = tuple(
        Word(text, start + 300 * place, start + 300 * place + 250)
        for place, text in enumerate(texts)
    )
    return Cue(number, start, start + 300 * len(texts), words, speaker, **more)


TEXT = Transcript(
    "en",
    (
        cue(1, 0, "Who", "dug", "them?", "The", "estate", "did.", speaker=1),
        cue(2, 3_000, "Nobody", "asked", "us.", speaker=1),
        cue(3, 6_000, "And", "after", "that?", speaker=2, opens_paragraph=True),
    ),
    (Speaker(1, "Ruth Penhale"), Speaker(2, "")),
)


class Speakers(unittest.TestCase):
    def test_a_cue_is_cut_where_another_person_begins_and_no_word_is_lost(self):
        new = with_speakers(TEXT, 0, 3, [2, 2, 2, 1, 1, 1, 1, 1, 1, 2, 2, 2])
        self.assertEqual(
            [(one.speaker, one.text) for one in new.cues],
            [(2, "Who dug them?"), (1, "The estate did."), (1, "Nobody asked us."),
             (2, "And after that?")],
        )  # fmt: skip
        before, after = ([w for c in text.cues for w in c.words] for text in (TEXT, new))
        self.assertEqual(before, after)
        self.assertEqual(len({one.id for one in new.cues}), 4)
        self.assertFalse(any(one.locked for one in new.cues))
        self.assertEqual([one.opens_paragraph for one in new.cues], [True, True, False, True])

    def test_words_of_nobodys_go_with_their_neighbours_and_what_nobody_tells_stays(self):
        new = with_speakers(TEXT, 0, 2, [None, 1, None, 1, 1, None, 2, None, 2])
        self.assertEqual([one.speaker for one in new.cues], [1, 2, 2])
        self.assertEqual(len(new.cues), 3)

    def test_who_no_longer_speaks_goes_unless_they_have_a_name(self):
        self.assertEqual([one.id for one in with_speakers(TEXT, 0, 3, [2] * 12).speakers], [1, 2])
        self.assertEqual([one.id for one in with_speakers(TEXT, 0, 3, [1] * 12).speakers], [1])
        self.assertEqual(
            [one.name for one in with_speakers(TEXT, 0, 3, [3] * 12).speakers], ["Ruth Penhale", ""]
        )

    def test_a_border_that_only_a_wrong_speaker_made_goes_and_a_persons_own_stays(self):
        self.assertFalse(with_speakers(TEXT, 0, 3, [1] * 12).cues[2].opens_paragraph)
        own = Transcript("en", (*TEXT.cues[:2], cue(3, 6_000, "And", speaker=2,
                         opens_paragraph=True, paragraph_set=True)), TEXT.speakers)  # fmt: skip
        self.assertTrue(with_speakers(own, 0, 3, [1] * 10).cues[2].opens_paragraph)

    def test_told_speakers_are_those_with_the_same_words_and_others_are_new(self):
        told = [1, 1, 1, 2, 2, 2, 2, 2, 2, 3, 3, 3]
        self.assertEqual(known_as(TEXT, 0, 3, told), {2: 1, 3: 2, 1: 3})
        self.assertEqual(known_as(TEXT, 0, 3, [5] * 12), {5: 1})

    def test_two_made_one(self):
        new = join_speakers(TEXT, 2, 1)
        self.assertEqual({one.speaker for one in new.cues}, {1})
        self.assertEqual([one.name for one in new.speakers], ["Ruth Penhale"])


if __name__ == "__main__":
    unittest.main()
