"""Read a transcript that comes back from a word processor: its paragraphs and their speakers.

What a paragraph is, its style says: ours keep their names through editing. A document without them
is read as plain text is. Words that a tracked change has taken out are gone, those that it has put
in are there.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from typing import Any

from tamarind.formats.captionfile import FormatError
from tamarind.formats.reading import plaintext
from tamarind.formats.reading.office import (
    BODY_STYLE,
    CONTENTS,
    FACTS,
    FRONT,
    HEADING,
    NOTE,
    SPEAKER,
    STAMP,
    TITLE,
)
from tamarind.formats.zipped import checked
from tamarind.transcript.takeback import Part

Line = tuple[str, str]
"""The name of a paragraph's style, and its text."""

Rows = Sequence[Sequence[str]]
"""A table: the texts of its cells, row by row."""

Tables = Callable[[Rows], Iterator[Line]]
"""What makes lines of a table."""

_LEFT_OUT = frozenset((TITLE, FACTS, FRONT, NOTE, CONTENTS, HEADING))


def read_parts(
    data: bytes, suffix: str, names: Collection[str], headings: Collection[str] = ()
) -> list[Part]:
    """Return the paragraphs of an edited document; ``names`` are the known speakers, ``headings``
    paragraphs to skip. Raises FormatError."""
    lines = [(style, " ".join(text.split())) for style, text in lines_of(data, suffix)]
    if not any(style == BODY_STYLE for style, _ in lines):
        plain = "\n\n".join(text for style, text in lines if text and style not in _LEFT_OUT)
        return plaintext.read_parts(plain, names, headings)
    known = {name.casefold(): name for name in names}
    parts: list[Part] = []
    named: str | None = None
    for style, text in lines:
        if not text or style in _LEFT_OUT:
            continue
        if style == SPEAKER:
            bare = text.strip("[]: ")
            named = known.get(bare.casefold(), bare)
        else:
            parts.append(Part(text, named))
            named = None
    return parts


def lines_of(data: bytes, suffix: str, tables: Tables | None = None) -> list[Line]:
    """Return the paragraphs of a document with the names of their styles. Raises FormatError.

    With ``tables``, which makes lines of all of a table, line breaks, tabs and time stamps stay;
    without, tables are ours, whose first column alone is the text, and stamps are left out.
    """
    checked(data).close()
    try:
        return list(READERS[suffix](data, tables))
    except Exception as error:  # each library has errors of its own, and damaged files find all
        raise FormatError(f"The file cannot be read: it is damaged, or no .{suffix}.") from error


def _of_row(cells: Sequence[Sequence[Line]]) -> Iterator[Line]:
    """Yield the lines of a row of ours: its text is in the first column, or behind those of time
    and speaker; translations stand beside."""
    is_timed = len(cells) > 2 and all(style == FRONT for style, _ in cells[0])
    for cell in cells[1:3] if is_timed else cells[:1]:
        yield from cell


def _docx(data: bytes, tables: Tables | None) -> Iterator[Line]:
    from docx import Document

    document = Document(io.BytesIO(data))
    named = {style.style_id: style.name or "" for style in document.styles}
    yield from _DocxLines(named, tables).within(document.element.body)


class _DocxLines:
    """Reads lines from WordprocessingML; ``named`` are styles' names by their ids."""

    def __init__(self, named: Mapping[str, str], tables: Tables | None) -> None:
        from docx.oxml.ns import qn

        self._named, self._qn, self._tables = named, qn, tables
        broken = "\n" if tables else " "
        self._said = {
            qn("w:tab"): " ",
            qn("w:br"): broken,
            qn("w:cr"): broken,
            qn("w:noBreakHyphen"): "-",
        }
        # A text that was moved stands where it came from too.
        self._gone = {qn("w:moveFrom"), qn("w:del"), _FALLBACK}
        self._box = qn("w:txbxContent")
        self._apart = {*self._gone, self._box, qn("w:pPr"), qn("w:rPr")}
        self._transparent = {
            qn(f"w:{name}") for name in ("sdt", "sdtContent", "ins", "moveTo", "customXml")
        }

    def within(self, part: Any) -> Iterator[Line]:
        """Yield the lines of an element, those of text boxes after the paragraph beside which they
        float."""
        qn = self._qn
        for child in part:
            if child.tag == qn("w:p"):
                style = child.find(qn("w:pPr") + "/" + qn("w:pStyle"))
                name = self._named.get(style.get(qn("w:val")), "") if style is not None else ""
                yield name, self._text_of(child)
                for box in self._boxes_in(child):
                    yield from self.within(box)
            elif child.tag == qn("w:tbl") and self._tables is not None:
                rows = child.findall(qn("w:tr"))
                yield from self._tables([self._cells_in(row) for row in rows])
            elif child.tag == qn("w:tbl"):
                # Translations stand beside the text, which is in the first column.
                for number, row in enumerate(child.findall(qn("w:tr"))):
                    if number:
                        yield from _of_row([list(self.within(c)) for c in row.findall(qn("w:tc"))])
            elif child.tag in self._transparent:
                yield from self.within(child)

    def _cells_in(self, row: Any) -> list[str]:
        cells = row.findall(self._qn("w:tc"))
        return [" ".join(text for _, text in self.within(cell)) for cell in cells]

    def _text_of(self, line: Any) -> str:
        qn = self._qn
        letters = []
        for piece in self._pieces_in(line):
            run = piece.getparent()
            style = run.find(qn("w:rPr") + "/" + qn("w:rStyle")) if run is not None else None
            is_stamp = style is not None and self._named.get(style.get(qn("w:val"))) == STAMP
            if is_stamp and self._tables is None:
                continue
            is_text = piece.tag == qn("w:t")
            letters.append((piece.text or "") if is_text else self._said[piece.tag])
        return "".join(letters)

    def _pieces_in(self, element: Any) -> Iterator[Any]:
        """Yield text and what stands for some, except deleted text and texts of their own."""
        for child in element:
            if child.tag in self._said or child.tag == self._qn("w:t"):
                yield child
            elif child.tag not in self._apart:
                yield from self._pieces_in(child)

    def _boxes_in(self, element: Any) -> Iterator[Any]:
        """Yield the text boxes beside a paragraph, each once."""
        for child in element:
            if child.tag == self._box:
                yield child
            elif child.tag not in self._gone:
                yield from self._boxes_in(child)


