"""Excerpts of a job by command: listed, and written."""

from dataclasses import replace

import av

from tamarind.job.store import JobStore
from tamarind.transcript.excerpts import Excerpt
from tests.cli.support import CommandTest
from tests.support import DEMO


class Excerpts(CommandTest):
    def setUp(self):
        super().setUp()
        self.job = self.folder / "job.tamarind"
        self.job.write_bytes(next(DEMO.glob("*.tamarind")).read_bytes())
        (self.folder / "media").symlink_to(DEMO / "media")
        store = JobStore(self.job)
        self.spans = {}
        for number, recording in enumerate(store.recordings()[:2]):
            document = store.document(recording.id)
            cues = document.transcript.cues
            start, end = cues[2].start, cues[3].end
            self.spans[recording.name] = (start, end)
            one = Excerpt(1, start, end, "ci"[number], tags=("water",) if number else ())
            store.save_document(recording.id, document, replace(document, excerpts=(one,)))
        store.close()

    def test_they_are_listed_and_found(self):
        status, out, _ = self.run_command("excerpts", self.job)
        self.assertEqual((status, len(out.splitlines())), (0, 2))
        self.assertIn("1  Warden interview  00:00:", out)
        _, out, _ = self.run_command("excerpts", self.job, "--tag", "water")
        self.assertIn("[water]", out)
        self.assertEqual(len(out.splitlines()), 1)
        self.assertEqual(self.run_command("excerpts", self.job, "--words", "zeppelin")[1], "")

    def test_they_are_written_each_by_itself_and_joined(self):
        out = self.folder / "out"
        status, _, told = self.run_command(
            "excerpts", self.job, "-o", out, "--format", "wav", "--format", "mp4", "--format",
            "edl", "--format", "csv",
        )  # fmt: skip
        self.assertEqual(status, 0, told)
        self.assertIn("1 of 2 excerpts have no picture", told)
        self.assertEqual(sorted(path.suffix for path in out.iterdir()),
                         [".csv", ".edl", ".mp4", ".wav", ".wav"])  # fmt: skip
        status, _, told = self.run_command("excerpts", self.job, "-o", out, "--format", "csv")
        self.assertEqual(status, 3)
        self.assertIn("already exists", told)
        self.run_command("excerpts", self.job, "-o", out, "--joined", "--format", "mp4", "--burn",
                         "--format", "vtt")  # fmt: skip
        length = sum(end - start for start, end in self.spans.values()) / 1000
        with av.open(str(out / "job.mp4")) as read:
            heard = sum(frame.samples for frame in read.decode(audio=0))
            self.assertAlmostEqual(heard / read.streams.audio[0].rate, length, delta=0.06)
        self.assertTrue((out / "job.vtt").read_text().startswith("WEBVTT"))

    def test_wrong_use_is_told(self):
        self.assertEqual(self.run_command("excerpts", self.folder / "none.tamarind")[0], 2)
        out = self.folder / "out"
        wrong = ("excerpts", self.job, "-o", out, "--format", "edl")
        self.assertEqual(self.run_command(*wrong, "--timecode", "99:00")[0], 2)
        self.assertEqual(self.run_command(*wrong, "--caption-style", "nobody knows it")[0], 2)
        self.assertEqual(self.run_command(*wrong, "--tag", "nothing")[0], 3)
        self.assertFalse(out.exists())
