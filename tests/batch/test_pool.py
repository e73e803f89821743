import os
import queue
import random
import signal
import time
import unittest
from multiprocessing import active_children
from multiprocessing.context import SpawnProcess
from unittest.mock import patch

import numpy as np

from tamarind.batch.messages import (
    Decode,
    Done,
    Failed,
    Hear,
    Heard,
    Known,
    Probe,
    SoundReady,
    Started,
)
from tamarind.batch.pace import Pace
from tamarind.batch.pool import TRIES, WorkerPool
from tamarind.batch.timeleft import Outlook, Work, human, seconds_in_queue
from tamarind.batch.work import do
from tamarind.speech.hearingoptions import HearingOptions
from tamarind.speech.recognisers.known.pretended import PRETENDED
from tests.support import FolderTest, human_recording, write_wav

AT_ONCE = HearingOptions(recogniser=PRETENDED)
"""What the pool does is the same whoever hears; one test has it done by the real one."""


class PoolAtWork(FolderTest):
    real_workers = True

    def setUp(self):
        super().setUp()
        self.events = queue.SimpleQueue()
        self.pool = WorkerPool(self.events.put)
        self.addCleanup(self.pool.close)

    def until(self, stop, seconds=150):
        seen = []
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                seen.append(self.events.get(timeout=0.2))
            except queue.Empty:
                continue
            if stop(seen[-1]):
                return seen
        self.fail(f"nothing came but {[type(event).__name__ for event in seen]}")
        return None

    def wait(self, until, seconds=60):
        end = time.monotonic() + seconds
        while not until():
            self.assertLess(time.monotonic(), end)
            time.sleep(0.005)

    def test_a_batch_with_bad_files_is_done_to_its_end(self):
        broken = self.folder / "broken.mp3"
        broken.write_bytes(b"no sound at all" * 50)
        empty = self.folder / "empty.wav"
        empty.touch()
        paths = [broken, human_recording("beckett.wav"), empty, human_recording("two_cities.wav")]
        for key, path in enumerate(paths):
            self.pool.add(Hear(key, path, HearingOptions()))
        seen = self.until(lambda event: isinstance(event, Done) and event.key == 3)
        self.assertEqual({e.key for e in seen if isinstance(e, Failed)}, {0, 2})
        self.assertEqual({e.key for e in seen if isinstance(e, Done)}, {1, 3})
        cues = [cue for e in seen if isinstance(e, Heard) and e.key == 3 for cue in e.cues]
        self.assertEqual([cue.id for cue in cues], list(range(1, len(cues) + 1)))
        text = " ".join(cue.text for cue in cues)
        self.assertTrue(text.startswith("It was the best of times"))
        self.assertTrue(text.endswith("comparison only."))

    def test_looking_tells_what_a_file_is_and_decoding_gives_its_sound(self):
        path = human_recording("endgame_nagg_nell.wav")
        self.pool.add(Probe(5, path))
        seen = self.until(lambda event: isinstance(event, Done))
        self.pool.add(Decode(5, path))
        decoding = self.until(lambda event: isinstance(event, Done))
        self.assertIn(SoundReady, [type(event) for event in decoding])
        info = next(event for event in seen if isinstance(event, Known)).info
        self.assertEqual(info.sample_rate, 24_000)
        self.assertTrue(-40 < info.loud_db < -5)
        self.assertFalse(info.clipped)

    def test_a_worker_killed_again_and_again_changes_nothing_in_the_result(self):
        """Every time right after some news, at a moment of chance later."""
        path = self.long_recording()
        whole = self.undisturbed(path)
        self.pool.add(Hear(1, path, AT_ONCE))
        chance = random.Random(4)
        seen = []
        for _ in range(3):
            seen += self.until(lambda event: isinstance(event, Started | Heard | Done))
            time.sleep(chance.uniform(0, 0.6))
            for process in active_children():
                os.kill(process.pid, signal.SIGKILL)
        seen += self.until(lambda event: isinstance(event, Done | Failed))
        heard = [event for event in seen if isinstance(event, Heard)]
        self.assertEqual([event.cues for event in heard], [event.cues for event in whole])
        self.assertEqual([event.unheard for event in heard], [event.unheard for event in whole])
        self.assertIsInstance(seen[-1], Done)

    def test_a_recording_that_kills_every_worker_is_given_up_and_the_next_is_heard(self):
        done_with = set(active_children())
        self.pool.add(Hear(1, self.long_recording(), AT_ONCE))
        self.pool.add(Hear(2, human_recording("beckett.wav"), AT_ONCE))
        for _ in range(TRIES):
            self.wait(lambda: set(active_children()) - done_with)
            (process,) = set(active_children()) - done_with
            done_with.add(process)
            os.kill(process.pid, signal.SIGSEGV)
        seen = self.until(lambda event: isinstance(event, Done))
        (failed,) = [event for event in seen if isinstance(event, Failed)]
        self.assertEqual(failed.key, 1)
        self.assertIn("stopped unexpectedly", failed.reason)
        self.assertEqual(seen[-1].key, 2)

    def test_a_worker_that_cannot_be_started_is_tried_again(self):
        start, refused = SpawnProcess.start, []

        def fails_once(process):
            if not refused:
                refused.append(process)
                raise BlockingIOError(11, "Resource temporarily unavailable")
            start(process)

        with patch.object(SpawnProcess, "start", fails_once):
            self.pool.add(Hear(2, human_recording("beckett.wav"), AT_ONCE))
            self.until(lambda event: isinstance(event, Done))
        self.assertTrue(refused)

    def test_cancel_stops_at_once_and_the_next_goes_on(self):
        self.pool.add(Hear(1, self.long_recording(), AT_ONCE))
        self.pool.add(Hear(2, human_recording("two_cities.wav"), AT_ONCE))
        self.pool.add(Hear(3, human_recording("beckett.wav"), AT_ONCE))
        self.until(lambda event: isinstance(event, Started))
        self.assertEqual((self.pool.active(), self.pool.waiting()), ([1], [2, 3]))
        self.pool.set_order([3, 2, 1])
        self.assertEqual(self.pool.waiting(), [3, 2])
        self.pool.cancel(1, 2)
        seen = self.until(lambda event: isinstance(event, Done))
        self.assertEqual({event.key for event in seen if not isinstance(event, Heard)}, {3})

    def test_after_a_pause_it_goes_on_where_it_was_as_if_there_had_been_none(self):
        path = self.long_recording()
        whole = self.undisturbed(path)
        self.pool.add(Hear(1, path, AT_ONCE))
        seen = self.until(lambda event: isinstance(event, Heard))
        self.pool.pause()
        self.assertEqual((self.pool.active(), self.pool.waiting()), ([], [1]))
        self.pool.go_on()
        seen += self.until(lambda event: isinstance(event, Done))
        heard = [event for event in seen if isinstance(event, Heard)]
        self.assertEqual([event.cues for event in heard], [event.cues for event in whole])

    def test_two_are_heard_side_by_side_if_that_is_wanted(self):
        self.pool.close()
        self.pool = WorkerPool(self.events.put, Pace.fixed(2))
        self.addCleanup(self.pool.close)
        for key, name in enumerate(("two_cities.wav", "endgame_nagg_nell.wav", "beckett.wav")):
            self.pool.add(Hear(key, human_recording(name), AT_ONCE))
        seen = self.until(lambda event: isinstance(event, Started))
        seen += self.until(lambda event: isinstance(event, Started))
        self.assertEqual(set(self.pool.active()), {0, 1})
        while sum(isinstance(event, Done) for event in seen) < 3:
            seen += self.until(lambda event: isinstance(event, Done))
        self.assertFalse([event for event in seen if isinstance(event, Failed)])

    _whole = []

    def undisturbed(self, path):
        """What one hearing says of the long recording, worked out once."""
        if not self._whole:
            self._whole.extend(e for e in do(Hear(1, path, AT_ONCE)) if isinstance(e, Heard))
        return self._whole

    def long_recording(self):
        """Some minutes of speech, so that work on it can be interrupted."""
        from tamarind.audio import soundcache

        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        return write_wav(self.folder / "long.wav", np.tile(once, 3))


