"""Write transcripts for word processors (.docx), through python-docx."""

from __future__ import annotations

import io
import warnings
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import Any

from tamarind.formats.facts import facts_of, in_words
from tamarind.formats.format import DocumentKind, Format, FormatOption
from tamarind.formats.reading.office import (
    BODY_STYLE,
    CONTENTS,
    FACE,
    FACTS,
    FRONT,
    GREY,
    HEADING,
    NOTE,
    SPEAKER,
    STAMP,
    TITLE,
    day_of,
    legal,
    same_each_time,
)
from tamarind.formats.reading.officescript import reader_of
from tamarind.formats.reading.paragraphs import Paragraph, StampPlace, paragraphs, side_by_side
from tamarind.formats.reading.parts import MARGIN, NARROW, Reading, front_of, reading_of
from tamarind.formats.reading.template import BODY, filled, has_places, opened, template_for
from tamarind.formats.spans import STAMP_LOOK
from tamarind.formats.timecode import clock
from tamarind.transcript.direction import is_right_to_left
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript

LONGEST_PROPERTY = 255
"""Letters that a property of a document may have."""

AFTER_DIRECTION = (
    "w:adjustRightInd", "w:snapToGrid", "w:spacing", "w:ind", "w:contextualSpacing",
    "w:mirrorIndents", "w:suppressOverlap", "w:jc", "w:textDirection", "w:textAlignment",
    "w:textboxTightWrap", "w:outlineLvl", "w:divId", "w:cnfStyle", "w:rPr", "w:sectPr",
    "w:pPrChange",
)  # fmt: skip
AFTER_LINE_NUMBERS = (
    "w:pBdr", "w:shd", "w:tabs", "w:suppressAutoHyphens", "w:kinsoku", "w:wordWrap",
    "w:overflowPunct", "w:topLinePunct", "w:autoSpaceDE", "w:autoSpaceDN", "w:bidi",
    *AFTER_DIRECTION,
)  # fmt: skip
"""What comes behind them among the properties of a paragraph, in the order of the schema."""

_BARK = "5B3A29"
_PROGRAM = (
    '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Properties xmlns='
    '"http://schemas.openxmlformats.org/officeDocument/2006/extended-properties">'
    "<Application>Tamarind</Application></Properties>"
)


def write(transcript: Transcript, reading: Reading) -> bytes:
    """Write a title, facts, and paragraphs under speakers' names.

    All looks come from styles, pages have a head and numbers. In a table, or with translations,
    each paragraph is a row, a column a language.
    """
    from docx import Document

    found = paragraphs(transcript, reading.options)
    template = template_for(reading.templates, "docx")
    facts = in_words(facts_of(transcript, reading.duration))
    document = Document() if template is None else opened(template, Document)
    marker = _fill_places(document, reading.values(facts)) if template is not None else None

    def add() -> Any:
        return document.add_paragraph() if marker is None else marker.insert_paragraph_before()

    if template is None:
        _set_paper(document.sections[0], reading)
    _make_styles(document, reading.language_of(transcript), reading.margin, template is not None)
    if reading.numbered:
        _number_lines(document.sections)
    front = [(text, FRONT) for text in front_of(transcript, reading)]
    if template is None:
        _set_page(document.sections[0], reading)
        front = [(reading.title, TITLE), (facts, FACTS), *front]
    for text, style in front:
        _line(add, text, style)
    headings = [paragraph for paragraph in found if paragraph.heading]
    if len(headings) > 1:
        _contents(add, headings)
    if reading.is_table:
        table = _table(document, transcript.language, found, reading)
        if marker is not None:
            marker._p.addprevious(table._tbl)
    else:
        for paragraph in found:
            _fill(add, paragraph, reading.options.stamp_place)
    if reading.closing:
        _line(add, reading.closing, NOTE)
    if reading.options.page_lines and template is None:
        _rule_pages(document, reading.options.page_lines)
    if marker is not None:
        marker._p.getparent().remove(marker._p)
    for number, line in enumerate(_headed(document), 1):
        _bookmark(line, f"part-{number}", number)
    return _saved(transcript, reading, document)


