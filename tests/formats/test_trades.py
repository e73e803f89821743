"""Transcripts as trades want them: times, tables, hearings, ruled pages, heads and notes."""

import io
import unittest
import zipfile
from dataclasses import replace

from docx import Document
from odf import teletype
from odf.opendocument import load
from odf.table import TableRow
from odf.text import P

from tamarind.formats import documents
from tamarind.formats.format import Options, Origin
from tamarind.formats.reading.editeddocument import read_parts
from tamarind.formats.reading.paragraphs import (
    StampPlace,
    Stamps,
    TextOptions,
    TranscriptForm,
    paragraphs,
)
from tamarind.transcript.model import Speaker, Transcript
from tests.support import cue

HEARING = Transcript(
    "en",
    (
        cue(1, "Was the drain dug before the winter of that year?", 0, speaker=1),
        cue(2, "It was. We dug it by hand, all of us together.", 10_000, speaker=2),
        cue(3, "Speak up, please.", 20_000, speaker=3),
        cue(4, "Was it deep?", 31_000, speaker=1),
        cue(5, "Two spades. It ran off in a day and then it ran again.", 40_000, speaker=2),
    ),
    (Speaker(1, "Ann Hale"), Speaker(2, "Joan Moss"), Speaker(3, "The Chair")),
)
ORIGIN = Origin("hearing.wav", 60_000)
ABOUT = Options(
    title="The north drain",
    fields=(("Case", "12/26"), ("Present", "Ann Hale, Joan Moss")),
    closing="Proofed by {proofed by} for {client}, {case}.",
    author="R. Fell",
    client="Marsh Trust",
    date="2026-12-02",
    spelling="GB",
)


def written(suffix, options=ABOUT, text=HEARING, **rules):
    return documents.write(suffix, text, ORIGIN, replace(options, text=TextOptions(**rules)))


def plain(**rules):
    return written("txt", Options(), **rules).decode()


def lines_of_docx(data):
    return [(p.style.name, p.text) for p in Document(io.BytesIO(data)).paragraphs]


class Times(unittest.TestCase):
    def test_times_stand_at_turns_or_every_few_seconds(self):
        at_turns = paragraphs(HEARING, TextOptions(stamps=Stamps.TURNS))
        self.assertEqual(len([one for one in at_turns if one.stamp]), 5)
        text = plain(stamps=Stamps.SECONDS, stamp_seconds=20)
        self.assertIn("[00:00:20] Speak up, please.", text)
        self.assertIn("[00:00:40] Two spades.", text)
        self.assertEqual(text.count("[00:00:"), 2)
        often = plain(stamps=Stamps.SECONDS, stamp_seconds=5)
        self.assertLess(often.index("[00:00:10]"), often.index("It was."))
        bare = " ".join(word for word in often.split() if not word.startswith("["))
        self.assertEqual(bare, " ".join(plain().split()))

    def test_times_stand_before_the_text_in_the_margin_or_on_a_line(self):
        rules = {"stamps": Stamps.PARAGRAPHS}
        self.assertIn("[00:00:00] Ann Hale: Was", plain(**rules))
        self.assertIn("[00:00:00]\tAnn Hale: Was", plain(**rules, stamp_place=StampPlace.MARGIN))
        self.assertIn("[00:00:00]\nAnn Hale: Was", plain(**rules, stamp_place=StampPlace.LINE))
        for suffix in ("docx", "odt"):
            for place in StampPlace:
                data = written(suffix, **rules, stamp_place=place)
                parts = read_parts(data, suffix, [one.name for one in HEARING.speakers])
                self.assertEqual([part.text for part in parts], [c.text for c in HEARING.cues])


class Tables(unittest.TestCase):
    def test_a_table_has_time_speaker_and_text(self):
        rows = plain(form=TranscriptForm.TABLE).splitlines()
        self.assertEqual(rows[0], "Time\tSpeaker\tText")
        self.assertEqual(rows[3], "[00:00:20]\tThe Chair:\tSpeak up, please.")
        (table,) = Document(io.BytesIO(written("docx", form=TranscriptForm.TABLE))).tables
        self.assertEqual(
            [cell.text for cell in table.rows[3].cells],
            ["00:00:20", "The Chair", "Speak up, please."],
        )
        document = load(io.BytesIO(written("odt", form=TranscriptForm.TABLE)))
        row = document.text.getElementsByType(TableRow)[3]
        said = [teletype.extractText(line) for line in row.getElementsByType(P)]
        self.assertEqual(said, ["00:00:20", "The Chair", "Speak up, please."])
        self.assertIn(
            '<td class="speaker">The Chair</td>',
            written("html", form=TranscriptForm.TABLE).decode(),
        )

    def test_a_table_comes_back_as_it_was(self):
        for suffix in ("docx", "odt"):
            parts = read_parts(written(suffix, form=TranscriptForm.TABLE), suffix, ["Ann Hale"])
            self.assertEqual(parts[2].text, "Speak up, please.")
            self.assertEqual(parts[2].speaker, "The Chair")
            self.assertEqual(len(parts), 5)


