"""Documents for people: pages, table, roll-up, two languages, encodings, file names."""

import csv
import io
import os
import unittest
from dataclasses import replace
from html.parser import HTMLParser
from unittest.mock import patch

from docx import Document
from hypothesis import given
from hypothesis import strategies as st

from tamarind.captions.limits import ORDINARY
from tamarind.captions.lines import with_breaks
from tamarind.formats import documents
from tamarind.formats.captions import srt
from tamarind.formats.data import everything
from tamarind.formats.data.table import inert
from tamarind.formats.encoding import ENCODINGS, Bytes, encoded, unheld
from tamarind.formats.filenames import NamePatternError, free, lawful, name_by
from tamarind.formats.format import Options, Origin
from tamarind.formats.reading import plaintext
from tamarind.formats.reading.paragraphs import SpeakerForm, Stamps, TextOptions, paragraphs
from tamarind.formats.rollup import rolled_up
from tamarind.formats.twolanguages import stacked
from tamarind.transcript.edits import set_heading, toggle_span
from tamarind.transcript.model import Transcript
from tamarind.transcript.takeback import with_parts, with_words
from tests.support import cue, moor

SOURCE = Origin("moor.wav", 12_500, {"es": ["¿Cómo era?", "Seca.", None]})
BESIDE = Options(side_by_side=True, language_names={"en": "English", "es": "Spanish"})


class Pages(unittest.TestCase):
    def test_a_word_processor_document_reads_as_it_should(self):
        document = Document(io.BytesIO(documents.write("docx", moor(), SOURCE)))
        lines = [paragraph.text for paragraph in document.paragraphs]
        self.assertEqual(lines[0], "moor")
        self.assertIn("19 words · Interviewer, Warden", lines[1])
        self.assertEqual(lines[2:4], ["Interviewer", "What did the moor look like?"])
        styles = [paragraph.style for paragraph in document.paragraphs]
        self.assertEqual(
            [style.name for style in styles[:4]],
            ["Transcript Title", "Transcript Facts", "Transcript Speaker", "Transcript Text"],
        )
        # What an outline and a screen reader see.
        self.assertEqual(styles[0].base_style.name, "Heading 1")
        self.assertEqual(styles[2].base_style.name, "Normal")

    def test_pages_have_a_head_numbers_a_language_and_the_paper_of_the_country(self):
        options = Options(client="Fen Trust", date="2026-05-04")
        for language, country, width in (("en", "en_GB.UTF-8", 210), ("fr-CA", "fr_CA", 215.9)):
            with patch.dict(os.environ, {"LC_ALL": country}):
                text = replace(moor(), language=language)
                document = Document(io.BytesIO(documents.write("docx", text, SOURCE, options)))
                page = documents.write("html", text, SOURCE, options).decode()
            section = document.sections[0]
            self.assertAlmostEqual(section.page_width.mm, width, 0)
            self.assertIn("size: A4" if country == "en_GB.UTF-8" else "size: letter", page)
            self.assertEqual(section.header.paragraphs[0].text, "Fen Trust\t2026-05-04")
            self.assertIn('w:instr="PAGE"', section.footer._element.xml)
            self.assertIn(f'w:val="{language}"', document.styles.element.xml)
            properties = document.core_properties
            self.assertEqual((properties.title, properties.subject), ("moor", "Fen Trust"))
            self.assertEqual(str(properties.created.date()), "2026-05-04")
            self.assertIn("Fen Trust · 2026-05-04 · ", page)
            self.assertIn('<div class="speaker">Warden</div>', page)
            self.assertNotIn("p { break-inside", page)

    def test_the_same_text_makes_the_same_bytes(self):
        first = documents.write("docx", moor(), SOURCE)
        self.assertEqual(documents.write("docx", moor(), SOURCE), first)

    def test_both_languages_stand_side_by_side(self):
        document = Document(io.BytesIO(documents.write("docx", moor(), SOURCE, BESIDE)))
        (table,) = document.tables
        cells = [[cell.text for cell in row.cells] for row in table.rows]
        self.assertEqual(cells[0], ["English", "Spanish"])
        self.assertEqual(cells[1][1].strip(), "¿Cómo era?")
        page = documents.write("html", moor(), SOURCE, BESIDE).decode()
        self.assertIn("<th>Spanish</th>", page)
        self.assertIn('<td lang="es">', page)

    def test_text_in_a_page_is_never_markup(self):
        text = Transcript("en", (cue(1, "<script>alert(1)</script> & <b>wet</b>", 1000),))
        page = documents.write("html", text, Origin("a<b>.wav", 2000)).decode()
        tags = []
        parser = HTMLParser()
        parser.handle_starttag = lambda tag, attributes: tags.append(tag)
        parser.feed(page)
        self.assertNotIn("script", tags)
        self.assertNotIn("b", tags)
        odd = Transcript("en", (cue(1, "wet\x01 \ufffe peat", 1000),))
        Document(io.BytesIO(documents.write("docx", odd, Origin("x\x02.wav", 1))))

    def test_italics_are_those_of_the_text_in_every_document_that_has_them(self):
        text = toggle_span(moor(), [(1, 1), (1, 2), (2, 0)], "i")
        page = documents.write("html", text, SOURCE).decode()
        self.assertIn("<i>You could </i>", page)
        document = Document(io.BytesIO(documents.write("docx", text, SOURCE)))
        runs = [run.text for p in document.paragraphs[2:] for run in p.runs if run.italic]
        self.assertEqual(runs, ["You could ", "Every "])
        lower = toggle_span(moor(), [(1, 0)], "u")
        both = stacked(text, lower).cues[1]
        looks = [word.spans for word in both.words]
        self.assertEqual(looks[:3] + looks[len(moor().cues[1].words):][:2],
                         [(), ("i",), ("i",), ("u",), ()])  # fmt: skip
        rolled = rolled_up(with_breaks(text, ORDINARY), 2)
        self.assertTrue(any(word.spans for each in rolled.cues for word in each.words))

    def test_arabic_and_hebrew_run_to_the_left_in_documents(self):
        for said in ("صباح الخير يا ماء", "בוקר טוב"):
            text = replace(moor(), language="ar", cues=(cue(1, said, 0),), speakers=())
            page = documents.write("html", text, SOURCE).decode()
            self.assertIn('<html lang="ar" dir="rtl">', page)
            self.assertIn('<p dir="rtl">', page)
            document = Document(io.BytesIO(documents.write("docx", text, SOURCE)))
            paragraph = next(p for p in document.paragraphs if said in p.text)
            self.assertTrue(paragraph._p.pPr.xpath("w:bidi"))
            self.assertTrue(all(run.font.rtl for run in paragraph.runs))
        self.assertNotIn("rtl", documents.write("html", moor(), SOURCE).decode())

    def test_a_dash_before_what_somebody_says_is_no_formula(self):
        for text, risky in (
            ("- Who dug them? - The estate!", False), ("– Ann, wait", False), ("-2+3", True),
            ("- 2+3", True), ("- cmd|' /C calc'!A0", True), ("-Ann", True), ("=1", True),
            ("- HYPERLINK(x)", True), ("- A!B", True),
        ):  # fmt: skip
            self.assertEqual(inert(text).startswith("'"), risky, text)

    def test_a_table_has_a_row_a_cue_and_no_formulas(self):
        text = replace(moor(), cues=(*moor().cues, cue(9, "=1+1 is no sum", 20_000)))
        source = replace(SOURCE, translations={"es": ["a", "b", None, "d"]})
        rows = list(csv.reader(io.StringIO(documents.write("csv", text, source).decode())))
        self.assertEqual(rows[0][-1], "es")
        self.assertEqual(rows[1][:3], ["1", "00:00:01.000", "00:00:02.800"])
        self.assertEqual(rows[4][5], "'=1+1 is no sum")
        for text in ("＝1+1", " =1", "＠SUM"):
            wide = replace(moor(), cues=(cue(1, text.strip(), 0),))
            rows = list(csv.reader(io.StringIO(documents.write("csv", wide, SOURCE).decode())))
            self.assertTrue(rows[1][5].startswith("'"), text)


