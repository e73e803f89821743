"""A job is anonymised, checked and restored by command."""

from tamarind.job.document import Document
from tamarind.job.store import JobStore
from tamarind.transcript.model import Speaker, Transcript
from tests.cli.test_texts import TextTest
from tests.support import cue, tone, write_wav


class Anonymising(TextTest):
    def setUp(self):
        super().setUp()
        self.job = self.folder / "moor.tamarind"
        store = JobStore(self.job)
        recording = store.add_recording(write_wav(self.folder / "first.wav", tone(8)))
        cues = cue(1, "We saw Joan Moss at Penhallow.", 0), cue(2, "Joan dug.", 4_000)
        text = Transcript("en", cues, (Speaker(1, "Ann"),))
        store.save_document(recording.id, store.document(recording.id), Document(text))
        store.close()
        self.out, self.key = self.folder / "out", self.folder / "out.key.json"

    def texts(self, job):
        store = JobStore(job)
        said = [c.text for c in store.document(store.recordings()[0].id).transcript.cues]
        store.close()
        return said

    def test_all_that_is_found_is_taken_out_checked_and_put_back(self):
        status, _, told = self.run_command("anonymise", self.job, "-o", self.out)
        self.assertEqual(status, 0, told)
        (copy,) = self.out.glob("*.tamarind")
        self.assertEqual(self.texts(copy), ["We saw Person 1 at Place 1.", "Person 1 dug."])
        self.assertEqual(self.run_command("anonymise", self.job, "-o", self.out)[0], 2)
        status, _, told = self.run_command("anonymise", copy, "--restore", "--key", self.key)
        self.assertEqual((status, self.texts(copy)), (0, self.texts(self.job)), told)
        status, _, told = self.run_command("anonymise", self.job, "--check", self.out)
        self.assertEqual(status, 1)
        self.assertIn("“Joan” is in", told)

    def test_a_table_is_printed_edited_and_used(self):
        status, table, _ = self.run_command("anonymise", self.job, "--list")
        self.assertEqual(status, 0)
        edited = self.folder / "names.tsv"
        kept = [line for line in table.splitlines() if "Penhallow" not in line]
        edited.write_text("\n".join(kept).replace("Person 1", "the warden"))
        secret = self.folder / "password"
        secret.write_text("sphagnum\n")
        status, _, told = self.run_command(
            "anonymise", self.job, "-o", self.out, "--names", edited, "--tone",
            "--password-file", secret, "--key", self.key,
        )  # fmt: skip
        self.assertEqual(status, 0, told)
        (copy,) = self.out.glob("*.tamarind")
        self.assertEqual(self.texts(copy)[0], "We saw the warden at Penhallow.")
        self.assertEqual(self.run_command("anonymise", copy, "--restore", "--key", self.key)[0], 3)
        edited.write_text("someone\tx\ty\n")
        status, _, told = self.run_command("anonymise", self.job, "--names", edited)
        self.assertEqual(status, 2)
        self.assertIn("line 1", told)