def _line(add: Callable[[], Any], text: str, style: str) -> None:
    """Add a line in a style."""
    line = add()
    line.style = style
    line.add_run(legal(text))


def _saved(transcript: Transcript, reading: Reading, document: Any) -> bytes:
    """Fill in the properties, and return the bytes of the document."""
    properties = document.core_properties
    properties.title = legal(reading.title)[:LONGEST_PROPERTY]
    properties.subject = legal(reading.client)[:LONGEST_PROPERTY]
    properties.category = "Transcript"
    properties.language = legal(reading.language_of(transcript))[:LONGEST_PROPERTY]
    properties.author = legal(reading.author)[:LONGEST_PROPERTY]
    properties.comments, properties.keywords = "", ""
    properties.last_modified_by, properties.revision = "", 1
    if template_for(reading.templates, "docx") is None:
        _make_ours(document)
    properties.created = properties.modified = day_of(reading.date)
    out = io.BytesIO()
    with warnings.catch_warnings():
        # Programs differ in where they say what a document is about: it is written twice then.
        warnings.filterwarnings("ignore", "Duplicate name", UserWarning)
        document.save(out)
    return same_each_time(out.getvalue())


def _fill_places(document: Any, values: Mapping[str, str]) -> Any:
    """Fill in the places of a template, and return the paragraph where the text goes."""
    body = None
    for line in _lines_of(document):
        text = line.text
        if text.strip() == BODY:
            body = line if body is None else body
        elif has_places(text, values):
            apart = [legal(filled(run.text, values)) for run in line.runs]
            whole = legal(filled(text, values))
            if "".join(apart) != whole:
                # A place is parted into runs: it all looks as it begins.
                apart = [whole, *("" for _ in line.runs[1:])]
            for run, part in zip(line.runs, apart, strict=True):
                if run.text != part:
                    run.text = part
    return body


def _lines_of(document: Any) -> Iterator[Any]:
    """Yield all paragraphs: of the text, of cells, of headers and footers."""

    def within(part: Any) -> Iterator[Any]:
        yield from part.paragraphs
        for table in part.tables:
            for row in table.rows:
                for cell in row.cells:
                    yield from within(cell)

    yield from within(document)
    for section in document.sections:
        for part in (
            section.header, section.footer, section.first_page_header, section.first_page_footer,
            section.even_page_header, section.even_page_footer,
        ):  # fmt: skip
            if not part.is_linked_to_previous:
                yield from within(part)


def _number_lines(sections: Any) -> None:
    """Number the lines, from 1 on each page."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    for section in sections:
        numbers = OxmlElement("w:lnNumType")
        numbers.set(qn("w:countBy"), "1")
        numbers.set(qn("w:restart"), "newPage")
        # Its place among the properties of a section is fixed by the schema.
        section._sectPr.insert_element_before(
            numbers, "w:pgNumType", "w:cols", "w:formProt", "w:vAlign", "w:noEndnote",
            "w:titlePg", "w:textDirection", "w:bidi", "w:rtlGutter", "w:docGrid",
        )  # fmt: skip


def _contents(add: Callable[[], Any], headings: Sequence[Paragraph]) -> None:
    """Add links to the headings, with their times."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    for number, paragraph in enumerate(headings, 1):
        line = add()
        line.style = CONTENTS
        link = OxmlElement("w:hyperlink")
        link.set(qn("w:anchor"), f"part-{number}")
        run = line.add_run(legal(paragraph.heading))
        run.add_tab()
        run.add_text(clock(paragraph.start, 0))
        link.append(run._r)
        line._p.append(link)


def _headed(document: Any) -> Iterator[Any]:
    """Return the headings in order, also in cells."""
    from docx.oxml.ns import qn
    from docx.text.paragraph import Paragraph as Line

    for element in document.element.body.iter(qn("w:p")):
        line = Line(element, document)
        if line.style is not None and line.style.name == HEADING:
            yield line


