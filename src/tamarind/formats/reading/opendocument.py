"""Write transcripts as OpenDocument text (.odt), through odfpy."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator, Sequence
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

_BARK = "#5b3a29"
_LOOKS = {
    "i": {"fontstyle": "italic"}, "b": {"fontweight": "bold"},
    "u": {"textunderlinestyle": "solid", "textunderlinewidth": "auto"},
}  # fmt: skip


def write(transcript: Transcript, reading: Reading) -> bytes:
    """Write a title, facts, and paragraphs under speakers' names; in a table, or with
    translations, each paragraph is a row, a column a language."""
    from odf.element import Element
    from odf.namespaces import nsdict
    from odf.opendocument import OpenDocumentText, load

    # The library notes which namespaces it has met, which would make another file of the second.
    Element.namespaces.update(nsdict)
    found = paragraphs(transcript, reading.options)
    template = template_for(reading.templates, "odt")
    document = OpenDocumentText() if template is None else opened(template, load)
    facts = in_words(facts_of(transcript, reading.duration))
    styles = _Styles(document, reading.language_of(transcript), reading)
    marker = None
    if template is None:
        _set_page(document, styles, reading)
    else:
        marker = _fill_places(document, reading.values(facts))
    if reading.numbered:
        _number_lines(document)

    def add(element: Any) -> None:
        if marker is None:
            document.text.addElement(element)
        else:
            marker.parentNode.insertBefore(element, marker)

    if template is None:
        add(styles.heading(reading.title, TITLE, 1))
        add(styles.line(facts, FACTS))
    for text in front_of(transcript, reading):
        add(styles.line(text, FRONT))
    headings = [one for one in found if one.heading]
    if len(headings) > 1:
        for number, one in enumerate(headings, 1):
            add(styles.link(one, number))
    if reading.is_table:
        add(_table(styles, transcript.language, found, reading))
    else:
        for one in found:
            styles.fill(add, one, reading.options.stamp_place)
    if reading.closing:
        add(styles.line(reading.closing, NOTE))
    if marker is not None:
        marker.parentNode.removeChild(marker)
    _describe(document, transcript, reading)
    out = io.BytesIO()
    document.write(out)
    return same_each_time(out.getvalue())


def _fill_places(document: Any, values: dict[str, str]) -> Any:
    """Fill in the places of a template, and return the paragraph where the text goes."""
    from odf import teletype
    from odf.text import H, P

    body = None
    for part in (document.body, document.masterstyles):
        for kind in (P, H):
            for line in part.getElementsByType(kind):
                text = teletype.extractText(line)
                if text.strip() == BODY:
                    body = line if body is None else body
                elif has_places(text, values):
                    _refill(line, legal(filled(text, values)), values)
    return body


def _refill(line: Any, whole: str, values: dict[str, str]) -> None:
    """Fill in the places of a paragraph; a place in several runs takes the format of the first."""
    from odf import teletype
    from odf.element import Text

    pieces: list[Any] = []

    def collect(element: Any) -> None:
        for child in element.childNodes:
            if child.nodeType == Text.nodeType:
                pieces.append(child)
            else:
                collect(child)

    collect(line)
    for piece in pieces:
        piece.data = legal(filled(piece.data, values))
    if teletype.extractText(line) != whole and pieces:
        pieces[0].data = whole
        for piece in pieces[1:]:
            piece.data = ""


class _Styles:
    """The transcript's styles in a document, which keeps its own, and elements made with them."""

    def __init__(self, document: Any, language: str, reading: Reading) -> None:
        self._document, self._reading = document, reading
        self._language = language
        self._looks: dict[tuple[tuple[str, ...], str], str] = {}
        self._directed: dict[str, str] = {}
        self._number = 0
        self._make_styles(reading.paper.width - sum(reading.margins))

    def _make_styles(self, across: float) -> None:
        """Add the transcript's styles, except those that the document has."""
        from odf.style import DefaultStyle, Style, TextProperties

        document, language = self._document, self._language
        tag = language.split("-")
        spoken: dict[str, str] = {"language": tag[0] or "none"}
        spoken["country"] = tag[-1] if len(tag) > 1 and len(tag[-1]) == 2 else "none"
        known = {
            style.getAttribute("displayname") or style.getAttribute("name")
            for style in document.styles.getElementsByType(Style)
        }
        if not known:
            plain = DefaultStyle(family="paragraph")
            plain.addElement(TextProperties(fontfamily=FACE, fontsize="11pt", **spoken))
            document.styles.addElement(plain)

        lines = self._reading.options.page_lines
        height = (self._reading.paper.height - 2 * MARGIN) / lines if lines else 0.0
        ruled = {"margintop": "0mm", "marginbottom": "0mm", "lineheight": f"{height:.2f}mm",
                 "keepwithnext": "auto", "orphans": "0", "widows": "0"}  # fmt: skip

        def paragraph(
            name: str, level: int, text: dict[str, str], room: dict[str, str], tab: str = ""
        ) -> None:
            if lines and template_for(self._reading.templates, "odt") is None:
                room, text = room | ruled, text | {"fontsize": "11pt"}
            if name not in known:
                style = _paragraph_style(name, level, room, tab, across)
                style.addElement(TextProperties(**spoken, **text))
                document.styles.addElement(style)

        for name, level, text, room, tab in self._looks_of_styles():
            paragraph(name, level, text, room, tab)
        if STAMP not in known:
            stamp = Style(name=_code(STAMP), displayname=STAMP, family="text")
            stamp.addElement(TextProperties(fontsize="9pt", color=f"#{GREY}"))
            document.styles.addElement(stamp)

    def _looks_of_styles(self) -> Iterator[tuple[str, int, dict[str, str], dict[str, str], str]]:
        """Yield name, outline level (0: none), properties of text and paragraph, and the leader
        of a tab of each paragraph style."""
        bold = {"fontweight": "bold", "color": _BARK}
        kept = {"keepwithnext": "always"}
        body = {"marginbottom": "8pt", "lineheight": "125%"}
        if self._reading.margin:
            body["marginleft"] = f"{self._reading.margin}mm"
            body["textindent"] = f"-{self._reading.margin}mm"
        yield BODY_STYLE, 0, {}, body, ""
        yield TITLE, 1, {"fontsize": "18pt", **bold}, {"marginbottom": "4pt", **kept}, ""
        above = {"margintop": "16pt", "marginbottom": "4pt", **kept}
        yield HEADING, 2, {"fontsize": "14pt", **bold}, above, ""
        # No heading, so that headings alone lead through the document.
        above = {"margintop": "8pt", "marginbottom": "1pt", **kept}
        yield SPEAKER, 0, {"fontsize": "11pt", **bold}, above, ""
        # What stands at the head and foot of pages is no line of the text.
        unnumbered = {"marginbottom": "16pt", "numberlines": "false"}
        yield FACTS, 0, {"fontsize": "9pt", "color": f"#{GREY}"}, unnumbered, "none"
        yield CONTENTS, 0, {}, {"marginbottom": "2pt"}, "dotted"
        yield FRONT, 0, {"color": _BARK}, {"marginbottom": "2pt"}, ""
        yield NOTE, 0, {"fontsize": "10pt"}, {"margintop": "24pt"}, ""

    def add(self, style: Any) -> None:
        """Add an automatic style for this document."""
        self._document.automaticstyles.addElement(style)

    def line(self, text: str, style: str) -> Any:
        """Make a paragraph in a style."""
        from odf.text import P

        return P(stylename=self._style(style, text), text=legal(text))

    def heading(self, text: str, style: str, level: int) -> Any:
        """Make a heading in a style."""
        from odf.text import H

        return H(outlinelevel=level, stylename=self._style(style, text), text=legal(text))

    def link(self, paragraph: Paragraph, number: int) -> Any:
        """Return a link to a heading, with its time."""
        from odf.text import A, P, Tab

        line = P(stylename=_code(CONTENTS))
        line.addElement(A(href=f"#part-{number}", type="simple", text=legal(paragraph.heading)))
        line.addElement(Tab())
        line.addText(clock(paragraph.start, 0))
        return line

    def fill(
        self,
        add: Callable[[Any], None],
        paragraph: Paragraph,
        place: StampPlace = StampPlace.TEXT,
    ) -> None:
        """Add a paragraph, under its heading and its speaker's name, with its time at ``place``."""
        from odf.text import Bookmark, P, Span, Tab

        if paragraph.heading:
            headed = self.heading("", HEADING, 2)
            self._number += 1
            headed.addElement(Bookmark(name=f"part-{self._number}"))
            headed.addText(legal(paragraph.heading))
            add(headed)
        name = (paragraph.label or "").removesuffix(":")
        if name:
            add(self.line(name, SPEAKER))
        if paragraph.stamp and place is StampPlace.LINE:
            timed = P(stylename=_code(FRONT))
            timed.addElement(Span(stylename=_code(STAMP), text=paragraph.stamp))
            add(timed)
        line = P(stylename=self._style(BODY_STYLE, paragraph.text))
        if place is StampPlace.MARGIN:
            line.addElement(Span(stylename=_code(STAMP), text=paragraph.stamp or ""))
            line.addElement(Tab())
        elif paragraph.stamp and place is StampPlace.TEXT:
            line.addElement(Span(stylename=_code(STAMP), text=f"{paragraph.stamp} "))
        if paragraph.mark:
            line.addElement(Span(stylename=_code(STAMP), text=legal(paragraph.mark)))
            line.addElement(Tab())
        for piece in paragraph.pieces:
            if piece.looks == STAMP_LOOK:
                # A space at an edge of a span is kept only by an element of its own.
                line.addText(" " * piece.text.startswith(" "))
                line.addElement(Span(stylename=_code(STAMP), text=piece.text.strip()))
                continue
            style = self._look(tuple(piece.looks), piece.language)
            if style:
                line.addElement(Span(stylename=style, text=legal(piece.text)))
            else:
                line.addText(legal(piece.text))
        add(line)

    def _style(self, name: str, text: str) -> str:
        """Return a style, or its twin for right-to-left text."""
        from odf.style import ParagraphProperties, Style

        if not is_right_to_left(text):
            return _code(name)
        if name not in self._directed:
            made = Style(name=f"R{len(self._directed)}", family="paragraph",
                         parentstylename=_code(name))  # fmt: skip
            made.addElement(ParagraphProperties(writingmode="rl-tb", textalign="start"))
            self.add(made)
            self._directed[name] = made.getAttribute("name")
        return self._directed[name]

    def _look(self, looks: tuple[str, ...], language: str) -> str:
        """Return the style of a run of words; "" for one without formats."""
        from odf.style import Style, TextProperties

        looks = tuple(look for look in looks if look in _LOOKS)
        key = looks, language
        if not looks and not language:
            return ""
        if key not in self._looks:
            properties: dict[str, str] = {}
            for look in looks:
                properties |= _LOOKS[look]
            if language:
                tag = language.split("-")
                properties["language"] = tag[0]
                properties["country"] = tag[-1] if len(tag) > 1 and len(tag[-1]) == 2 else "none"
            made = Style(name=f"L{len(self._looks)}", family="text")
            made.addElement(TextProperties(**properties))
            self.add(made)
            self._looks[key] = made.getAttribute("name")
        return self._looks[key]


