"""The quotation sheet in all its kinds."""

import csv
import io
import unittest
from html.parser import HTMLParser

from docx import Document

from tamarind.formats.reading.quotations import (
    UNTAGGED,
    Quotation,
    as_csv,
    as_docx,
    as_html,
    as_text,
    grouped,
)

HOSTILE = '=cmd|"/c calc"!A1 <script>alert(1)</script> \x07&amp; "\'>'
ONE = Quotation("The moss came back.", "Ann", "Interview", begins="00:01:02", ends="00:01:04",
    name="Moss",
                note="use this", tags=("water", "moss"), language="en")  # fmt: skip
TWO = Quotation("It was dry.", "", "Memo", "00:00:02", "00:00:04")
BAD = Quotation(
    HOSTILE,
    HOSTILE,
    HOSTILE,
    begins="00:00:02",
    ends="00:00:04",
    name=HOSTILE,
    note=HOSTILE,
    tags=(HOSTILE,),
)
EVERY = [TWO, ONE, BAD]


class Tags(HTMLParser):
    def __init__(self, page):
        super().__init__()
        self.tags, self.text = [], ""
        self.feed(page)

    def handle_starttag(self, tag, attrs):
        self.tags.append(tag)

    def handle_data(self, data):
        self.text += data


class Sheet(unittest.TestCase):
    def test_quotations_stand_under_each_of_their_tags(self):
        found = [
            (tag, [one.name or one.quote for one in group]) for tag, group in grouped([TWO, ONE])
        ]
        self.assertEqual(
            found, [("water", ["Moss"]), ("moss", ["Moss"]), (UNTAGGED, ["It was dry."])]
        )
        self.assertEqual([tag for tag, _ in grouped([TWO])], [""])

    def test_as_text(self):
        text = as_text("Peatland", [TWO, ONE])
        told = "water\n-----\n\n“The moss came back.”\n    Ann, Interview, 00:01:02–00:01:04"
        self.assertIn(told, text)
        self.assertEqual(text.count("use this"), 2)
        self.assertIn("“It was dry.”\n    Memo, 00:00:02–00:00:04", text)

    def test_a_table_is_inert_and_has_all_columns(self):
        rows = list(csv.DictReader(io.StringIO(as_csv("Peatland", EVERY))))
        self.assertEqual(len(rows), 4)
        self.assertEqual(
            (rows[0]["tag"], rows[0]["speaker"], rows[0]["note"]), ("water", "Ann", "use this")
        )
        self.assertEqual(rows[-1]["tag"], "")
        for row in rows:
            for value in row.values():
                self.assertNotIn(value[:1], ("=", "+", "@"))

    def test_a_page_shows_what_is_written_and_runs_nothing(self):
        read = Tags(as_html(HOSTILE, EVERY))
        self.assertNotIn("script", read.tags)
        self.assertEqual(read.tags.count("blockquote"), 4)
        self.assertIn("<script>alert(1)</script>", read.text)
        self.assertIn('lang="en"', as_html("x", [ONE]))

    def test_a_document_has_styles_of_its_own(self):
        document = Document(io.BytesIO(as_docx(HOSTILE, EVERY)))
        styles = [line.style.name for line in document.paragraphs]
        self.assertEqual(styles[:4], ["Title", "Heading 1", "Quotation", "Quotation Source"])
        self.assertEqual(styles.count("Quotation"), 4)
        self.assertIn("use this", document.paragraphs[3].text)
        self.assertEqual(as_docx("a", EVERY), as_docx("a", EVERY))