def _bookmark(line: Any, name: str, number: int) -> None:
    """Add a bookmark for links."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    begin, end = OxmlElement("w:bookmarkStart"), OxmlElement("w:bookmarkEnd")
    for mark in (begin, end):
        mark.set(qn("w:id"), str(number))
    begin.set(qn("w:name"), name)
    line._p.insert(1 if line._p.pPr is not None else 0, begin)
    line._p.append(end)


def _make_ours(document: Any) -> None:
    """Take away what the library's own template says of itself: its program, its picture."""
    package = document.part.package
    for key, relation in list(package.rels.items()):
        if relation.reltype.endswith("/thumbnail"):
            del package.rels[key]
        elif relation.reltype.endswith("/extended-properties"):
            relation.target_part._blob = _PROGRAM.encode()


def _rule_pages(document: Any, lines: int) -> None:
    """Let a page have exactly so many lines: each as high as any other, none kept with another."""
    from docx.enum.text import WD_LINE_SPACING
    from docx.shared import Emu

    section = document.sections[0]
    height = (section.page_height - section.top_margin - section.bottom_margin) / lines
    for style in document.styles:
        if style.name in (TITLE, HEADING, SPEAKER, BODY_STYLE, FRONT, NOTE, CONTENTS, FACTS):
            given = style.paragraph_format
            given.line_spacing_rule, given.line_spacing = WD_LINE_SPACING.EXACTLY, Emu(int(height))
            given.space_before = given.space_after = 0
            given.widow_control = given.keep_with_next = False
            if style.name == TITLE:
                style.font.size = document.styles[BODY_STYLE].font.size


def _make_styles(document: Any, language: str, margin: float, within: bool) -> None:
    """Make the transcript's styles, each of which can be changed in one place; text hangs so much
    (``margin``, mm) to the right of what stands before it. ``within`` a client's document its own
    styles stay, and others are based on them."""
    from docx.enum.style import WD_STYLE_TYPE
    from docx.shared import Pt

    styles = document.styles
    known = {style.name for style in styles}
    normal = styles["Normal"] if "Normal" in known else styles.default(WD_STYLE_TYPE.PARAGRAPH)
    _speak(styles, language)
    if not within:
        normal.font.name, normal.font.size = FACE, Pt(11)

    def paragraph(name: str, base: str, size: float, after: float) -> Any | None:
        """Return a style, or None if the document has it."""
        if name in known:
            return None
        style = styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH)
        style.base_style = styles[base] if base in known else normal
        style.quick_style = True
        if within:
            return style
        _set_face(style, size)
        style.paragraph_format.space_before = Pt(0)
        style.paragraph_format.space_after = Pt(after)
        return style

    body = paragraph(BODY_STYLE, "Normal", 11, 8)
    headings = [
        paragraph(TITLE, "Heading 1", 18, 4),
        paragraph(HEADING, "Heading 2", 14, 4),
        # No heading, so that headings alone lead through the document.
        paragraph(SPEAKER, "Normal", 11, 1),
    ]
    _leave_unnumbered(facts := paragraph(FACTS, "Normal", 9, 16))
    contents = paragraph(CONTENTS, "Normal", 11, 2)
    around = paragraph(FRONT, "Normal", 11, 2), paragraph(NOTE, "Normal", 10, 0)
    _hang(body, margin)
    stamp = None if STAMP in known else styles.add_style(STAMP, WD_STYLE_TYPE.CHARACTER)
    if stamp is not None:
        stamp.font.size, stamp.quick_style = Pt(9), True
    for style in filter(None, headings):
        style.next_paragraph_style = styles[BODY_STYLE]
        style.paragraph_format.keep_with_next = True
    if contents is not None:
        _add_dots(contents, document.sections[0])
    if not within:
        _colour(body, headings, (facts, stamp))
        _set_apart(*around)


def _hang(style: Any | None, margin: float) -> None:
    """Let text hang to the right of what stands before its first line (mm)."""
    from docx.shared import Mm

    if style is not None and margin:
        style.paragraph_format.left_indent = Mm(margin)
        style.paragraph_format.first_line_indent = -Mm(margin)


def _set_apart(front: Any | None, note: Any | None) -> None:
    """Give what stands before the text its colour, and room to what stands behind it."""
    from docx.shared import Pt, RGBColor

    if front is not None:
        front.font.color.rgb = RGBColor.from_string(_BARK)
    if note is not None:
        note.paragraph_format.space_before = Pt(24)


