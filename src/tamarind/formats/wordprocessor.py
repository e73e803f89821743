"""Transcripts for word processors (.docx), through python-docx."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from tamarind.formats.facts import facts_of, in_words
from tamarind.formats.paragraphs import Paragraph, paragraphs, side_by_side
from tamarind.formats.reading import Reading
from tamarind.transcript.direction import is_right_to_left
from tamarind.transcript.model import Transcript

_DATE = (1980, 1, 1, 0, 0, 0)
"""Of all parts of the file, so that the same text makes the same bytes."""

LONGEST_PROPERTY = 255
"""Letters that a property of a document may have."""

_GREY, _BARK = "6F655C", "5B3A29"


def write(transcript: Transcript, reading: Reading) -> bytes:
    """A document with the title as heading, facts, and paragraphs, speakers in bold.

    With translations each paragraph is a row of a table, a column a language.
    """
    from docx import Document
    from docx.shared import Pt, RGBColor

    found = paragraphs(transcript, reading.options)
    document = Document()
    normal = document.styles["Normal"]
    normal.font.name, normal.font.size = "Georgia", Pt(11)
    normal.paragraph_format.space_after = Pt(8)
    normal.paragraph_format.line_spacing = 1.25
    heading = document.styles["Heading 1"]
    heading.font.name, heading.font.size = "Georgia", Pt(18)
    heading.font.color.rgb = RGBColor.from_string(_BARK)
    # The template's theme would count more than the font's name.
    fonts = heading.element.rPr.rFonts
    for name in [name for name in fonts.attrib if name.endswith("Theme")]:
        del fonts.attrib[name]
    document.add_heading(_legal(reading.title), 1)
    line = document.add_paragraph()
    _grey(line.add_run(_legal(in_words(facts_of(transcript, reading.duration)))))
    if reading.translations:
        _side_by_side(document, transcript.language, found, reading)
    else:
        for paragraph in found:
            _fill(document.add_paragraph(), paragraph)
    properties = document.core_properties
    properties.title = _legal(reading.title)[:LONGEST_PROPERTY]
    properties.language = _legal(transcript.language)[:LONGEST_PROPERTY]
    properties.author, properties.comments = "", ""
    properties.created = properties.modified = datetime(1980, 1, 1)
    out = io.BytesIO()
    document.save(out)
    return _same_each_time(out.getvalue())


def _fill(line: Any, paragraph: Paragraph) -> None:
    if paragraph.stamp:
        _grey(line.add_run(f"{paragraph.stamp} "))
    if paragraph.label:
        line.add_run(_legal(f"{paragraph.label} ")).bold = True
    for text, looks in paragraph.pieces:
        run = line.add_run(_legal(text))
        run.italic = "i" in looks or None
        run.bold = "b" in looks or None
        run.underline = "u" in looks or None
    _set_direction(line, "".join(text for text, _ in paragraph.pieces))


def _set_direction(line: Any, text: str) -> None:
    """Let a paragraph whose text runs to the left do so, from the right edge."""
    if not is_right_to_left(text):
        return
    from docx.oxml import OxmlElement

    # Its place among the properties of a paragraph is fixed by the schema.
    properties = line._p.get_or_add_pPr()
    properties.insert_element_before(
        OxmlElement("w:bidi"),
        "w:adjustRightInd", "w:snapToGrid", "w:spacing", "w:ind", "w:contextualSpacing",
        "w:mirrorIndents", "w:suppressOverlap", "w:jc", "w:textDirection", "w:textAlignment",
        "w:textboxTightWrap", "w:outlineLvl", "w:divId", "w:cnfStyle", "w:rPr", "w:sectPr",
        "w:pPrChange",
    )  # fmt: skip
    for run in line.runs:
        run.font.rtl = True


def _side_by_side(
    document: Any,
    language: str,
    found: Sequence[Paragraph],
    reading: Reading,
) -> None:
    table = document.add_table(rows=1, cols=1 + len(reading.translations))
    for cell, tag in zip(table.rows[0].cells, (language, *reading.translations), strict=True):
        cell.paragraphs[0].add_run(_legal(reading.name_of(tag))).bold = True
    for paragraph, others in zip(found, side_by_side(found, reading.translations), strict=True):
        cells = table.add_row().cells
        _fill(cells[0].paragraphs[0], paragraph)
        for cell, text in zip(cells[1:], others.values(), strict=True):
            cell.paragraphs[0].add_run(_legal(text))
            _set_direction(cell.paragraphs[0], text)


def _grey(run: Any) -> None:
    from docx.shared import Pt, RGBColor

    run.font.size = Pt(9)
    run.font.color.rgb = RGBColor.from_string(_GREY)


def _legal(text: str) -> str:
    """Without the characters that XML cannot hold."""
    return "".join(
        letter
        for letter in text
        if letter in "\t\n"
        or " " <= letter <= "\ud7ff"
        or "\ue000" <= letter <= "\ufffd"
        or letter > "\uffff"
    )


def _same_each_time(data: bytes) -> bytes:
    out = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(data)) as old,
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new,
    ):
        for part in old.infolist():
            info = zipfile.ZipInfo(part.filename, _DATE)
            info.compress_type = zipfile.ZIP_DEFLATED
            new.writestr(info, old.read(part))
    return out.getvalue()