class Paragraphs(unittest.TestCase):
    def test_labels_stamps_and_length_follow_the_style(self):
        text = Transcript("en", tuple(
            cue(n, f"Sentence number {n} is here.", n * 40_000) for n in range(1, 9)
        ))  # fmt: skip
        options = TextOptions(stamps=Stamps.MINUTES, stamp_minutes=2, longest_paragraph=10)
        found = paragraphs(text, options)
        self.assertEqual([len(p.places) for p in found], [2, 2, 2, 2])
        stamps = [p.stamp for p in found]
        self.assertEqual(stamps, ["[00:00:40]", "[00:02:00]", None, "[00:04:40]"])
        for form, label in (
            (SpeakerForm.CAPITALS, "WARDEN:"), (SpeakerForm.BRACKETS, "[Warden]"),
            (SpeakerForm.INITIALS, "W:"), (SpeakerForm.NONE, None),
        ):  # fmt: skip
            self.assertEqual(paragraphs(moor(), TextOptions(form))[1].label, label)
        three = replace(
            moor(), cues=(*moor().cues[:2], replace(moor().cues[2], opens_paragraph=True))
        )
        self.assertEqual([p.label for p in paragraphs(three)][2], None)
        again = paragraphs(three, TextOptions(repeats_speaker=True))
        self.assertEqual(again[2].label, "Warden:")