def _set_page(document: Any, styles: _Styles, reading: Reading) -> None:
    """Set paper size, page header and page number."""
    from odf.style import (
        Footer,
        FooterStyle,
        Header,
        HeaderFooterProperties,
        HeaderStyle,
        MasterPage,
        PageLayout,
        PageLayoutProperties,
    )
    from odf.text import PageCount, PageNumber, Tab

    left, right = reading.margins
    layout = PageLayout(name="Page")
    layout.addElement(
        PageLayoutProperties(
            pagewidth=f"{reading.paper.width}mm",
            pageheight=f"{reading.paper.height}mm",
            marginleft=f"{left}mm",
            marginright=f"{right}mm",
            margintop=f"{MARGIN / 2}mm",
            marginbottom=f"{MARGIN / 2}mm",
            printorientation="portrait",
        )
    )
    for kind, room in ((HeaderStyle, "marginbottom"), (FooterStyle, "margintop")):
        own = kind()
        own.addElement(HeaderFooterProperties(minheight="8mm", **{room: "6mm"}))
        layout.addElement(own)
    document.automaticstyles.addElement(layout)
    page = MasterPage(name="Standard", pagelayoutname="Page")
    head, foot = Header(), Footer()
    line = styles.line(reading.client or reading.title, FACTS)
    line.addElement(Tab())
    line.addText(reading.date)
    head.addElement(line)
    line = styles.line(reading.title if reading.client else "", FACTS)
    line.addElement(Tab())
    line.addElement(PageNumber(selectpage="current"))
    line.addText(" / ")
    line.addElement(PageCount())
    foot.addElement(line)
    page.addElement(head)
    page.addElement(foot)
    document.masterstyles.addElement(page)