def _leave_unnumbered(style: Any | None) -> None:
    """Leave page headers and footers out of line numbering."""
    from docx.oxml import OxmlElement

    if style is None:
        return
    style.element.get_or_add_pPr().insert_element_before(
        OxmlElement("w:suppressLineNumbers"), *AFTER_LINE_NUMBERS
    )


def _speak(styles: Any, language: str) -> None:
    """Set the language of all text."""
    from docx.oxml.ns import qn

    defaults = styles.element.find(qn("w:docDefaults"))
    properties = defaults.find(qn("w:rPrDefault")) if defaults is not None else None
    plain = properties.find(qn("w:rPr")) if properties is not None else None
    if plain is not None:
        for old in plain.findall(qn("w:lang")):
            plain.remove(old)
        _set_language(plain, language)


def _set_face(style: Any, size: float) -> None:
    """Give a style our font, in every script, and a size (points)."""
    from docx.oxml.ns import qn
    from docx.shared import Pt

    style.font.name, style.font.size = FACE, Pt(size)
    # The template's theme would count more than the font's name.
    fonts = style.element.get_or_add_rPr().get_or_add_rFonts()
    for kind in ("w:eastAsia", "w:cs", "w:hAnsi", "w:ascii"):
        fonts.set(qn(kind), FACE)


def _add_dots(style: Any, section: Any) -> None:
    """Lead to a number at the right edge by dots, as in tables of contents."""
    from docx.enum.text import WD_TAB_ALIGNMENT, WD_TAB_LEADER

    right = section.page_width - section.left_margin - section.right_margin
    style.paragraph_format.tab_stops.add_tab_stop(right, WD_TAB_ALIGNMENT.RIGHT, WD_TAB_LEADER.DOTS)


def _colour(body: Any | None, headings: Sequence[Any | None], small: Sequence[Any | None]) -> None:
    """Give styles that the document did not have their spacing and colour."""
    from docx.shared import Pt, RGBColor

    if body is not None:
        body.paragraph_format.line_spacing = 1.25
    for style, before in zip(headings, (0, 16, 8), strict=True):
        if style is not None:
            style.paragraph_format.space_before = Pt(before)
            style.font.bold, style.font.color.rgb = True, RGBColor.from_string(_BARK)
    for style in filter(None, small):
        style.font.color.rgb = RGBColor.from_string(GREY)


def _set_paper(section: Any, reading: Reading) -> None:
    """Set page size and margins."""
    from docx.shared import Mm

    section.page_width, section.page_height = Mm(reading.paper.width), Mm(reading.paper.height)
    section.left_margin, section.right_margin = map(Mm, reading.margins)
    section.top_margin = section.bottom_margin = Mm(MARGIN)


def _set_page(section: Any, reading: Reading) -> None:
    """Set the header of every page, and the page number."""
    from docx.enum.text import WD_TAB_ALIGNMENT
    from docx.shared import Mm

    right = section.page_width - section.left_margin - section.right_margin
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
    """Add a number that the word processor fills in."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    field = OxmlElement("w:fldSimple")
    field.set(qn("w:instr"), what)
    run, text = OxmlElement("w:r"), OxmlElement("w:t")
    text.text = "1"
    run.append(text)
    field.append(run)
    line._p.append(field)


def _fill(
    add: Callable[..., Any],
    paragraph: Paragraph,
    place: StampPlace = StampPlace.TEXT,
    line: Any = None,
) -> None:
    """Add a paragraph under its heading and its speaker's name, with its time at ``place``;
    ``line`` is an existing one to use."""
    name = (paragraph.label or "").removesuffix(":")
    for above, style in ((paragraph.heading, HEADING), (name, SPEAKER)):
        if not above:
            continue
        named, line = add() if line is None else line, None
        named.style = style
        named.add_run(legal(above))
        _set_direction(named, above)
    if paragraph.stamp and place is StampPlace.LINE:
        timed, line = add() if line is None else line, None
        timed.style = FRONT
        timed.add_run(paragraph.stamp, style=STAMP)
    line = add() if line is None else line
    line.style = BODY_STYLE
    if place is StampPlace.MARGIN:
        line.add_run(f"{paragraph.stamp or ''}\t", style=STAMP)
    elif paragraph.stamp and place is StampPlace.TEXT:
        line.add_run(f"{paragraph.stamp} ", style=STAMP)
    if paragraph.mark:
        line.add_run(f"{legal(paragraph.mark)}\t", style=STAMP)
    for piece in paragraph.pieces:
        if piece.looks == STAMP_LOOK:
            line.add_run(piece.text, style=STAMP)
            continue
        run = line.add_run(legal(piece.text))
        run.italic = "i" in piece.looks or None
        run.bold = "b" in piece.looks or None
        run.underline = "u" in piece.looks or None
        if piece.language:
            _set_language(run._r.get_or_add_rPr(), piece.language)
    _set_direction(line, paragraph.text)


def _set_language(properties: Any, language: str) -> None:
    """Set the language of text with these properties, whatever its script."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    tag = OxmlElement("w:lang")
    for kind in ("w:val", "w:eastAsia", "w:bidi"):
        tag.set(qn(kind), legal(language))
    properties.append(tag)


