"""``convert --second``: captions and documents in two languages, of files and of jobs."""

from zipfile import ZipFile

from tamarind.job.document import Document
from tamarind.job.store import JobStore
from tamarind.translation.tracks import Track, with_texts
from tests.cli.test_texts import TextTest
from tests.support import moor, tone, write_wav

ENGLISH = """1
00:00:01,000 --> 00:00:03,000
We blocked the ditches
in the second winter.

2
00:00:03,500 --> 00:00:06,000
The water came back by spring.
"""
SPANISH = """1
00:00:01,000 --> 00:00:02,000
Bloqueamos las zanjas

2
00:00:02,000 --> 00:00:03,400
en el segundo invierno.

3
00:00:03,500 --> 00:00:06,000
El agua volvió en primavera.

4
00:00:09,000 --> 00:00:10,000
Nadie más habló.
"""
BOTH = """1
00:00:01,000 --> 00:00:03,000
We blocked the ditches
in the second winter.
Bloqueamos las zanjas
en el segundo invierno.

2
00:00:03,500 --> 00:00:06,000
The water came back by spring.
El agua volvió en primavera.

3
00:00:09,000 --> 00:00:10,000
Nadie más habló.
"""


class OfFiles(TextTest):
    def setUp(self):
        super().setUp()
        self.english = self.put("en.srt", ENGLISH)
        self.spanish = self.put("es.srt", SPANISH)

    def convert(self, name, *more):
        target = self.folder / name
        status, _, told = self.run_command(
            "convert", self.english, target, "--second", self.spanish, *more
        )
        return status, told, target

    def test_captions_that_are_cut_differently_are_matched_and_none_is_lost(self):
        status, told, target = self.convert("both.srt")
        self.assertEqual((status, told), (0, ""))
        self.assertEqual(target.read_text().strip(), BOTH.strip())

    def test_documents_have_a_column_for_each(self):
        status, told, target = self.convert("both.html")
        self.assertEqual((status, told), (0, ""))
        page = target.read_text()
        for part in ("<th>English</th>", "<th>Spanish</th>", "Bloqueamos", "Nadie más habló."):
            self.assertIn(part, page)

    def test_what_does_not_go_is_told_and_nothing_is_written(self):
        for name, more, sentence in (
            ("both.txt", (), "holds one language"),
            ("both.srt", ("--lay-out",), "leave out --lay-out"),
            ("both.vtt", ("--roll-up", "2"), "leave out"),
        ):
            status, told, target = self.convert(name, *more)
            self.assertEqual(status, 2, told)
            self.assertIn(sentence, told)
            self.assertFalse(target.exists())
        self.spanish.unlink()
        self.assertIn("There is no file", self.convert("both.srt")[1])


class OfJobs(TextTest):
    def setUp(self):
        super().setUp()
        self.job = self.folder / "moor.tamarind"
        store = JobStore(self.job)
        text = moor()
        spanish = tuple(f"frase {place}" for place, _ in enumerate(text.cues, 1))
        track = with_texts(Track("es"), text.cues, spanish)
        for name, tracks in (("first", (track,)), ("second", ())):
            recording = store.add_recording(write_wav(self.folder / f"{name}.wav", tone(1)))
            empty = store.document(recording.id)
            store.save_document(recording.id, empty, Document(text, tracks))
        store.close()

    def convert(self, *options):
        out = self.folder / "out"
        status, _, told = self.run_command("convert", self.job, "-o", out, *options)
        return status, told, out

    def test_a_translation_stands_below_and_recordings_without_it_are_told(self):
        status, told, out = self.convert("--second", "Spanish")
        self.assertEqual(status, 3)
        self.assertIn("second: it has no text in es.", told)
        self.assertEqual([path.name for path in out.iterdir()], ["first.srt"])
        lines = (out / "first.srt").read_text()
        self.assertIn("frase 1", lines)
        self.assertIn(moor().cues[0].words[0].text, lines)

    def test_the_source_stands_below_a_translation_and_beside_it(self):
        status, told, out = self.convert(
            "--language", "es", "--second", "en", "--format", "vtt", "--format", "docx"
        )
        self.assertEqual(status, 0, told)
        captions = (out / "first.es.vtt").read_text()
        own = moor().cues[0].words[0].text
        self.assertLess(captions.index("frase 1"), captions.index(own))
        with ZipFile(out / "first.es.docx") as document:
            inside = document.read("word/document.xml").decode()
        for part in ("Spanish", "English", "frase 1", own):
            self.assertIn(part, inside)

    def test_a_language_that_no_text_has_is_told(self):
        status, told, out = self.convert("--second", "French")
        self.assertEqual(status, 2)
        self.assertIn("no text in “French”", told)
        self.assertFalse(out.exists())
