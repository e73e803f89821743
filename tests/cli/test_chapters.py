"""Chapters of texts and jobs, printed, written, and put into a recording."""

import json

import av

from tests.cli.test_texts import TextTest
from tests.support import DEMO


class Chapters(TextTest):
    def headed(self):
        path = self.put("moor.srt", "1\n00:00:01,000 --> 00:00:04,000\nWe dug.\n\n"
                        "2\n00:00:09,000 --> 00:00:12,000\nThen the moss.\n")  # fmt: skip
        data = self.folder / "moor.json"
        self.run_command("convert", path, data)
        whole = json.loads(data.read_text())
        whole["cues"][1]["heading"] = "The moss"
        data.write_text(json.dumps(whole))
        return data

    def test_they_are_printed_written_and_put_into_a_recording(self):
        data = self.headed()
        status, out, _ = self.run_command("chapters", data)
        self.assertEqual((status, out), (0, "0:00 moor\n0:09 The moss\n"))
        track = self.folder / "moor.chapters.vtt"
        self.run_command("chapters", data, "--format", "vtt", "-o", track)
        self.assertIn("00:00:09.000 --> 00:00:12.000\nThe moss", track.read_text())
        media = DEMO / "media" / "Water table lecture.mp4"
        made = self.folder / "made.mp4"
        self.assertEqual(self.run_command("chapters", data, "--into", media, "-o", made)[0], 0)
        with av.open(str(made)) as read:
            found = read.chapters()
            self.assertEqual([one["start"] for one in found], [0, 9_000])
            self.assertGreater(found[-1]["end"], 90_000)
        self.assertEqual(self.run_command("chapters", data, "--into", media)[0], 2)
        self.assertEqual(self.run_command("chapters", self.folder / "none.srt")[0], 3)

    def test_of_a_job_each_recording_has_its_own(self):
        job = next(DEMO.glob("*.tamarind"))
        copy = self.folder / "copy.tamarind"
        copy.write_bytes(job.read_bytes())
        status, out, _ = self.run_command("chapters", copy)
        self.assertEqual(status, 0)
        self.assertIn("Warden interview\n0:00 ", out)
        folder = self.folder / "chapters"
        self.run_command("chapters", copy, "-o", folder)
        self.assertTrue((folder / "Water table lecture.chapters.txt").exists())
