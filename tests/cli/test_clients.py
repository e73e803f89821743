"""A client by command: from recordings to a delivered folder."""

from dataclasses import replace

from tamarind.job.client import CLIENTS, Client, Delivery
from tamarind.job.document import Document
from tamarind.job.settings import DELIVERED
from tamarind.job.store import JobStore
from tamarind.language.stylebook import SHIPPED
from tamarind.transcript.model import Transcript
from tests.cli.test_texts import TextTest
from tests.support import cue, tone, write_wav

TRUST = "--client", "Marsh Trust"


class Clients(TextTest):
    def setUp(self):
        super().setUp()
        style = replace(SHIPPED["reading"], name="Trust rules")
        delivery = Delivery(("txt", "srt"), names="{client} {recording}", crlf=True)
        CLIENTS.keep(Client("Marsh Trust", style, None, delivery))

    def job(self):
        store = JobStore(self.folder / "moor.tamarind")
        recording = store.add_recording(write_wav(self.folder / "first.wav", tone(1)))
        text = Transcript("en", (cue(1, "Um, we dug the drains.", 0),))
        store.save_document(recording.id, store.document(recording.id), Document(text))
        store.close()
        return store.path

    def test_a_job_is_delivered_and_remembers_it(self):
        job, out = self.job(), self.folder / "out"
        self.assertEqual(self.run_command("deliver", job, "-o", out)[0], 2)
        status, _, told = self.run_command("deliver", job, "-o", out, "--client", "marsh trust")
        self.assertEqual(status, 0, told)
        names = sorted(path.name for path in (out / "Marsh Trust").iterdir())
        self.assertEqual(names, ["Marsh Trust first.srt", "Marsh Trust first.txt", "checks.txt"])
        text = (out / "Marsh Trust" / "Marsh Trust first.txt").read_bytes()
        self.assertIn(b"We dug the drains.\r\n", text)
        store = JobStore(job)
        (recording,) = store.recordings()
        kept = DELIVERED.of(store.setting(DELIVERED.numbered(recording.id).key))
        self.assertEqual(kept.client, "Marsh Trust")
        store.close()
        status, _, told = self.run_command("deliver", job, "-o", out, "--client", "Marsh Trust")
        self.assertEqual(status, 3)
        self.assertIn("already exists", told)

    def test_a_text_that_is_missing_is_a_failure(self):
        job = self.folder / "moor.tamarind"
        store = JobStore(job)
        store.add_recording(write_wav(self.folder / "first.wav", tone(1)))
        store.close()
        out = self.folder / "out"
        status, _, told = self.run_command("deliver", job, "-o", out, "--client", "Marsh Trust")
        self.assertEqual(status, 3)
        self.assertIn("first: has no text yet", told)

    def test_a_client_sets_what_is_not_said_otherwise(self):
        captions = self.folder / "first.srt"
        captions.write_text("1\n00:00:00,000 --> 00:00:02,000\nUm, we dug the the drains.\n")
        out = self.folder / "out"
        status, _, told = self.run_command(
            "convert", captions, "-o", out, "--client", "Marsh Trust"
        )
        self.assertEqual(status, 0, told)
        self.assertEqual(sorted(path.name for path in out.iterdir()), ["first.srt", "first.txt"])
        self.assertIn(b"We dug the drains.\r\n", (out / "first.txt").read_bytes())
        status, *_ = self.run_command(
            "convert", captions, "-o", self.folder / "one", "--client", "Marsh Trust",
            "--format", "vtt", "--style", "verbatim",
        )  # fmt: skip
        self.assertEqual([path.name for path in (self.folder / "one").iterdir()], ["first.vtt"])

    def test_an_unknown_client_is_told(self):
        captions = self.folder / "first.srt"
        captions.write_text("1\n00:00:00,000 --> 00:00:02,000\nWe dug.\n")
        status, _, told = self.run_command(
            "convert", captions, self.folder / "first.vtt", "--client", "Nobody"
        )
        self.assertEqual(status, 0)
        self.assertIn("No client “Nobody” is kept here", told)
        broken = self.folder / "x.client.json"
        broken.write_text("{}")
        self.assertEqual(self.run_command("check", captions, "--client", broken)[0], 2)

    def test_a_text_is_written_in_another_degree_of_verbatim(self):
        captions = self.folder / "first.srt"
        captions.write_text("1\n00:00:00,000 --> 00:00:04,000\nUm, so, we were, you know, wet.\n")
        for degree, wanted in (
            ("full", "Um, so, we were, you know, wet."), ("clean", "So, we were wet."),
            ("edited", "We were wet."),
        ):  # fmt: skip
            out = self.folder / f"{degree}.txt"
            status, _, told = self.run_command("convert", captions, out, "--verbatim", degree)
            self.assertEqual(status, 0, told)
            self.assertIn(wanted, out.read_text())