def _set_direction(line: Any, text: str) -> None:
    """Set a paragraph to right-to-left if its text is."""
    if not is_right_to_left(text):
        return
    from docx.oxml import OxmlElement

    # Its place among the properties of a paragraph is fixed by the schema.
    properties = line._p.get_or_add_pPr()
    properties.insert_element_before(OxmlElement("w:bidi"), *AFTER_DIRECTION)
    for run in line.runs:
        run.font.rtl = True


def _table(
    document: Any,
    language: str,
    found: Sequence[Paragraph],
    reading: Reading,
) -> Any:
    """Add a table whose header row repeats on every page: time and speaker if they are asked for,
    the text, its translations."""
    from docx.oxml import OxmlElement
    from docx.shared import Mm

    heads = reading.table_heads(language)
    table = document.add_table(rows=1, cols=len(heads))
    table.rows[0]._tr.get_or_add_trPr().append(OxmlElement("w:tblHeader"))
    for cell, head in zip(table.rows[0].cells, heads, strict=True):
        cell.paragraphs[0].add_run(legal(head)).bold = True
    for paragraph, others in zip(found, side_by_side(found, reading.translations), strict=True):
        cells = table.add_row().cells
        if reading.heads:
            for cell, text, style in zip(
                cells,
                ((paragraph.stamp or "").strip("[]"), (paragraph.label or "").rstrip(":")),
                (FRONT, SPEAKER),
                strict=False,
            ):
                cell.paragraphs[0].style = style
                cell.paragraphs[0].add_run(legal(text))
            cells = cells[len(reading.heads) :]
            paragraph = replace(paragraph, stamp=None, label=None)
        _fill(cells[0].add_paragraph, paragraph, line=cells[0].paragraphs[0])
        for cell, text in zip(cells[1:], others.values(), strict=True):
            line = cell.paragraphs[0]
            for _ in filter(None, (paragraph.heading, paragraph.label)):
                # As far down as the text beside it, which has a name above.
                line.style, line.paragraph_format.space_after = FACTS, 0
                line = cell.add_paragraph()
            line.style = BODY_STYLE
            line.add_run(legal(text))
            _set_direction(line, text)
    if reading.heads:
        across = reading.paper.width - sum(reading.margins)
        wide = (across - sum(NARROW)) / (len(heads) - len(NARROW))
        for at, column in enumerate(table.columns):
            width = Mm(NARROW[at] if at < len(NARROW) else wide)
            for cell in column.cells:
                cell.width = width
    return table


FORMAT = Format(
    ("docx",),
    "Word processor",
    DocumentKind.READING,
    read_data=reader_of("docx"),
    write=lambda transcript, source, options: write(transcript, reading_of(source, options)),
    holds=frozenset({Holds.LOOK, Holds.SPEAKER, Holds.LANGUAGE, Holds.HEADING}),
    choices=frozenset({FormatOption.SIDE_BY_SIDE, FormatOption.LINES, FormatOption.TEMPLATE}),
    rank=2,
)
FORMATS = (FORMAT,)
