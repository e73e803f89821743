"""Killed at any moment while a job is translated, it goes on to the same text."""

import random
import subprocess
import sys
from dataclasses import replace

from tamarind.job.document import Document
from tamarind.job.store import JobStore
from tests.support import FolderTest
from tests.translation.test_exchange import long_text
from tests.translation.translate_job import LANGUAGES

RECORDINGS, CUES, KILLS = 8, 40, 4


class Killed(FolderTest):
    def job(self, name):
        """Eight recordings with texts whose sentences go over cues."""
        store = JobStore(self.folder / f"{name}.tamarind")
        for number in range(RECORDINGS):
            recording = store.add_recording(self.folder / f"{number}.wav")
            text, _ = long_text(CUES)
            cues = tuple(
                replace(cue, words=(*cue.words[:-1], replace(cue.words[-1], text=f"{number}end.")))
                if place % 3 == 2
                else cue
                for place, cue in enumerate(text.cues)
            )
            before = store.document(recording.id)
            store.save_document(recording.id, before, Document(replace(text, cues=cues)))
        store.close()
        return self.folder / f"{name}.tamarind"

    def run_it(self, job, how, kill_after=None):
        """Whether it came to its end before it was killed."""
        command = [sys.executable, "-m", "tests.translation.translate_job", str(job), how]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as process:
            for number, _ in enumerate(process.stdout):
                if kill_after is not None and number >= kill_after:
                    process.kill()
                    break
        return process.returncode == 0

    def tracks(self, job):
        store = JobStore(job)
        found = [store.document(recording.id).tracks for recording in store.recordings()]
        store.close()
        return found

    def test_eight_recordings_and_two_languages(self):
        calm, killed = self.job("calm"), self.job("killed")
        self.assertTrue(self.run_it(calm, "begin"))
        chance = random.Random(4)
        ended = self.run_it(killed, "begin", chance.randint(3, 9))
        for _ in range(KILLS):
            self.assertFalse(ended)
            done = sum(len(track.texts) for tracks in self.tracks(killed) for track in tracks)
            self.assertLess(done, RECORDINGS * CUES * len(LANGUAGES))
            ended = self.run_it(killed, "go-on", chance.randint(3, 7))
        self.assertTrue(self.run_it(killed, "go-on"))
        expected = self.tracks(calm)
        self.assertEqual(self.tracks(killed), expected)
        self.assertEqual(sum(len(t.texts) for own in expected for t in own), 8 * 40 * 2)
