"""``tamarind speakers``: of a text with its sound, and of a job."""

import json
import shutil

from tamarind.job.jobfile import examine
from tamarind.job.store import JobStore
from tamarind.job.undostack import UndoStack
from tests.cli.support import CommandTest
from tests.support import DEMO


class Speakers(CommandTest):
    def job(self):
        shutil.copy(DEMO / "Peatland voices.tamarind", self.folder / "work.tamarind")
        shutil.copytree(DEMO / "media", self.folder / "media")
        return self.folder / "work.tamarind"

    def test_a_job_keeps_words_and_names_and_the_window_can_take_it_back(self):
        path = self.job()
        before = examine(path).documents[1].transcript
        status, _, told = self.run_command(
            "speakers", path, "--count", 3, "--recording", "Warden interview"
        )
        self.assertEqual(status, 0, told)
        self.assertIn("Warden interview: 3 speakers: Interviewer, Warden, Speaker 3", told)
        after = examine(path).documents[1].transcript
        self.assertEqual(*([w for c in text.cues for w in c.words] for text in (before, after)))
        self.assertEqual(len({cue.speaker for cue in after.cues}), 3)
        store = JobStore(path)
        self.addCleanup(store.close)
        number, (change,) = UndoStack(store).undo()
        self.assertEqual(number, 1)
        taken_back = change.made_in(store.document(1)).transcript
        self.assertEqual([c.speaker for c in taken_back.cues], [c.speaker for c in before.cues])

    def test_a_text_with_its_sound(self):
        path = self.job()
        self.assertEqual(self.run_command("speakers", path, "--sound", "x.wav")[0], 2)
        sound = next(path for path in (self.folder / "media").iterdir() if "arden" in path.name)
        text = self.folder / "flat.srt"
        text.write_text(
            "1\n00:00:00,500 --> 00:00:09,500\nToday I am talking with Martin Hale\n\n"
            "2\n00:00:10,000 --> 00:00:20,000\nDry you could walk all the way\n"
        )
        self.assertEqual(self.run_command("speakers", text)[0], 2)
        out = self.folder / "told.json"
        status, _, told = self.run_command(
            "speakers", text, "--sound", sound, "--count", 2, "-o", out
        )
        self.assertEqual(status, 0, told)
        speakers = [cue["speaker"] for cue in json.loads(out.read_text())["cues"]]
        self.assertEqual(len(set(speakers)), 2)
        self.assertNotEqual(speakers[0], speakers[-1])

    def test_what_cannot_be_is_told(self):
        plain = self.folder / "plain.txt"
        plain.write_text("no times here\n")
        status, _, told = self.run_command("speakers", plain, "--sound", "none.wav", "--count", 2)
        self.assertEqual((status, plain.read_text()), (2, "no times here\n"))
        self.assertIn("tamarind convert", told)
        text = self.folder / "empty.srt"
        text.write_text("1\n00:00:01,000 --> 00:00:02,000\nPeat\n")
        status, _, told = self.run_command("speakers", text, "--sound", "none.wav", "--count", 2)
        self.assertEqual(status, 3)
        self.assertIn("none.wav", told)
        self.assertEqual(text.read_text().splitlines()[2], "Peat")