class HowMany(FolderTest):
    def test_each_number_is_tried_and_the_best_kept_and_remembered(self):
        file = self.folder / "pace.json"
        pace = Pace(2, file)
        self.assertEqual(pace.wanted, 1)
        pace.note(1, 900, 31)
        self.assertEqual(pace.wanted, 2)
        pace.note(2, 600, 20)
        self.assertEqual(Pace(2, file).wanted, 1)
        pace.note(2, 400, 20)
        self.assertEqual((pace.wanted, Pace(2, file).wanted), (2, 2))
        self.assertEqual((Pace(3, file).wanted, Pace(1, file).wanted), (1, 1))

    def test_one_more_that_gains_nothing_is_not_worth_its_memory(self):
        pace = Pace(2)
        pace.note(1, 900, 30)
        pace.note(2, 455, 30)
        self.assertEqual(pace.wanted, 1)

    def test_what_is_in_the_file_may_be_anything(self):
        file = self.folder / "pace.json"
        for text in ("", "[]", '{"wanted": 2}', '{"wanted": 9, "most": 2, "at": 1}', "null"):
            file.write_text(text)
            self.assertEqual(Pace(2, file).wanted, 1)


class TimeLeft(unittest.TestCase):
    def test_by_the_speed_so_far(self):
        work = Work(done=60, whole=180, begun=0, seconds=4.0)
        self.assertAlmostEqual(work.share, 1 / 3)
        self.assertAlmostEqual(work.left, 8.0)
        self.assertAlmostEqual(Work(done=60, whole=180, begun=30, seconds=4.0).left, 16.0)

    def test_long_quiet_is_little_work(self):
        peaks = np.concatenate([np.full(6_000, 0.5), np.full(54_000, 0.002)]).astype(np.float16)
        outlook = Outlook(peaks, (0, 600_000))
        self.assertGreater(outlook.until(60_000) / outlook.whole, 0.5)
        self.assertAlmostEqual(outlook.until(600_000), outlook.whole)
        loud = Outlook(np.full(60_000, 0.4, np.float16), (0, 600_000))
        self.assertAlmostEqual(loud.until(60_000) / loud.whole, 0.1, places=2)

    def test_of_a_line_by_the_places_there_are(self):
        self.assertEqual(seconds_in_queue([10], [10, 10, 10], 1), 40)
        self.assertEqual(seconds_in_queue([10], [10, 10, 10], 2), 20)
        self.assertEqual(seconds_in_queue([], [], 2), 0)

    def test_in_words(self):
        self.assertEqual(human(2), "a few seconds")
        self.assertEqual(human(31), "about 30 s")
        self.assertEqual(human(200), "about 3 min")
        self.assertEqual(human(7_900), "about 2 h 12 min")