class Headings(unittest.TestCase):
    def setUp(self):
        self.text = set_heading(moor(), 2, "Peat & water")

    def test_documents_for_reading_have_them_as_headings_above_those_who_speak(self):
        document = Document(io.BytesIO(documents.write("docx", self.text, SOURCE)))
        styles = {p.text: p.style for p in document.paragraphs}
        self.assertEqual(styles["Peat & water"].base_style.name, "Heading 2")
        self.assertEqual(styles["Warden"].base_style.name, "Normal")
        page = documents.write("html", self.text, SOURCE).decode()
        self.assertIn('<h2 id="part-1">Peat &amp; water</h2>', page)
        self.assertNotIn("<nav", page)
        two = set_heading(self.text, 0, "Dry <years>")
        page = documents.write("html", two, SOURCE).decode()
        links = '<li><a href="#part-1">Dry &lt;years&gt;</a></li>\n<li><a href="#part-2">Peat'
        self.assertIn(links, page)
        self.assertIn('<h2 id="part-2">Peat', page)
        self.assertIn('<div class="speaker">Warden</div>', page)
        beside = documents.write("html", self.text, SOURCE, BESIDE).decode()
        self.assertIn('<h2 id="part-1">Peat &amp; water</h2>', beside)
        plain = documents.write("txt", self.text, SOURCE).decode()
        self.assertIn("\n\nPeat & water\n\nWarden: ", plain)

    def test_data_keep_them_and_an_edited_text_comes_back_without_them_as_words(self):
        data = documents.write("json", self.text, SOURCE).decode()
        self.assertEqual(everything.read(data, "en").cues[2].heading, "Peat & water")
        plain = documents.write("txt", self.text, SOURCE).decode()
        parts = plaintext.read_parts(plain, ["Warden"], {"Peat & water"})
        self.assertNotIn("Peat & water", [part.text for part in parts])
        same = with_parts(with_words(self.text, parts), parts, True)
        self.assertEqual([c.heading for c in same.cues], [c.heading for c in self.text.cues])
        self.assertEqual([c.text for c in same.cues], [c.text for c in self.text.cues])


class Captions(unittest.TestCase):
    def test_roll_up_shows_the_new_line_below_the_last_when_it_is_said(self):
        text = with_breaks(
            Transcript("en", (
                cue(1, "The water behind it is about forty centimetres deep, and cold", 1000),
                cue(2, "as ever", 5000), cue(3, "Much later", 30_000),
            )),
            ORDINARY,
        )  # fmt: skip
        rolled = rolled_up(text, 2)
        self.assertEqual([len(c.lines) for c in rolled.cues], [1, 2, 2, 1])
        for before, after in zip(rolled.cues, rolled.cues[1:], strict=False):
            self.assertLessEqual(before.end, after.start)
            if len(after.lines) > 1:
                self.assertEqual(before.lines[-1], after.lines[0])
        said = text.cues[0].words[text.cues[0].breaks[0]].start
        self.assertEqual(rolled.cues[1].start, said)

    def test_two_languages_in_one_caption(self):
        upper = with_breaks(moor(), ORDINARY)
        lower = replace(upper, cues=tuple(
            replace(cue(c.id, "Texto de abajo", c.start), end=c.end, breaks=()) for c in upper.cues
        ))  # fmt: skip
        both = stacked(upper, lower)
        self.assertEqual(both.cues[0].lines, ("What did the moor look like?", "Texto de abajo"))
        self.assertEqual([c.start for c in both.cues], [c.start for c in upper.cues])
        self.assertEqual(len(srt.read(srt.write(both), "en").cues), len(upper.cues))


class Encodings(unittest.TestCase):
    def test_every_encoding_holds_what_it_can(self):
        for encoding in ENCODINGS:
            data = encoded("Peat – wet\n“moss”", Bytes(encoding, crlf=True))
            text = data.decode(encoding)
            self.assertIn("\r\n", text)
            self.assertIn("Peat", text)
        self.assertEqual(encoded("a–“b”水", Bytes("ascii")), b'a-"b"?')
        self.assertEqual(unheld("naïve 水苔水", "cp1252"), "水苔")
        self.assertTrue(encoded("x", Bytes(mark=True)).startswith(b"\xef\xbb\xbf"))

    def test_webvtt_is_always_utf_8(self):
        options = Options(bytes=Bytes("cp1252", crlf=True))
        text = Transcript("en", (cue(1, "水苔", 1000),))
        data = documents.write("vtt", text, SOURCE, options)
        self.assertIn("水苔", data.decode("utf-8"))
        self.assertIn(b"\r\n", data)


class Names(unittest.TestCase):
    def test_fields_are_filled_and_empty_ones_go(self):
        values = {"recording": "Warden: part 1/2", "language": "", "client": "Moor Trust"}
        self.assertEqual(name_by("{client}_{recording}.{language}", values),
                         "Moor Trust_Warden- part 1-2")  # fmt: skip
        with self.assertRaisesRegex(NamePatternError, "not {name}"):
            name_by("{name}", values)

    @given(st.text(max_size=300))
    def test_any_name_is_lawful(self, text):
        name = lawful(text)
        self.assertTrue(0 < len(name.encode()) <= 181)
        self.assertFalse(set(name) & set('<>:"/\\|?*\0'))
        self.assertNotIn(name[-1], " .")

    def test_names_that_are_taken_get_a_number(self):
        taken = set()
        found = [free(stem, "srt", taken) for stem in ("a", "A", "a")]
        self.assertEqual(found, ["a.srt", "A-2.srt", "a-3.srt"])
