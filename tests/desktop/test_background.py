"""What goes on beside the window: notices, staying awake, and how a batch adds up."""

import sys
import time
import unittest

from tamarind.application.transcriptionqueue import Totals
from tamarind.audio.media import MediaInfo
from tamarind.audio.source import Source
from tamarind.desktop.attention import SOUND, KeptNotices, words_for
from tamarind.desktop.awake import Awake
from tamarind.desktop.words import differences, level_in_words
from tamarind.job.recording import Recording
from tamarind.speech.hearingoptions import Care, HearingOptions, Sensitivity, Voices


def totals(done, failed):
    return Totals(done + failed, done, failed, left=0.0, side_by_side=0, paused=False)


class Notices(unittest.TestCase):
    def test_what_is_said_when_a_batch_is_done(self):
        self.assertEqual(
            words_for("Moor", totals(3, 0), 1_800),
            ("Moor: 3 drafts are ready", "About 30 min to proof."),
        )
        title, text = words_for("Moor", totals(1, 2), 30)
        self.assertEqual(title, "Moor: 1 draft is ready")
        self.assertIn("2 could not be transcribed", text)
        self.assertIn("nothing could be transcribed", words_for("Moor", totals(0, 2), 0)[0])

    def test_the_stand_in_keeps_what_would_be_shown_and_the_sound_ships(self):
        notices = KeptNotices()
        notices.show("a", "b")
        self.assertEqual(notices.shown, [("a", "b")])
        self.assertTrue(SOUND.is_file())


class StayingAwake(unittest.TestCase):
    COMMAND = (sys.executable, "-c", "import sys; sys.stdin.read()")

    def test_held_until_let_go(self):
        awake = Awake(self.COMMAND)
        awake.hold()
        awake.hold()
        self.assertTrue(awake.held)
        awake.let_go()
        self.assertFalse(awake.held)
        awake.let_go()

    def test_where_the_system_has_no_such_thing_nothing_happens(self):
        awake = Awake(("no-such-program-here",))
        awake.hold()
        self.assertFalse(awake.held)

    def test_a_holder_that_ends_by_itself_is_not_held(self):
        awake = Awake((sys.executable, "-c", "pass"))
        awake.hold()
        end = time.monotonic() + 30
        while awake.held:
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)
        awake.let_go()


class InWords(unittest.TestCase):
    def info(self, **more):
        return MediaInfo(
            "a.wav",
            1000,
            "wav",
            codec="pcm_s16le",
            channels=1,
            sample_rate=16_000,
            sound_tracks=1,
            picture=None,
            **more,
        )

    def test_a_level_is_spoken_of_only_if_it_stands_out(self):
        self.assertEqual(level_in_words(self.info()), "")
        self.assertEqual(level_in_words(self.info(loud_db=-20.0)), "")
        self.assertEqual(level_in_words(self.info(loud_db=-40.0)), "quiet")
        self.assertEqual(level_in_words(self.info(loud_db=-60.0)), "very quiet")
        self.assertIn("cut off", level_in_words(self.info(loud_db=-3.0, clipped=True)))

    def test_every_difference_has_its_words(self):
        how = HearingOptions(
            "cy", Care.THOROUGH, Voices(True, 3), source=Source(0, clean=True),
            recogniser="/models/welsh", sensitivity=Sensitivity.FAINT,
        )  # fmt: skip
        mine = Recording(1, SOUND, duration=90_000, how=how, part=(5_000, None), style="phone")
        said = differences(mine, HearingOptions(), "ordinary", "One short line")
        self.assertEqual(
            said[1:],
            ["thorough", "3 speakers", "sensitive voice detection", "welsh", "noise reduction",
             "One short line", "00:05 to 01:30"],
        )  # fmt: skip
        self.assertEqual(differences(Recording(1, SOUND), HearingOptions(), "ordinary"), [])
