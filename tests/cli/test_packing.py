"""A job is packed and unpacked by command."""

from tamarind.job.document import Document
from tamarind.job.packing import unpack
from tamarind.job.store import JobStore
from tamarind.transcript.model import Transcript
from tests.cli.test_texts import TextTest
from tests.support import cue, tone, write_wav


class Travelling(TextTest):
    def test_a_job_is_packed_and_unpacked_by_command(self):
        job = self.folder / "moor.tamarind"
        store = JobStore(job)
        recording = store.add_recording(write_wav(self.folder / "first.wav", tone(1)))
        text = Transcript("en", (cue(1, "We dug the drains.", 0),))
        store.save_document(recording.id, store.document(recording.id), Document(text))
        store.close()
        status, _, told = self.run_command("pack", job)
        packed = self.folder / "moor.tamarind.zip"
        self.assertEqual((status, packed.exists()), (0, True), told)
        status, _, told = self.run_command("pack", job)
        self.assertEqual(status, 3)
        self.assertIn("already exists", told)
        status, out, told = self.run_command("unpack", packed, "-o", self.folder / "there")
        self.assertEqual(status, 0, told)
        there = JobStore(self.folder / "there" / "moor" / "moor.tamarind")
        self.assertEqual(out.strip(), str(there.path))
        (moved,) = there.recordings()
        self.assertEqual(there.document(moved.id).transcript, text)
        self.assertTrue(moved.path.is_file())
        there.close()
        self.assertEqual(self.run_command("pack", self.folder / "no.tamarind")[0], 2)
        self.assertEqual(self.run_command("unpack", self.folder / "no.zip")[0], 3)
        smaller = self.folder / "smaller.zip"
        self.run_command("pack", job, "-o", smaller, "--without-recordings", "--without-drafts")
        alone = unpack(smaller, self.folder)
        self.assertEqual([path.name for path in alone.parent.iterdir()], ["moor.tamarind"])
