"""Names and rare words of documents that are handed over, of any kind."""

import io
import unittest
import zipfile

from docx import Document

from tamarind.formats.anydocument import words_of
from tamarind.formats.captionfile import FormatError
from tamarind.language.termfinding import names_in_file_name, terms_in
from tamarind.speech.lexicon import lexicon_of
from tests.support import FolderTest

AGENDA = """Agenda, Callow Moss committee, 3 March
Present: Ishbel Penhallow (chair), Tom Garrick, Dr Anna Voss
1. The Harrow Creek sluices. Penhallow reports on the new dipwells.
2. Penhallow's figures on acrotelm depth. Everyone should read the plans again.
"""
IS_WORD = lexicon_of("en").is_word


def a_page(text):
    """The bytes of a PDF with a line of text."""
    stream = f"BT /F1 12 Tf 20 100 Td ({text}) Tj ET".encode()
    parts = (
        b"<</Type/Catalog/Pages 2 0 R>>", b"<</Type/Pages/Kids[3 0 R]/Count 1>>",
        b"<</Type/Page/Parent 2 0 R/MediaBox[0 0 400 200]/Contents 4 0 R/Resources"
        b"<</Font<</F1 5 0 R>>>>>>",
        b"<</Length %d>>stream\n%s\nendstream" % (len(stream), stream),
        b"<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>",
    )  # fmt: skip
    out, places = b"%PDF-1.4\n", []
    for number, part in enumerate(parts, 1):
        places.append(len(out))
        out += b"%d 0 obj%s endobj\n" % (number, part)
    start = len(out)
    out += b"xref\n0 6\n0000000000 65535 f \n"
    out += b"".join(b"%010d 00000 n \n" % place for place in places)
    return out + b"trailer<</Size 6/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF" % start


def zipped(**parts):
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as file:
        for name, text in parts.items():
            file.writestr(name.replace("__", "/"), text)
    return data.getvalue()


class Terms(unittest.TestCase):
    def test_names_and_rare_words_are_found_and_nothing_else(self):
        found = terms_in(AGENDA, "en", IS_WORD)
        self.assertEqual(found[0], "Penhallow")
        wanted = {
            "Penhallow", "Ishbel Penhallow", "Tom Garrick", "Anna Voss", "Callow Moss",
            "Harrow Creek", "sluices", "dipwells", "acrotelm",
        }  # fmt: skip
        self.assertEqual(set(found), wanted)

    def test_what_is_known_is_not_proposed_again(self):
        found = terms_in(AGENDA, "en", IS_WORD, ["penhallow", "Tom Garrick"])
        self.assertFalse({"Penhallow", "Tom Garrick"} & set(found))

    def test_names_in_a_language_without_a_dictionary(self):
        said = "Gestern traf Frau Schäfer den Bürgermeister Özgür in Königsmoor."
        found = " ".join(terms_in(said, "de"))
        for name in ("Schäfer", "Özgür", "Königsmoor"):
            self.assertIn(name, found)

    def test_a_file_name_has_names(self):
        name = "2026-03-02_Penhallow_interview"
        self.assertEqual(names_in_file_name(name, "en", IS_WORD), ["Penhallow"])
        self.assertEqual(names_in_file_name("Warden interview 02", "en", IS_WORD), [])


class Documents(FolderTest):
    def read(self, name, data):
        (self.folder / name).write_bytes(data)
        return words_of(self.folder / name)

    def test_every_kind_gives_its_words(self):
        document = Document()
        document.add_paragraph("Ishbel Penhallow")
        document.add_table(1, 1).cell(0, 0).text = "Tom Garrick"
        out = io.BytesIO()
        document.save(out)
        self.assertEqual(
            self.read("a.docx", out.getvalue()).split("\n"), ["Ishbel Penhallow", "Tom Garrick"]
        )
        said = "<a:p><a:t>Penhallow &amp; Voss</a:t></a:p>"
        slides = zipped(**{"ppt__slides__slide1.xml": said})
        self.assertIn("Penhallow & Voss", self.read("a.pptx", slides))
        text = zipped(**{"content.xml": "<text:p>Ishbel</text:p><text:p>Tom</text:p>"})
        self.assertEqual(self.read("a.odt", text).split(), ["Ishbel", "Tom"])
        page = b"<p>Voss</p><script>var Penhallow</script><p>Tom"
        self.assertEqual(self.read("a.html", page).split(), ["Voss", "Tom"])
        self.assertIn("Ishbel Penhallow", self.read("a.pdf", a_page("Ishbel Penhallow")))
        self.assertIn("Özgür", self.read("a.csv", "Name;Özgür\n".encode("cp1252")))

    def test_what_cannot_be_read_is_told_in_a_sentence(self):
        bomb = zipped(**{"content.xml": " " * (33 << 20)})
        for name, data in (
            ("a.docx", b"no zip"), ("b.pdf", b"%PDF-1.4 broken"), ("c.odt", zipped(other="x")),
            ("d.odt", bomb), ("e.csv", b" \n"), ("f.pptx", b""),
        ):  # fmt: skip
            with self.subTest(name), self.assertRaises(FormatError) as caught:
                self.read(name, data)
            self.assertTrue(str(caught.exception).endswith("."))
        with self.assertRaises(FormatError):
            words_of(self.folder / "none.pdf")