class Hearings(unittest.TestCase):
    def test_who_asks_and_who_answers_is_told_from_the_text(self):
        marks = [
            one.mark for one in paragraphs(HEARING, TextOptions(form=TranscriptForm.QUESTIONS))
        ]
        self.assertEqual(marks, ["Q.", "A.", "THE CHAIR:", "Q.", "A."])
        text = plain(form=TranscriptForm.QUESTIONS, lists_speakers=True)
        self.assertTrue(
            text.startswith("Speakers:\nQ. Ann Hale\nA. Joan Moss\nThe Chair\n\nQ. Was")
        )
        for suffix in ("docx", "odt"):
            parts = read_parts(written(suffix, form=TranscriptForm.QUESTIONS), suffix, [])
            self.assertEqual([part.text for part in parts], [c.text for c in HEARING.cues])

    def test_ruled_pages_have_their_lines_and_numbers(self):
        many = replace(
            HEARING, cues=tuple(replace(c, id=n) for n, c in enumerate(HEARING.cues * 20, 1))
        )
        options = Options(text=TextOptions(form=TranscriptForm.QUESTIONS, page_lines=25))
        pages = documents.write("txt", many, ORIGIN, options).decode().split("\f")
        for number, page in enumerate(pages, 1):
            head, _, *lines = page.strip("\n").split("\n")
            self.assertEqual(head.strip(), str(number))
            self.assertEqual([line[:2] for line in lines], [f"{n:>2}" for n in range(1, 26)])
            self.assertLessEqual(max(map(len, lines)), 64)
        said = " ".join(line[4:] for page in pages for line in page.strip("\n").split("\n")[2:])
        wanted = [word for one in many.cues for word in one.text.split()]
        found = [word for word in said.split() if word not in ("Q.", "A.", "THE", "CHAIR:")]
        self.assertEqual(found, wanted)
        document = Document(io.BytesIO(written("docx", page_lines=25)))
        section, body = document.sections[0], document.styles["Transcript Text"].paragraph_format
        height = section.page_height - section.top_margin - section.bottom_margin
        self.assertEqual(round(height / body.line_spacing, 1), 25)
        self.assertTrue(written("pdf", page_lines=25).startswith(b"%PDF"))


class HeadsAndNotes(unittest.TestCase):
    def test_title_fields_and_note_are_a_persons_words(self):
        for suffix in ("docx", "odt", "html", "txt"):
            data = written(suffix)
            if suffix in ("docx", "odt"):
                name = "word/document.xml" if suffix == "docx" else "content.xml"
                data = zipfile.ZipFile(io.BytesIO(data)).read(name)
            text = data.decode()
            for said in ("Case: 12/26", "Present: Ann Hale", "by R. Fell for Marsh Trust, 12/26."):
                self.assertIn(said, text, suffix)
            self.assertEqual("The north drain" in text, suffix != "txt")
        self.assertEqual(lines_of_docx(written("docx"))[0], ("Transcript Title", "The north drain"))

    def test_what_stands_around_the_text_is_no_part_of_it_when_it_comes_back(self):
        names = [one.name for one in HEARING.speakers]
        for suffix in ("docx", "odt"):
            data = written(suffix, lists_speakers=True)
            parts = read_parts(data, suffix, names)
            self.assertEqual([part.text for part in parts], [c.text for c in HEARING.cues])
            again = documents.read_bytes(data, suffix, f"x.{suffix}").transcript
            self.assertEqual([c.text for c in again.cues], [c.text for c in HEARING.cues])

    def test_properties_are_our_own_with_the_region_of_the_language(self):
        data = written("docx")
        properties = Document(io.BytesIO(data)).core_properties
        self.assertEqual((properties.author, properties.language), ("R. Fell", "en-GB"))
        self.assertEqual((properties.title, properties.subject), ("The north drain", "Marsh Trust"))
        file = zipfile.ZipFile(io.BytesIO(data))
        self.assertNotIn("docProps/thumbnail.jpeg", file.namelist())
        self.assertIn(b"<Application>Tamarind<", file.read("docProps/app.xml"))
        self.assertNotIn(b"python-docx", b"".join(map(file.read, file.namelist())))
        meta = zipfile.ZipFile(io.BytesIO(written("odt"))).read("meta.xml").decode()
        self.assertIn("en-GB", meta)
        self.assertIn("R. Fell", meta)
        self.assertIn('lang="en-GB"', written("html").decode())

    def test_only_headings_lead_through_a_document(self):
        text = replace(
            HEARING, cues=(replace(HEARING.cues[0], heading="Drains"), *HEARING.cues[1:])
        )
        document = Document(io.BytesIO(written("docx", text=text)))
        led = [p.text for p in document.paragraphs if p.style.base_style.name.startswith("Heading")]
        self.assertEqual(led, ["The north drain", "Drains"])
        page = written("html", text=text).decode()
        self.assertEqual((page.count("<h1"), page.count("<h2"), page.count("<h3")), (1, 1, 0))
