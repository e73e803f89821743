import os
import queue
import signal
import time
import unittest

import numpy as np

from tamarind.batch.crew import Crew
from tamarind.batch.messages import Done, Failed, Hear, Heard, Known, Look, SoundReady, Started
from tamarind.batch.timeleft import human, seconds_left
from tamarind.speech.howtohear import HowToHear
from tests.support import FolderTest, human_recording, write_wav


class Work(FolderTest):
    def setUp(self):
        super().setUp()
        self.events = queue.SimpleQueue()
        self.crew = Crew(self.events.put)
        self.addCleanup(self.crew.close)

    def until(self, stop, seconds=60):
        seen = []
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                seen.append(self.events.get(timeout=0.2))
            except queue.Empty:
                continue
            if stop(seen[-1]):
                return seen
        self.fail(f"nothing came but {seen}")
        return None

    def test_a_batch_with_bad_files_is_done_to_its_end(self):
        broken = self.folder / "broken.mp3"
        broken.write_bytes(b"no sound at all" * 50)
        empty = self.folder / "empty.wav"
        empty.touch()
        paths = [broken, human_recording("beckett.wav"), empty, human_recording("two_cities.wav")]
        for key, path in enumerate(paths):
            self.crew.add(Hear(key, path, HowToHear(), (0, None)))
        seen = self.until(lambda event: isinstance(event, Done) and event.key == 3)
        self.assertEqual({e.key for e in seen if isinstance(e, Failed)}, {0, 2})
        self.assertEqual({e.key for e in seen if isinstance(e, Done)}, {1, 3})
        cues = [cue for e in seen if isinstance(e, Heard) and e.key == 3 for cue in e.cues]
        self.assertEqual([cue.id for cue in cues], list(range(1, len(cues) + 1)))
        text = " ".join(cue.text for cue in cues)
        self.assertTrue(text.startswith("It was the best of times"))
        self.assertTrue(text.endswith("comparison only."))

    def test_looking_tells_the_make_up_then_the_sound(self):
        self.crew.add(Look(5, human_recording("endgame_nagg_nell.wav")))
        seen = self.until(lambda event: isinstance(event, Done))
        self.assertEqual([type(e) for e in seen], [Known, SoundReady, Done])
        self.assertEqual(seen[0].info.sample_rate, 24_000)

    def test_a_killed_worker_costs_one_recording(self):
        self.crew.add(Hear(1, self.long_recording(), HowToHear(), (0, None)))
        self.crew.add(Hear(2, human_recording("beckett.wav"), HowToHear(), (0, None)))
        self.until(lambda event: isinstance(event, Started))
        os.kill(self.crew._lines["Hear"]._process.pid, signal.SIGKILL)
        seen = self.until(lambda event: isinstance(event, Done))
        (failed,) = [event for event in seen if isinstance(event, Failed)]
        self.assertEqual(failed.key, 1)
        self.assertIn("stopped unexpectedly", failed.reason)
        self.assertEqual(seen[-1].key, 2)

    def test_cancel_stops_at_once_and_the_next_goes_on(self):
        self.crew.add(Hear(1, self.long_recording(), HowToHear(), (0, None)))
        self.crew.add(Hear(2, human_recording("two_cities.wav"), HowToHear(), (0, None)))
        self.crew.add(Hear(3, human_recording("beckett.wav"), HowToHear(), (0, None)))
        self.until(lambda event: isinstance(event, Started))
        self.assertEqual((self.crew.active(), self.crew.waiting()), (1, [2, 3]))
        self.crew.cancel(2)
        self.crew.cancel(1)
        seen = self.until(lambda event: isinstance(event, Done))
        self.assertEqual({event.key for event in seen if not isinstance(event, Heard)}, {3})

    def test_hearing_goes_on_where_it_stopped(self):
        """What is heard in two goes is what is heard in one, but for the border."""
        path = human_recording("two_cities.wav")
        self.crew.add(Hear(1, path, HowToHear(), (0, None)))
        seen = self.until(lambda event: isinstance(event, Done))
        heard = [event for event in seen if isinstance(event, Heard)]
        self.assertGreater(len(heard), 1)
        first = heard[0]
        self.assertTrue(0 < first.go_on_at < first.end)
        self.crew.add(Hear(1, path, HowToHear(), (first.go_on_at, None), 90, first.cues[-1].end))
        rest = [e for e in self.until(lambda e: isinstance(e, Done)) if isinstance(e, Heard)]
        texts = [
            " ".join(cue.text for event in events for cue in event.cues)
            for events in (heard, [first, *rest])
        ]
        likeness = len(set(texts[0].split()) & set(texts[1].split())) / len(set(texts[0].split()))
        self.assertGreater(likeness, 0.95)
        again = [cue for event in rest for cue in event.cues]
        self.assertGreaterEqual(again[0].start, first.cues[-1].end)

    def long_recording(self):
        """Some minutes of speech, so that work on it can be interrupted."""
        from tamarind.audio import soundcache

        once = soundcache.fetch(human_recording("two_cities.wav")).samples()
        return write_wav(self.folder / "long.wav", np.tile(once, 8))


class TimeLeft(unittest.TestCase):
    def test_by_the_speed_so_far(self):
        news = Heard(1, (), 0, 60_000, 180_000, 4.0)
        share, left = seconds_left(news)
        self.assertAlmostEqual(share, 1 / 3)
        self.assertAlmostEqual(left, 8.0)
        share, _ = seconds_left(news, 30_000)
        self.assertAlmostEqual(share, 0.2)

    def test_in_words(self):
        self.assertEqual(human(2), "a few seconds")
        self.assertEqual(human(31), "about 30 s")
        self.assertEqual(human(200), "about 3 min")
        self.assertEqual(human(7_900), "about 2 h 12 min")