def _odt(data: bytes, tables: Tables | None) -> Iterator[Line]:
    from odf.opendocument import load
    from odf.style import Style

    document = load(io.BytesIO(data))
    styles = {}
    for part in (document.styles, document.automaticstyles):
        for style in part.getElementsByType(Style):
            shown = style.getAttribute("displayname") or style.getAttribute("name")
            styles[style.getAttribute("name")] = shown, style.getAttribute("parentstylename")
    yield from _OdtLines(styles, tables).within(document.text)


class _OdtLines:
    """Reads lines from OpenDocument; ``styles`` have their names and parent styles, by their
    codes."""

    def __init__(
        self, styles: Mapping[str | None, tuple[str, str | None]], tables: Tables | None
    ) -> None:
        self._styles, self._tables = styles, tables

    def within(self, element: Any) -> Iterator[Line]:
        """Yield the lines of an element, those of frames after the paragraph beside which they
        float."""
        for child in _elements(element):
            kind = child.qname[1]
            if kind in ("p", "h"):
                yield self._name_of(child.getAttribute("stylename")), self._text_of(child)
                for frame in self._frames_in(child):
                    yield from self.within(frame)
            elif kind == "table" and self._tables is not None:
                yield from self._tables([*self._rows_in(child)])
            elif kind == "table-row":
                cells = [one for one in _elements(child) if one.qname[1] == "table-cell"]
                yield from _of_row([list(self.within(cell)) for cell in cells])
            elif kind not in ("tracked-changes", "table-header-rows"):
                yield from self.within(child)

    def _rows_in(self, table: Any) -> Iterator[list[str]]:
        for child in _elements(table):
            if child.qname[1] == "table-row":
                cells = [one for one in _elements(child) if one.qname[1] == "table-cell"]
                yield [" ".join(text for _, text in self.within(cell)) for cell in cells]
            else:
                yield from self._rows_in(child)

    def _name_of(self, code: str | None) -> str:
        """Return a style's name, or that of the one it was derived from."""
        ours = {BODY_STYLE, SPEAKER, STAMP, *_LEFT_OUT}
        for _ in range(MOST_STYLES):
            shown, parent = self._styles.get(code, ("", None))
            if shown in ours or not parent:
                return shown or str(code or "").replace("_20_", " ")
            code = parent
        return ""

    def _text_of(self, element: Any) -> str:
        letters = []
        for child in element.childNodes:
            kind = child.qname[1] if child.nodeType == child.ELEMENT_NODE else ""
            if child.nodeType == child.TEXT_NODE:
                letters.append(str(child.data))
            elif kind in ("s", "tab", "line-break"):
                is_break = kind == "line-break" and self._tables is not None
                letters.append("\n" if is_break else " ")
            elif (
                self._tables is None
                and kind == "span"
                and self._name_of(child.getAttribute("stylename")) == STAMP
            ):
                continue
            elif kind not in ("note", "annotation", "ruby-text", *_FRAMES):
                letters.append(self._text_of(child))
        return "".join(letters)

    def _is_left_out(self, span: Any) -> bool:
        """Whether a span is a stamp, where these are not asked for."""
        return self._tables is None and self._name_of(span.getAttribute("stylename")) == STAMP

    def _frames_in(self, element: Any) -> Iterator[Any]:
        """Yield the frames beside a paragraph."""
        for child in _elements(element):
            if child.qname[1] in _FRAMES:
                yield child
            else:
                yield from self._frames_in(child)


def _elements(element: Any) -> Iterator[Any]:
    """Yield the child elements of an OpenDocument element, without its text."""
    return (child for child in element.childNodes if child.nodeType == child.ELEMENT_NODE)


_FRAMES = ("frame", "custom-shape")
_FALLBACK = "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback"
"""The same once more, for programs that do not know the first."""

MOST_STYLES = 20
READERS: dict[str, Callable[[bytes, Tables | None], Iterator[Line]]] = {"docx": _docx, "odt": _odt}
"""By suffix."""
