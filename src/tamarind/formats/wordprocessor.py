"""Transcripts for word processors (.docx), through python-docx."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Sequence
from datetime import datetime, time
from typing import Any

from tamarind.formats.facts import facts_of, in_words
from tamarind.formats.format import Choice, Format, Holds, Kind
from tamarind.formats.paragraphs import Paragraph, paragraphs, side_by_side
from tamarind.formats.reading import Reading, reading_of
from tamarind.transcript.direction import is_right_to_left
from tamarind.transcript.model import Transcript

_DATE = (1980, 1, 1, 0, 0, 0)
"""Of all parts of the file, so that the same text makes the same bytes."""

LONGEST_PROPERTY = 255
"""Letters that a property of a document may have."""

TITLE, SPEAKER, BODY = "Transcript Title", "Transcript Speaker", "Transcript Text"
HEADING, FACTS, STAMP = "Transcript Heading", "Transcript Facts", "Time Stamp"
"""The names of the document's own styles."""

FACE = "Georgia"

GREY, _BARK = "6F655C", "5B3A29"


def write(transcript: Transcript, reading: Reading) -> bytes:
    """A document with a title, facts, and paragraphs under the names of who speaks.

    All looks come from styles, names are headings, pages have a head and numbers. With translations
    each paragraph is a row of a table, a column a language.
    """
    from docx import Document

    found = paragraphs(transcript, reading.options)
    document = Document()
    _make_styles(document, transcript.language, any(paragraph.heading for paragraph in found))
    _set_page(document.sections[0], reading)
    document.add_paragraph(legal(reading.title), style=TITLE)
    facts = in_words(facts_of(transcript, reading.duration))
    document.add_paragraph(legal(facts), style=FACTS)
    if reading.translations:
        _side_by_side(document, transcript.language, found, reading)
    else:
        for paragraph in found:
            _fill(document.add_paragraph, paragraph)
    properties = document.core_properties
    properties.title = legal(reading.title)[:LONGEST_PROPERTY]
    properties.subject = legal(reading.client)[:LONGEST_PROPERTY]
    properties.category = "Transcript"
    properties.language = legal(transcript.language)[:LONGEST_PROPERTY]
    properties.author, properties.comments, properties.keywords = "", "", ""
    properties.last_modified_by = ""
    properties.created = properties.modified = _day(reading.date)
    out = io.BytesIO()
    document.save(out)
    return same_each_time(out.getvalue())


def _day(date: str) -> datetime:
    """The order's day, or today: no finer, so that the same text makes the same bytes."""
    try:
        return datetime.fromisoformat(date).replace(hour=12, minute=0, second=0, microsecond=0)
    except ValueError:
        return datetime.combine(datetime.now().date(), time(12))


def _make_styles(document: Any, language: str, has_headings: bool) -> None:
    """Styles of the transcript's own, which can be changed in one place each; names of those who
    speak are headings below the others, if there are any."""
    from docx.enum.style import WD_STYLE_TYPE
    from docx.oxml.ns import qn
    from docx.shared import Pt, RGBColor

    styles = document.styles
    normal = styles["Normal"]
    normal.font.name, normal.font.size = FACE, Pt(11)
    defaults = styles.element.find(qn("w:docDefaults")).find(qn("w:rPrDefault")).find(qn("w:rPr"))
    for old in defaults.findall(qn("w:lang")):
        defaults.remove(old)
    _set_language(defaults, language)

    def paragraph(name: str, base: str, size: float, after: float) -> Any:
        style = styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH)
        style.base_style, style.quick_style = styles[base], True
        style.font.name, style.font.size = FACE, Pt(size)
        # The template's theme would count more than the font's name.
        fonts = style.element.get_or_add_rPr().get_or_add_rFonts()
        for kind in ("w:eastAsia", "w:cs", "w:hAnsi", "w:ascii"):
            fonts.set(qn(kind), FACE)
        style.paragraph_format.space_before = Pt(0)
        style.paragraph_format.space_after = Pt(after)
        return style

    body = paragraph(BODY, "Normal", 11, 8)
    body.paragraph_format.line_spacing = 1.25
    title = paragraph(TITLE, "Heading 1", 18, 4)
    title.next_paragraph_style = body
    heading = paragraph(HEADING, "Heading 2", 14, 4)
    heading.paragraph_format.space_before = Pt(16)
    heading.paragraph_format.keep_with_next = True
    heading.next_paragraph_style = body
    speaker = paragraph(SPEAKER, "Heading 3" if has_headings else "Heading 2", 11, 1)
    speaker.paragraph_format.space_before = Pt(8)
    speaker.paragraph_format.keep_with_next = True
    speaker.next_paragraph_style = body
    for style in (title, heading, speaker):
        style.font.bold, style.font.color.rgb = True, RGBColor.from_string(_BARK)
    facts = paragraph(FACTS, "Normal", 9, 16)
    stamp = styles.add_style(STAMP, WD_STYLE_TYPE.CHARACTER)
    stamp.font.size, stamp.quick_style = Pt(9), True
    for style in (facts, stamp):
        style.font.color.rgb = RGBColor.from_string(GREY)


