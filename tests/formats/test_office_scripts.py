"""Texts from word processors as scripts: who speaks, from when, and that nothing is lost in
silence."""

import io
import zipfile

import docx
from odf.opendocument import OpenDocumentText
from odf.table import Table, TableCell, TableRow
from odf.text import H, P

from tamarind.formats import documents
from tamarind.formats.captionfile import FormatError
from tamarind.formats.format import Options, Origin
from tamarind.formats.reading.paragraphs import Stamps, TextOptions
from tests.support import FolderTest, moor

TALK = (
    "Interview at the moor",
    "[00:00:05] Warden: We blocked the drains.",
    "Keir: And then?\nWarden: Then it rained. (00:01:10) It rained all May.",
    "No label here.",
    "Keir (00:02:00): Thank you.",
)
TABLE = (
    ("No.", "Time", "Speaker", "Text", "Remark"),
    ("1", "00:00:05", "Warden", "We blocked the drains.", ""),
    ("2", "00:00:09 - 00:00:12", "Keir", "And then?", "laughs"),
    ("3", "00:00:13", "Warden", "Then it rained: all May.", ""),
)


class OfficeScripts(FolderTest):
    def read(self, name, language=None):
        return documents.read(self.folder / name, language)

    def docx(self, build, name="talk.docx"):
        document = docx.Document()
        build(document)
        document.save(str(self.folder / name))
        return self.read(name)

    def odt(self, *parts):
        document = OpenDocumentText()
        for part in parts:
            document.text.addElement(part)
        document.save(str(self.folder / "talk.odt"))
        return self.read("talk.odt")

    def told(self, read):
        """Return each cue's speaker, start in seconds where it is known, and text."""
        text = read.transcript
        names = {one.id: one.name for one in text.speakers}
        return [(names.get(cue.speaker), cue.text) for cue in text.cues]

    def starts(self, read):
        return [cue.start for cue in read.transcript.cues]

    def assert_talk(self, read):
        self.assertEqual(
            self.told(read),
            [
                ("Warden", "We blocked the drains."),
                ("Keir", "And then?"),
                ("Warden", "Then it rained."),
                ("Warden", "It rained all May."),
                (None, "No label here."),
                ("Keir", "Thank you."),
            ],
        )
        starts = self.starts(read)
        self.assertEqual([starts[at] for at in (0, 3, 5)], [5_000, 70_000, 120_000])
        opens = [cue.opens_paragraph for cue in read.transcript.cues]
        self.assertEqual(opens, [True, True, True, False, True, True])

    def test_labels_stamps_and_line_breaks(self):
        def build(document):
            document.add_heading(TALK[0], 1)
            for line in TALK[1:]:
                document.add_paragraph(line)

        read = self.docx(build)
        self.assert_talk(read)
        self.assertEqual(read.transcript.language, "en")
        self.assertIn("“Interview at the moor”", " ".join(read.repairs))
        lines = [P(text=one) for line in TALK[1:] for one in line.split("\n")]
        self.assert_talk(
            self.odt(H(outlinelevel=1, text=TALK[0], stylename="Heading_20_1"), *lines)
        )

    def test_plain_text_on_consecutive_lines(self):
        (self.folder / "talk.txt").write_text("\n".join(TALK[1:]))
        read = self.read("talk.txt")
        texts = [text for _, text in self.told(read)]
        self.assertEqual(
            texts,
            [
                "We blocked the drains.", "And then?", "Then it rained.",
                "It rained all May. No label here.", "Thank you.",
            ],
        )  # fmt: skip

    def test_labels_in_scripts_without_capitals(self):
        for lines, names in (
            (("管理员：堵住。", "记者：然后？", "管理员：雨。", "记者：好。"), {"管理员", "记者"}),
            (("الحارس: أغلقنا الخنادق.", "الحارس: ثم هطل المطر."), {"الحارس"}),
        ):  # fmt: skip
            (self.folder / "talk.txt").write_text("\n\n".join(lines))
            read = self.read("talk.txt").transcript
            self.assertEqual({one.name for one in read.speakers}, names)
            self.assertNotIn("：", " ".join(cue.text for cue in read.cues))

    def test_columns_of_a_table(self):
        def build(document):
            table = document.add_table(len(TABLE), len(TABLE[0]))
            for row, cells in zip(table.rows, TABLE, strict=True):
                for cell, text in zip(row.cells, cells, strict=True):
                    cell.text = text

        def of_odt():
            table = Table()
            for cells in TABLE:
                row = TableRow()
                for text in cells:
                    cell = TableCell()
                    cell.addElement(P(text=text))
                    row.addElement(cell)
                table.addElement(row)
            return table

        for read in (self.docx(build), self.odt(of_odt())):
            self.assertEqual(
                self.told(read),
                [
                    ("Warden", "We blocked the drains."),
                    ("Keir", "And then?"),
                    ("Warden", "Then it rained: all May."),
                ],
            )
            self.assertEqual(self.starts(read), [5_000, 9_000, 13_000])
            self.assertIn("Columns of a table were left out: “Remark”", " ".join(read.repairs))

    def test_names_alone_on_a_line_and_in_a_style(self):
        def build(document):
            for line in ("WARDEN", "We dug.", "KEIR", "Why?", "WARDEN", "To drain it."):
                document.add_paragraph(line)

        self.assertEqual(
            self.told(self.docx(build)),
            [("WARDEN", "We dug."), ("KEIR", "Why?"), ("WARDEN", "To drain it.")],
        )

        def styled(document):
            document.styles.add_style("Speaker name", 1)
            document.add_paragraph("Dr. Ada Penhallow-Birch of the Trust", "Speaker name")
            document.add_paragraph("We dug.")

        self.assertEqual(
            self.told(self.docx(styled)), [("Dr. Ada Penhallow-Birch of the Trust", "We dug.")]
        )

        def stamped(document):
            for line in ("Warden 00:00:04", "We dug.", "Keir 00:00:09", "Why?", "Warden  00:00:11",
                         "To drain it."):  # fmt: skip
                document.add_paragraph(line)
            document.add_paragraph("Keir 00:00:20")
            document.add_paragraph("I see.")

        read = self.docx(stamped)
        self.assertEqual(self.starts(read), [4_000, 9_000, 11_000, 20_000])
        self.assertEqual(self.told(read)[2], ("Warden", "To drain it."))

    def test_what_was_written_here_comes_back(self):
        text = moor()
        options = Options(TextOptions(stamps=Stamps.PARAGRAPHS))
        for suffix in ("docx", "odt"):
            with self.subTest(suffix):
                data = documents.write(suffix, text, Origin("moor", 60_000), options)
                (self.folder / f"moor.{suffix}").write_bytes(data)
                read = self.read(f"moor.{suffix}", "en").transcript
                said = " ".join(cue.text for cue in read.cues)
                self.assertEqual(said.split(), " ".join(cue.text for cue in text.cues).split())
                self.assertEqual(
                    {one.name for one in read.speakers}, {one.name for one in text.speakers}
                )

    def test_what_is_damaged_empty_or_too_large_is_told(self):
        (self.folder / "bad.docx").write_bytes(b"PK nothing")
        with self.assertRaises(FormatError):
            self.read("bad.docx")
        with self.assertRaisesRegex(FormatError, "holds no text"):
            self.docx(lambda document: None)
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as file:
            file.writestr("word/document.xml", bytes(40 << 20))
        (self.folder / "bomb.docx").write_bytes(packed.getvalue())
        with self.assertRaises(FormatError):
            self.read("bomb.docx")