def _number_lines(document: Any) -> None:
    """Number the lines, from 1 on each page."""
    from odf.text import LinenumberingConfiguration

    for old in document.styles.getElementsByType(LinenumberingConfiguration):
        document.styles.removeChild(old)
    document.styles.addElement(
        LinenumberingConfiguration(
            numberlines="true",
            increment="1",
            restartonpage="true",
            numberposition="left",
            offset="6mm",
            numformat="1",
        )
    )


def _table(styles: _Styles, language: str, found: Sequence[Paragraph], reading: Reading) -> Any:
    """Make a table whose header row repeats on every page: time and speaker if they are asked for,
    the text, its translations."""
    from odf.style import Style, TableCellProperties, TableColumnProperties
    from odf.table import Table, TableCell, TableColumn, TableHeaderRows, TableRow

    apart = Style(name="Cell", family="table-cell")
    apart.addElement(TableCellProperties(paddingright="4mm"))
    styles.add(apart)
    table = Table(name="Transcript")
    heads = reading.table_heads(language)
    for number, width in enumerate(NARROW[: len(reading.heads)]):
        column = Style(name=f"Column{number}", family="table-column")
        column.addElement(TableColumnProperties(columnwidth=f"{width}mm"))
        styles.add(column)
        table.addElement(TableColumn(stylename=column))
    table.addElement(TableColumn(numbercolumnsrepeated=len(heads) - len(reading.heads)))
    head, row = TableHeaderRows(), TableRow()
    for text in heads:
        cell = TableCell(stylename=apart)
        cell.addElement(styles.line(text, SPEAKER))
        row.addElement(cell)
    head.addElement(row)
    table.addElement(head)
    for paragraph, others in zip(found, side_by_side(found, reading.translations), strict=True):
        row = TableRow()
        if reading.heads:
            for text, style in (
                ((paragraph.stamp or "").strip("[]"), FRONT),
                ((paragraph.label or "").rstrip(":"), SPEAKER),
            ):
                cell = TableCell(stylename=apart)
                cell.addElement(styles.line(text, style))
                row.addElement(cell)
            paragraph = replace(paragraph, stamp=None, label=None)
        cell = TableCell(stylename=apart)
        styles.fill(cell.addElement, paragraph)
        row.addElement(cell)
        for text in others.values():
            cell = TableCell(stylename=apart)
            for _ in filter(None, (paragraph.heading, paragraph.label)):
                # As far down as the text beside it, which has a name above.
                cell.addElement(styles.line("", SPEAKER))
            cell.addElement(styles.line(text, BODY_STYLE))
            row.addElement(cell)
        table.addElement(row)
    return table