def _set_page(section: Any, reading: Reading) -> None:
    """Paper, the head of every page, and its number."""
    from docx.enum.text import WD_TAB_ALIGNMENT
    from docx.shared import Mm

    section.page_width, section.page_height = Mm(reading.paper.width), Mm(reading.paper.height)
    margin = Mm(25)
    section.left_margin = section.right_margin = margin
    section.top_margin = section.bottom_margin = margin
    right = section.page_width - 2 * margin
    for part, texts in (
        (section.header, (reading.client or reading.title, reading.date)),
        (section.footer, (reading.title if reading.client else "", None)),
    ):
        line = part.paragraphs[0]
        line.style = FACTS
        line.paragraph_format.space_after = Mm(0)
        line.paragraph_format.tab_stops.add_tab_stop(right, WD_TAB_ALIGNMENT.RIGHT)
        left, other = texts
        line.add_run(legal(left))
        line.add_run("\t")
        if other is None:
            _add_field(line, "PAGE")
            line.add_run(" / ")
            _add_field(line, "NUMPAGES")
        else:
            line.add_run(legal(other))


def _add_field(line: Any, what: str) -> None:
    """A number that the word processor fills in."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    field = OxmlElement("w:fldSimple")
    field.set(qn("w:instr"), what)
    run, text = OxmlElement("w:r"), OxmlElement("w:t")
    text.text = "1"
    run.append(text)
    field.append(run)
    line._p.append(field)


def _fill(add: Callable[..., Any], paragraph: Paragraph, line: Any = None) -> None:
    """A paragraph, under its heading and its speaker's name; ``line`` is one that is there
    already."""
    name = (paragraph.label or "").removesuffix(":")
    for above, style in ((paragraph.heading, HEADING), (name, SPEAKER)):
        if not above:
            continue
        named, line = add() if line is None else line, None
        named.style = style
        named.add_run(legal(above))
        _set_direction(named, above)
    line = add() if line is None else line
    line.style = BODY
    if paragraph.stamp:
        line.add_run(f"{paragraph.stamp} ", style=STAMP)
    for piece in paragraph.pieces:
        run = line.add_run(legal(piece.text))
        run.italic = "i" in piece.looks or None
        run.bold = "b" in piece.looks or None
        run.underline = "u" in piece.looks or None
        if piece.language:
            _set_language(run._r.get_or_add_rPr(), piece.language)
    _set_direction(line, paragraph.text)


def _set_language(properties: Any, language: str) -> None:
    """Let text with these properties be in a language, whatever its script."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    tag = OxmlElement("w:lang")
    for kind in ("w:val", "w:eastAsia", "w:bidi"):
        tag.set(qn(kind), legal(language))
    properties.append(tag)


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
        cell.paragraphs[0].add_run(legal(reading.name_of(tag))).bold = True
    for paragraph, others in zip(found, side_by_side(found, reading.translations), strict=True):
        cells = table.add_row().cells
        _fill(cells[0].add_paragraph, paragraph, cells[0].paragraphs[0])
        for cell, text in zip(cells[1:], others.values(), strict=True):
            line = cell.paragraphs[0]
            for _ in filter(None, (paragraph.heading, paragraph.label)):
                # As far down as the text beside it, which has a name above.
                line.style, line.paragraph_format.space_after = FACTS, 0
                line = cell.add_paragraph()
            line.style = BODY
            line.add_run(legal(text))
            _set_direction(line, text)


def legal(text: str) -> str:
    """Without the characters that XML cannot hold."""
    return "".join(
        letter
        for letter in text
        if letter in "\t\n"
        or " " <= letter <= "\ud7ff"
        or "\ue000" <= letter <= "\ufffd"
        or letter > "\uffff"
    )


def same_each_time(data: bytes) -> bytes:
    """A document with the same day on all parts of its file."""
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


FORMAT = Format(
    ("docx",),
    "Word processor",
    Kind.READING,
    write=lambda transcript, source, options: write(transcript, reading_of(source, options)),
    holds=frozenset({Holds.LOOK, Holds.SPEAKER, Holds.LANGUAGE}),
    choices=frozenset({Choice.SIDE_BY_SIDE}),
)
