"""Documents for word processors and as PDF: styles, contents, templates, and the way back."""

import io
import re
import shutil
import subprocess
import unittest
import zipfile
from dataclasses import replace

from docx import Document
from odf import teletype
from odf.opendocument import load
from odf.table import TableHeaderRows
from odf.text import A, Bookmark, H, P
from pypdf import PdfReader

from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.format import Options, Origin
from tamarind.formats.reading.editeddocument import read_parts
from tamarind.formats.reading.paragraphs import SpeakerForm, Stamps, TextOptions
from tamarind.formats.reading.template import read_template
from tamarind.transcript.edits import set_heading
from tamarind.transcript.model import Cue, Transcript, Word
from tests.support import FolderTest, moor

SOFFICE = shutil.which("soffice")
SOURCE = Origin("Moor.wav", 12_000)
BESIDE = Options(side_by_side=True, language_names={"en": "English", "es": "Spanish"})
SPANISH = {"es": ["¿Cómo era?", "Seco.", None]}
STAMPED = Options(TextOptions(SpeakerForm.CAPITALS, stamps=Stamps.PARAGRAPHS))
HOSTILE = "</text:p><script>alert(1)</script>&\x07 {body} =cmd()"


def headed():
    return set_heading(set_heading(moor(), 0, "The moor"), 1, "The water")


def styles_of(data):
    return [(line.style.name, line.text) for line in Document(io.BytesIO(data)).paragraphs]


def lines_of(data):
    """Of an OpenDocument: the kinds of its lines with their texts, in order."""
    document = load(io.BytesIO(data))
    found = []
    for element in document.text.childNodes:
        if element.qname[1] in ("p", "h"):
            style = element.getAttribute("stylename").replace("_20_", " ")
            found.append((style, teletype.extractText(element)))
    return found


