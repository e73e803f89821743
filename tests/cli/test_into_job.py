"""Transcribing into a job: what the window finds there, and that a text is never replaced."""

from tamarind.job.recording import State
from tamarind.job.store import JobStore
from tests.cli.test_texts import TextTest
from tests.support import human_recording


class IntoAJob(TextTest):
    def test_recordings_come_with_their_drafts_and_a_text_that_is_there_stays(self):
        job, sound = self.folder / "client.tamarind", human_recording("two_cities.wav")
        options = ("--language", "en", "--until", "12", "--speakers", "off", "--style", "teletext")
        status, _, told = self.run_command("transcribe", sound, "--job", job, *options)
        self.assertEqual(status, 0, told)
        self.assertEqual([*self.folder.rglob("*.srt")], [])
        store = JobStore(job)
        (recording,) = store.recordings()
        text = store.document(recording.id).transcript
        self.assertEqual((recording.state, recording.style), (State.DRAFT, "teletext"))
        self.assertEqual((recording.part, recording.language), ((0, 12_000), "en"))
        self.assertIn("best of times", " ".join(cue.text for cue in text.cues))
        self.assertEqual(store.draft(recording.id), text.cues)
        store.close()
        status, _, told = self.run_command("transcribe", sound, "--job", job, *options)
        self.assertEqual(status, 0)
        self.assertIn("has a text in the job already", told)
        store = JobStore(job)
        self.assertEqual(store.document(recording.id).transcript, text)
        store.close()

    def test_what_cannot_be_is_told(self):
        sound = human_recording("two_cities.wav")
        bad = self.folder / "bad.tamarind"
        bad.write_text("no job")
        self.assertEqual(self.run_command("transcribe", sound, "--job", bad)[0], 3)
        self.assertEqual(bad.read_text(), "no job")
        new = self.folder / "new.tamarind"
        status, _, told = self.run_command(
            "transcribe", sound, "--job", new, "--translate", "Spanish"
        )
        self.assertEqual(status, 2)
        self.assertIn("in the job", told)
        self.assertFalse(new.exists())
