import unittest

from tamarind.captions.limits import Limits
from tamarind.translation.fit import helps
from tamarind.translation.states import CueState, letters_over, next_open, state_of
from tamarind.translation.tracks import Track, with_approval, with_texts
from tests.translation.test_sentences import cues

LIMITS = Limits(reading_speed=20.0)


class Fit(unittest.TestCase):
    def setUp(self):
        self.cues = cues("One here.", "Two here.", "Three here.", gap=1_000)

    def track(self, *texts):
        return with_texts(Track("pt"), self.cues, texts)

    def test_letters_over_are_those_that_cannot_be_read_or_have_no_line(self):
        self.assertEqual(letters_over("x" * 20, self.cues[0], LIMITS), 0)
        self.assertEqual(letters_over("x" * 26, self.cues[0], LIMITS), 6)
        slow = Limits(reading_speed=200.0)
        self.assertEqual(letters_over("x" * 90, self.cues[0], slow), 6)

    def test_silence_behind_gives_time_and_says_what_is_still_missing(self):
        track = self.track("x" * 30, "dois", "x" * 70)
        first, *_ = helps(track, self.cues, 0, LIMITS)
        self.assertEqual((first.label, first.end), ("0.5 s more from the silence behind it", 1_500))
        (last,) = helps(track, self.cues, 2, LIMITS)
        self.assertEqual(last.end, self.cues[2].start + 3_500)
        longer, *_ = helps(self.track("x" * 60, "dois", ""), self.cues, 0, LIMITS)
        self.assertIn("still", longer.label)

    def test_the_fewest_words_go_to_a_neighbour_that_has_room(self):
        self.cues = cues("One here.", "Two here.", "Three here.", gap=0)
        track = self.track("um", "a barragem está aí agora", "três")
        offered = {help_.label: help_.texts for help_ in helps(track, self.cues, 1, LIMITS)}
        self.assertEqual(
            offered,
            {
                "“agora” to the next cue": {2: "a barragem está aí", 3: "agora três"},
                "“a barragem” to the cue before": {2: "está aí agora", 1: "um a barragem"},
            },
        )

    def test_what_fits_needs_no_help(self):
        self.assertEqual(helps(self.track("um", "dois", "três"), self.cues, 0, LIMITS), [])

    def test_states_and_the_way_from_one_to_the_next(self):
        track = with_approval(self.track("um", "x" * 40, ""), self.cues[:1])
        states = [state_of(track, cue, LIMITS) for cue in self.cues]
        self.assertEqual(states, [CueState.APPROVED, CueState.TOO_LONG, CueState.MISSING])
        self.assertEqual(next_open(track, self.cues, LIMITS, 2), 1)
        self.assertEqual(next_open(track, self.cues, LIMITS, 1, -1), 2)
        done = with_approval(self.track("um", "dois", "três"), self.cues)
        self.assertIsNone(next_open(done, self.cues, LIMITS, 0))
