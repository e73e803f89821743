"""Two people, one text, by command: given out, proofed elsewhere, taken back, compared."""

import io
import zipfile
from dataclasses import replace

from tamarind.job.document import Document
from tamarind.job.packing import unpack
from tamarind.job.store import JobStore
from tamarind.transcript.model import Transcript
from tamarind.translation.tracks import Track, with_texts
from tests.cli.test_texts import TextTest
from tests.support import cue, tone, write_wav

SAID = ("We dug the drains.", "It was wet then.", "The water ran off.")


class Merging(TextTest):
    def setUp(self):
        super().setUp()
        self.job, self.packed = self.folder / "moor.tamarind", self.folder / "moor.tamarind.zip"
        store = JobStore(self.job)
        cues = tuple(cue(n, said, n * 5_000) for n, said in enumerate(SAID, 1))
        for name in ("first.wav", "second.wav"):
            recording = store.add_recording(write_wav(self.folder / name, tone(1)))
            track = with_texts(Track("es"), cues, ("Cavamos.", "Mojado.", "Corrió."))
            document = Document(Transcript("en", cues), (track,))
            store.save_document(recording.id, store.document(recording.id), document)
        store.close()

    def edit(self, job, place, said, translation=None):
        store = JobStore(job)
        recording = store.recordings()[0]
        before = store.document(recording.id)
        old = before.transcript.cues[place]
        new = replace(cue(old.id, said, old.start), end=old.end)
        cues = tuple(new if one.id == old.id else one for one in before.transcript.cues)
        document = replace(before, transcript=replace(before.transcript, cues=cues))
        if translation is not None:
            track = document.tracks[0]
            entry = replace(track.texts[old.id], text=translation)
            track = replace(track, texts={**track.texts, old.id: entry})
            document = replace(document, tracks=(track,))
        store.save_document(recording.id, before, document)
        store.close()

    def texts(self, job):
        store = JobStore(job)
        document = store.document(store.recordings()[0].id)
        store.close()
        return [one.text for one in document.transcript.cues], document.tracks[0]

    def given(self, *options):
        there = self.folder / "elsewhere"
        there.mkdir()
        status, _, told = self.run_command("pack", self.job, "--recording", "FIRST", *options)
        self.assertEqual(status, 0, told)
        return unpack(self.packed, there)

    def test_two_proofreaders_lose_nothing(self):
        theirs = self.given()
        store = JobStore(theirs)
        self.assertEqual([one.name for one in store.recordings()], ["first"])
        store.close()
        self.edit(theirs, 0, "We dug the old drains.", "Cavamos los drenajes.")
        self.edit(self.job, 2, "The water ran off at once.")
        status, _, told = self.run_command("merge", self.job, theirs)
        self.assertEqual(status, 0, told)
        said, track = self.texts(self.job)
        self.assertEqual(
            said, ["We dug the old drains.", "It was wet then.", "The water ran off at once."]
        )
        self.assertEqual(track.text(1), "Cavamos los drenajes.")

    def test_where_both_changed_nothing_is_written_until_it_is_said(self):
        theirs = self.given()
        self.edit(theirs, 1, "It was cold.")
        self.edit(self.job, 1, "It was dry then.")
        self.run_command("pack", theirs)
        packed = theirs.with_name(f"{theirs.name}.zip")
        before = self.texts(self.job)
        status, _, told = self.run_command("merge", self.job, packed)
        self.assertEqual((status, self.texts(self.job)), (1, before))
        self.assertIn("here: It was dry then.", told)
        self.assertIn("there: It was cold.", told)
        status, *_ = self.run_command("merge", self.job, theirs, "--conflicts", "there")
        self.assertEqual((status, self.texts(self.job)[0][1]), (0, "It was cold."))

    def test_a_section_comes_back_and_the_rest_stays(self):
        theirs = self.given("--from", "9s", "--until", "12s")
        self.assertEqual(self.texts(theirs)[0], ["It was wet then."])
        self.edit(theirs, 0, "It was wet.")
        self.edit(self.job, 0, "We dug.")
        self.assertEqual(self.run_command("merge", self.job, theirs)[0], 0)
        self.assertEqual(self.texts(self.job)[0], ["We dug.", "It was wet.", "The water ran off."])

    def test_what_was_not_given_out_is_told(self):
        other = JobStore(self.folder / "other.tamarind")
        other.add_recording(self.folder / "first.wav")
        other.close()
        status, _, told = self.run_command("merge", self.job, other.path)
        self.assertEqual(status, 3)
        self.assertIn("was not given out", told)
        self.assertEqual(self.run_command("merge", self.job, self.folder / "no.tamarind")[0], 3)
        status, _, told = self.run_command("pack", self.job, "--from", "20m")
        self.assertEqual(status, 3)
        self.assertIn("no text in that section", told)
        status, _, told = self.run_command("pack", self.job, "--recording", "third")
        self.assertEqual(status, 2)


class Comparing(TextTest):
    def setUp(self):
        super().setUp()
        self.one, self.two = self.folder / "one.srt", self.folder / "two.srt"
        self.one.write_text(
            "1\n00:00:00,000 --> 00:00:02,000\nWe dug the drains.\n\n"
            "2\n00:00:03,000 --> 00:00:05,000\nIt was wet.\n"
        )
        self.two.write_text(self.one.read_text().replace("drains", "old ditch"))

    def test_changes_are_listed_with_their_times(self):
        status, out, _ = self.run_command("compare", self.one, self.two)
        self.assertEqual(status, 1)
        self.assertRegex(out, r"00:00:01\.\d+  drains\.  →  old ditch\.")
        self.assertEqual(self.run_command("compare", self.one, self.one)[0], 0)

    def test_changes_are_marked_in_documents(self):
        for suffix, wanted in (("html", "<del>drains.</del>"), ("txt", "drains.  →  old ditch.")):
            target = self.folder / f"marked.{suffix}"
            self.run_command("compare", self.one, self.two, "-o", target)
            self.assertIn(wanted, target.read_text())
        target = self.folder / "marked.docx"
        self.run_command("compare", self.one, self.two, "-o", target)
        text = zipfile.ZipFile(io.BytesIO(target.read_bytes())).read("word/document.xml").decode()
        self.assertRegex(text, r"<w:del [^>]*><w:r><w:delText[^>]*>drains\. ")
        self.assertRegex(text, r"<w:ins [^>]*><w:r><w:t[^>]*>ditch\. ")
        self.assertEqual(self.run_command("compare", self.one, self.two, "-o", target)[0], 2)
        again = self.folder / "again.txt"
        self.run_command("convert", target, again)
        self.assertIn("We dug the old ditch.", again.read_text())
        self.assertNotIn("drains", again.read_text())