def rewritten(data, name, old, new):
    """A zipped document with something else in one of its parts."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as before, zipfile.ZipFile(out, "w") as after:
        for part in before.infolist():
            content = before.read(part).decode("utf-8", "surrogateescape")
            if part.filename == name:
                content, count = re.subn(old, new, content, count=1)
                assert count
            after.writestr(part, content.encode("utf-8", "surrogateescape"))
    return out.getvalue()


class OpenDocument(unittest.TestCase):
    def write(self, text=None, source=SOURCE, options=Options()):  # noqa: B008 – a value
        return documents.write("odt", text or moor(), source, options)

    def test_title_headings_speakers_and_text_have_styles_of_their_own(self):
        found = lines_of(self.write(headed(), options=STAMPED))
        self.assertEqual(found[0], ("Transcript Title", "Moor"))
        kinds = [kind for kind, _ in found]
        self.assertEqual(kinds.count("Transcript Heading"), 2)
        self.assertIn(("Transcript Speaker", "INTERVIEWER"), found)
        self.assertIn(("Transcript Text", "[00:00:01] What did the moor look like?"), found)
        document = load(io.BytesIO(self.write(headed())))
        levels = [int(h.getAttribute("outlinelevel")) for h in document.text.getElementsByType(H)]
        self.assertEqual(levels, [1, 2, 2])
        # The contents lead to the headings.
        links = [a.getAttribute("href") for a in document.text.getElementsByType(A)]
        marks = [b.getAttribute("name") for b in document.text.getElementsByType(Bookmark)]
        self.assertEqual(links, [f"#{mark}" for mark in marks])

    def test_it_begins_with_its_kind_in_plain_and_is_the_same_each_time(self):
        data = self.write()
        self.assertEqual(data[30:77], b"mimetypeapplication/vnd.oasis.opendocument.text")
        self.assertEqual(data, self.write())
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            self.assertIsNone(file.testzip())
            meta = file.read("meta.xml").decode()
            self.assertIn("<dc:title>Moor</dc:title>", meta)
            self.assertIn("<dc:language>en</dc:language>", meta)

    def test_translations_stand_in_a_table_whose_head_is_known(self):
        document = load(io.BytesIO(self.write(source=replace(SOURCE, translations=SPANISH),
                                              options=BESIDE)))  # fmt: skip
        (head,) = document.text.getElementsByType(TableHeaderRows)
        self.assertEqual(teletype.extractText(head), "EnglishSpanish")
        said = " ".join(teletype.extractText(p) for p in document.text.getElementsByType(P))
        self.assertIn("¿Cómo era?", said)

    def test_looks_languages_and_directions(self):
        words = (Word("shalom", 0, 300, spans=("i",)), Word("שלום", 300, 600, spans=("lang he",)))
        data = self.write(Transcript("en", (Cue(1, 0, 900, words),)))
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            content = file.read("content.xml").decode()
        self.assertIn('fo:font-style="italic"', content)
        self.assertIn('fo:language="he"', content)

    def test_nothing_of_a_text_is_markup(self):
        words = (Word(HOSTILE, 0, 900),)
        text = Transcript("en", (Cue(1, 0, 900, words),))
        found = lines_of(documents.write("odt", text, Origin(f"{HOSTILE}.wav", 900), Options()))
        self.assertEqual(found[-1][1], HOSTILE.replace("\x07", ""))


class WordProcessor(unittest.TestCase):
    def test_contents_lead_to_the_headings(self):
        data = documents.write("docx", headed(), SOURCE)
        found = styles_of(data)
        self.assertEqual([text for kind, text in found if kind == "Transcript Contents"],
                         ["The moor\t00:00:01", "The water\t00:00:04"])  # fmt: skip
        xml = zipfile.ZipFile(io.BytesIO(data)).read("word/document.xml").decode()
        links = re.findall(r'w:anchor="([^"]+)"', xml)
        self.assertEqual(links, re.findall(r'w:bookmarkStart[^>]*w:name="([^"]+)"', xml))
        self.assertEqual(len(links), 2)

    def test_hearings_have_numbered_lines_and_wide_margins(self):
        data = documents.write("docx", moor(), SOURCE, Options(numbered=True))
        (section,) = Document(io.BytesIO(data)).sections
        self.assertGreater(section.right_margin.mm, 50)
        xml = zipfile.ZipFile(io.BytesIO(data)).read("word/document.xml").decode()
        self.assertIn('<w:lnNumType w:countBy="1" w:restart="newPage"/>', xml)
        data = documents.write("odt", moor(), SOURCE, Options(numbered=True))
        xml = zipfile.ZipFile(io.BytesIO(data)).read("styles.xml").decode()
        self.assertIn('text:number-lines="true"', xml)

    def test_the_head_of_a_table_is_known_as_such(self):
        data = documents.write("docx", moor(), replace(SOURCE, translations=SPANISH), BESIDE)
        xml = zipfile.ZipFile(io.BytesIO(data)).read("word/document.xml").decode()
        self.assertEqual(xml.count("<w:tblHeader/>"), 1)


class Templates(FolderTest):
    def client_docx(self, *lines):
        document = Document()
        document.sections[0].header.paragraphs[0].text = "Titwell Archive – {title}"
        for line in lines or ("Interview of {date} for {client}", "{body}", "End of transcript"):
            document.add_paragraph(line)
        parted = document.add_paragraph()
        for piece in ("Length: {fa", "cts", "}."):
            parted.add_run(piece)
        style = document.styles.add_style("Transcript Speaker", 1)
        style.font.all_caps = True
        path = self.folder / "client.docx"
        document.save(path)
        return read_template(path)

    def client_odt(self):
        """Made by ours, with places in it."""
        data = documents.write("odt", Transcript("en", (
            Cue(1, 0, 900, tuple(Word(w, n, n + 1) for n, w in enumerate(
                "Interview of {date} for {client}".split()))),
            Cue(2, 1_000, 1_900, (Word("{body}", 1_000, 1_900),), opens_paragraph=True),
            Cue(3, 2_000, 2_900, (Word("End", 2_000, 2_900),), opens_paragraph=True),
        )), Origin("{title}.wav", 9), Options())  # fmt: skip
        path = self.folder / "client.odt"
        path.write_bytes(data)
        return read_template(path)

    def options(self, template):
        return Options(templates=(template,), client="Moor Trust", date="2026-11-20")

    def test_a_docx_of_the_clients_is_the_base(self):
        data = documents.write("docx", moor(), SOURCE, self.options(self.client_docx()))
        document = Document(io.BytesIO(data))
        self.assertEqual(document.sections[0].header.paragraphs[0].text, "Titwell Archive – Moor")
        found = styles_of(data)
        texts = [text for _, text in found]
        self.assertEqual(texts[0], "Interview of 2026-11-20 for Moor Trust")
        self.assertEqual(found[1], ("Transcript Speaker", "Interviewer"))
        self.assertLess(
            texts.index("What did the moor look like?"), texts.index("End of transcript")
        )
        self.assertIn("Length: 00:00:12", texts[-1])
        self.assertNotIn("{", "".join(texts))
        # The client's style stays as it was.
        self.assertTrue(document.styles["Transcript Speaker"].font.all_caps)

    def test_a_template_that_says_what_it_is_about_in_another_way(self):
        """As LibreOffice does: its part of that name is not known, and written once more."""
        template = self.client_docx()
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(template.data)) as old, zipfile.ZipFile(out, "w") as new:
            for part in old.infolist():
                content = old.read(part)
                if part.filename == "_rels/.rels":
                    content = content.replace(
                        b"package/2006/relationships/metadata/core",
                        b"officedocument/2006/relationships/metadata/core",
                    )
                new.writestr(part, content)
        data = documents.write("docx", moor(), SOURCE, self.options(
            replace(template, data=out.getvalue())))  # fmt: skip
        names = zipfile.ZipFile(io.BytesIO(data)).namelist()
        self.assertEqual(len(names), len(set(names)))
        self.assertEqual(Document(io.BytesIO(data)).core_properties.title, "Moor")

    def test_without_a_place_the_text_comes_at_the_end(self):
        template = self.client_docx("Only a head")
        texts = [t for _, t in styles_of(documents.write("docx", moor(), SOURCE,
                                                         self.options(template)))]  # fmt: skip
        self.assertEqual(texts[0], "Only a head")
        self.assertIn("ran away.", texts[-1])

    def test_an_odt_of_the_clients_is_the_base(self):
        data = documents.write("odt", moor(), SOURCE, self.options(self.client_odt()))
        texts = [text for _, text in lines_of(data)]
        self.assertEqual(texts[0], "Moor")
        self.assertIn("Interview of 2026-11-20 for Moor Trust", texts)
        self.assertLess(texts.index("What did the moor look like?"), texts.index("End"))
        self.assertFalse(any("{" in text for text in texts))

    def test_side_by_side_within_a_template(self):
        for template in (self.client_docx(), self.client_odt()):
            options = replace(self.options(template), side_by_side=True)
            source = replace(SOURCE, translations=SPANISH)
            data = documents.write(template.suffix, moor(), source, options)
            parts = read_parts(data, template.suffix, ["Interviewer", "Warden"])
            self.assertIn("What did the moor look like?", [part.text for part in parts])

    def test_what_is_no_template_is_told(self):
        empty = b"PK\x05\x06" + b"\0" * 18
        for name, data in (("a.txt", b"x"), ("a.docx", b"no zip"), ("b.odt", empty)):
            path = self.folder / name
            path.write_bytes(data)
            with self.assertRaises(FormatError, msg=name):
                read_template(path)
        with self.assertRaises(FormatError):
            read_template(self.folder / "none.docx")
        path = self.folder / "odd.docx"
        with zipfile.ZipFile(path, "w") as file:
            file.writestr("word/document.xml", "<no xml")
        with self.assertRaisesRegex(FormatError, "damaged"):
            documents.write("docx", moor(), SOURCE, self.options(read_template(path)))


class Printed(unittest.TestCase):
    def test_a_pdf_is_tagged_with_bookmarks_title_language_and_its_fonts(self):
        options = Options(client="Moor Trust", date="2026-11-20")
        data = documents.write("pdf", headed(), SOURCE, options)
        reader = PdfReader(io.BytesIO(data))
        catalogue = reader.trailer["/Root"]
        self.assertTrue(catalogue["/MarkInfo"]["/Marked"])
        self.assertIn("/StructTreeRoot", catalogue)
        self.assertEqual(catalogue["/Lang"], "en")
        self.assertEqual(reader.metadata.title, "Moor")

        def titles(outline):
            for one in outline:
                if isinstance(one, list):
                    yield from titles(one)
                else:
                    yield one.title

        self.assertEqual([t for t in titles(reader.outline) if t.startswith("The")],
                         ["The moor", "The water"])  # fmt: skip
        text = "\n".join(page.extract_text() for page in reader.pages)
        for said in ("What did the moor look like?", "Moor Trust · 2026-11-20", "1 / 1"):
            self.assertIn(said, text)
        fonts = [font.get_object() for font in reader.pages[0]["/Resources"]["/Font"].values()]
        for font in fonts:
            described = font["/DescendantFonts"][0].get_object()["/FontDescriptor"].get_object()
            self.assertTrue({"/FontFile2", "/FontFile3"} & set(described), font["/BaseFont"])
        self.assertTrue(any("Vollkorn" in font["/BaseFont"] for font in fonts))

    def test_it_is_the_same_each_time_and_fetches_nothing(self):
        words = (Word('<img src="file:///etc/passwd"><link href="http://x/">', 0, 900),)
        text = Transcript("en", (Cue(1, 0, 900, words),))
        data = documents.write("pdf", text, SOURCE, Options(date="2026-11-20"))
        self.assertEqual(data, documents.write("pdf", text, SOURCE, Options(date="2026-11-20")))
        self.assertIn("etc/passwd", PdfReader(io.BytesIO(data)).pages[0].extract_text())


class TakenBack(FolderTest):
    NAMES = ("Interviewer", "Warden")

    def parts(self, data, suffix):
        return [(part.speaker, part.text) for part in read_parts(data, suffix, self.NAMES)]

    def test_what_is_written_is_read_back_with_those_who_speak(self):
        expected = [("Interviewer", "What did the moor look like?"),
                    ("Warden", "Dry. You could walk to the pines."
                               " Every winter the water ran away.")]  # fmt: skip
        for suffix in ("docx", "odt"):
            for text in (moor(), headed()):
                data = documents.write(suffix, text, SOURCE, STAMPED)
                self.assertEqual(self.parts(data, suffix), expected, suffix)

    def test_tracked_changes_are_taken_as_the_person_made_them(self):
        data = documents.write("docx", moor(), SOURCE)
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
            for part in old.infolist():
                content = old.read(part)
                if part.filename == "word/document.xml":
                    content, count = re.subn(
                        rb"<w:r>(?:<w:rPr/>)?<w:t>What did the moor look like\?</w:t></w:r>",
                        b'<w:ins w:id="1" w:author="A"><w:r><w:t>So w</w:t></w:r></w:ins>'
                        b'<w:del w:id="2" w:author="A"><w:r><w:delText>W</w:delText></w:r></w:del>'
                        b"<w:r><w:t>hat did the moor look like?</w:t></w:r>",
                        content,
                    )
                    self.assertEqual(count, 1)
                new.writestr(part, content)
        said = self.parts(out.getvalue(), "docx")[0][1]
        self.assertEqual(said, "So what did the moor look like?")

    def test_moved_text_boxes_and_ruby_are_where_they_belong_once(self):
        moved = (
            '<w:moveFrom w:id="1" w:author="A"><w:r><w:t>gone </w:t></w:r></w:moveFrom>'
            "<w:r><w:t>well</w:t><w:noBreakHyphen/><w:t>known</w:t><w:cr/><w:t>mire</w:t></w:r>"
            '<w:moveTo w:id="2" w:author="A"><w:r><w:t> moved</w:t></w:r></w:moveTo>'
        )
        box = "<w:txbxContent><w:p><w:r><w:t>A remark.</w:t></w:r></w:p></w:txbxContent>"
        also = "http://schemas.openxmlformats.org/markup-compatibility/2006"
        boxed = (
            f'<w:r><mc:AlternateContent xmlns:mc="{also}"><mc:Choice>{box}</mc:Choice>'
            f"<mc:Fallback>{box}</mc:Fallback></mc:AlternateContent></w:r>"
        )
        document = Document()
        document.add_paragraph("HERE")
        out = io.BytesIO()
        document.save(out)
        data = rewritten(
            out.getvalue(), "word/document.xml", r"<w:r><w:t>HERE</w:t></w:r>", moved + boxed
        )
        said = [text for _, text in self.parts(data, "docx")]
        self.assertEqual(said, ["well-known mire moved", "A remark."])
        data = documents.write("odt", moor(), SOURCE)
        ruby = (
            "<text:ruby><text:ruby-base>Moor</text:ruby-base>"
            "<text:ruby-text>mire</text:ruby-text></text:ruby> "
        )
        data = rewritten(data, "content.xml", "What did", f"{ruby}What did")
        self.assertEqual(self.parts(data, "odt")[0][1], "Moor What did the moor look like?")

    def test_a_document_without_our_styles_is_read_as_text(self):
        document = Document()
        for line in ("Interviewer: What did it look like?", "Warden: Dry."):
            document.add_paragraph(line)
        out = io.BytesIO()
        document.save(out)
        expected = [("Interviewer", "What did it look like?"), ("Warden", "Dry.")]
        self.assertEqual(self.parts(out.getvalue(), "docx"), expected)

    def test_what_is_damaged_is_told(self):
        good = documents.write("odt", moor(), SOURCE)
        for data in (b"", b"nothing", good[:200], good[:-200]):
            with self.assertRaises(FormatError):
                read_parts(data, "odt", ())

    @unittest.skipUnless(SOFFICE, "no LibreOffice is installed here")
    def test_a_document_that_a_word_processor_has_written_anew_is_read_the_same(self):
        for suffix in ("docx", "odt"):
            path = self.folder / f"moor.{suffix}"
            path.write_bytes(documents.write(suffix, headed(), SOURCE, STAMPED))
            before = self.parts(path.read_bytes(), suffix)
            for other in ("odt", "docx"):
                out = self.folder / f"{suffix} as {other}"
                subprocess.run(
                    [SOFFICE, "--headless", f"-env:UserInstallation=file://{self.folder}/office",
                     "--convert-to", other, "--outdir", str(out), str(path)],
                    check=True, capture_output=True, timeout=120,
                )  # fmt: skip
                written = (out / f"moor.{other}").read_bytes()
                self.assertEqual(self.parts(written, other), before, f"{suffix} as {other}")
