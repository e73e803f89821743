import unittest
from pathlib import Path

from tamarind.batch.messages import Heard
from tamarind.batch.timeleft import Work
from tamarind.desktop.words import stage_of
from tamarind.job.delivered import NEVER
from tamarind.job.recording import Recording, State
from tamarind.transcript import edits
from tamarind.transcript.model import Transcript
from tamarind.transcript.survey import Survey
from tests.support import moor


class Pretended:
    """What stage_of asks of a session."""

    def __init__(self, text=None, active=None, queue=(), news=None):
        self.text = text or Transcript("en")
        self.active, self.waiting, self.news = active, list(queue), news
        self.queue = self.texts = self.clients = self
        self.paused = False
        self.sought = None

    def transcript(self, _key):
        return self.text

    def delivered(self, _key):
        return NEVER

    def survey(self, _key):
        return Survey().follow(self.text)

    def is_being_heard(self, key):
        return key == self.active

    def place_in_queue(self, key):
        return self.waiting.index(key) + 1 if key in self.waiting else None

    def progress(self, _key):
        return self.news

    def voices_sought(self, _key):
        return self.sought


def recording(state, **more):
    return Recording(7, Path("moor.wav"), duration=100_000, state=state, **more)


class Stages(unittest.TestCase):
    def test_waiting_has_a_place_in_line(self):
        for place, words in (
            (0, "Next"),
            (1, "Waiting, 2nd in the queue"),
            (10, "Waiting, 11th in the queue"),
            (20, "Waiting, 21st in the queue"),
            (22, "Waiting, 23rd in the queue"),
        ):
            queue = [100 + n for n in range(place)] + [7]
            stage = stage_of(Pretended(queue=queue), recording(State.QUEUED))
            self.assertEqual(stage.text, words)

    def test_hearing_tells_share_speed_and_time_left(self):
        news = Heard(7, (), 30_000, 100_000, Work(24.0, 80.0, 0.0, 2.0, 30.0))
        stage = stage_of(Pretended(active=7, news=news), recording(State.QUEUED))
        self.assertEqual(stage.text, "Transcribing… 30%")
        self.assertEqual(stage.detail, "a few seconds left · 15× real time")
        begun = stage_of(Pretended(active=7), recording(State.QUEUED))
        self.assertEqual((begun.text, begun.detail), ("Transcribing…", "finding speech"))

    def test_going_on_in_the_middle_counts_from_there(self):
        news = Heard(7, (), 75_000, 100_000, Work(60.0, 80.0, 40.0, 5.0, 25.0))
        stage = stage_of(Pretended(active=7, news=news), recording(State.QUEUED))
        self.assertEqual(stage.text, "Transcribing… 75%")
        self.assertEqual(stage.detail, "about 5 s left · 5× real time")

    def test_drafts_say_words_and_doubts(self):
        text = moor()
        stage = stage_of(Pretended(text), recording(State.DRAFT))
        self.assertEqual(
            (stage.text, stage.detail),
            ("Draft ready", "19 words · 1 uncertain word · about 15 s to proof"),
        )
        half = edits.settle(text, 0, 1)
        stage = stage_of(Pretended(half), recording(State.DRAFT))
        self.assertEqual((stage.text, stage.needs_attention), ("1 to review", True))
        self.assertAlmostEqual(stage.proofed, 6 / 19)
        whole = edits.settle(text, 0, 3)
        self.assertEqual(stage_of(Pretended(whole), recording(State.DRAFT)).text, "Proofed")

    def test_trouble_is_said_in_its_own_words(self):
        failed = recording(State.FAILED, problem="The file is empty.")
        stage = stage_of(Pretended(), failed)
        self.assertEqual(
            (stage.text, stage.detail), ("Cannot be transcribed", "The file is empty.")
        )
        self.assertTrue(stage.needs_attention)
        stopped = recording(State.STOPPED, heard_until=25_000)
        stage = stage_of(Pretended(), stopped)
        self.assertEqual(stage.text, "Stopped at 25%")
        self.assertIn("to continue from there", stage.detail)
        quiet = stage_of(Pretended(), recording(State.DRAFT))
        self.assertEqual(quiet.text, "No speech found")


class Shares(unittest.TestCase):
    def test_of_a_part_only(self):
        part = recording(State.STOPPED, part=(20_000, 60_000), heard_until=30_000)
        self.assertAlmostEqual(part.heard_share, 0.25)
        self.assertEqual(part.part_end, 60_000)
        beyond = recording(State.READY, part=(0, 900_000))
        self.assertEqual(beyond.part_end, 100_000)