def _describe(document: Any, transcript: Transcript, reading: Reading) -> None:
    """Set title, language and date of the document."""
    from odf.dc import Date, Language, Subject, Title
    from odf.meta import CreationDate, Generator, InitialCreator

    kinds = (Title, Language, Subject, Date, CreationDate, Generator, InitialCreator)
    for kind in kinds:
        for old in document.meta.getElementsByType(kind):
            document.meta.removeChild(old)
    day = day_of(reading.date).isoformat()
    language = reading.language_of(transcript)
    texts = (legal(reading.title), legal(language), legal(reading.client), day, day,
             "Tamarind", legal(reading.author))  # fmt: skip
    for kind, text in zip(kinds, texts, strict=True):
        if text:
            document.meta.addElement(kind(text=text))


def _code(name: str) -> str:
    """Return a style's name as in the file, without spaces."""
    return name.replace(" ", "_20_")


FORMAT = Format(
    ("odt",),
    "OpenDocument",
    DocumentKind.READING,
    read_data=reader_of("odt"),
    write=lambda transcript, source, options: write(transcript, reading_of(source, options)),
    holds=frozenset({Holds.LOOK, Holds.SPEAKER, Holds.LANGUAGE, Holds.HEADING}),
    choices=frozenset({FormatOption.SIDE_BY_SIDE, FormatOption.LINES, FormatOption.TEMPLATE}),
    rank=3,
)
FORMATS = (FORMAT,)


def _paragraph_style(name: str, level: int, room: dict[str, str], tab: str, across: float) -> Any:
    """Make a paragraph style of an outline level (0: none), with a ``tab`` leader before a stop at
    its right (mm)."""
    from odf.style import ParagraphProperties, Style, TabStop, TabStops

    given = {"name": _code(name), "displayname": name, "family": "paragraph"}
    if level:
        given["defaultoutlinelevel"] = str(level)
    style = Style(**given)
    properties = ParagraphProperties(**room)
    if tab:
        stops = TabStops()
        stops.addElement(TabStop(type="right", position=f"{across}mm", leaderstyle=tab,
                                 leadertext="." if tab != "none" else " "))  # fmt: skip
        properties.addElement(stops)
    style.addElement(properties)
    return style
