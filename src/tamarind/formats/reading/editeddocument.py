"""A transcript that comes back from a word processor: its paragraphs, and who is named over them.

What a paragraph is, its style says: ours keep their names through editing. A document without them
is read as plain text is. Words that a tracked change has taken out are gone, those that it has put
in are there.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Collection, Iterator
from typing import Any

from tamarind.formats.captionfile import FormatError
from tamarind.formats.reading import plaintext
from tamarind.formats.reading.office import (
    BODY_STYLE,
    CONTENTS,
    FACTS,
    HEADING,
    SPEAKER,
    STAMP,
    TITLE,
)
from tamarind.formats.zipped import checked
from tamarind.transcript.takeback import Part

Line = tuple[str, str]
"""The name of a paragraph's style, and its text."""

_LEFT_OUT = frozenset((TITLE, FACTS, CONTENTS, HEADING))


def read_parts(
    data: bytes, suffix: str, names: Collection[str], headings: Collection[str] = ()
) -> list[Part]:
    """The paragraphs of an edited document; ``names`` are those who are known to speak, and
    ``headings`` what is no text of its own. Raises FormatError."""
    checked(data).close()
    try:
        lines = [(style, " ".join(text.split())) for style, text in READERS[suffix](data)]
    except Exception as error:  # each library has errors of its own, and damaged files find all
        raise FormatError(f"The file cannot be read: it is damaged, or no .{suffix}.") from error
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


def _docx(data: bytes) -> Iterator[Line]:
    from docx import Document
    from docx.oxml.ns import qn

    document = Document(io.BytesIO(data))
    named = {style.style_id: style.name or "" for style in document.styles}

    def text_of(line: Any) -> str:
        letters = []
        for piece in pieces_in(line):
            run = piece.getparent()
            style = run.find(qn("w:rPr") + "/" + qn("w:rStyle")) if run is not None else None
            if style is not None and named.get(style.get(qn("w:val"))) == STAMP:
                continue
            letters.append((piece.text or "") if piece.tag == qn("w:t") else said[piece.tag])
        return "".join(letters)

    def pieces_in(element: Any) -> Iterator[Any]:
        """Text and what stands for some, but for what was taken away or is a text of its own."""
        for child in element:
            if child.tag in said or child.tag == qn("w:t"):
                yield child
            elif child.tag not in apart:
                yield from pieces_in(child)

    said = {qn("w:tab"): " ", qn("w:br"): " ", qn("w:cr"): " ", qn("w:noBreakHyphen"): "-"}
    # A text that was moved stands where it came from too.
    gone = {qn("w:moveFrom"), qn("w:del"), _FALLBACK}
    boxes = qn("w:txbxContent")
    apart = {*gone, boxes, qn("w:pPr"), qn("w:rPr")}

    def boxes_in(element: Any) -> Iterator[Any]:
        """Texts that float beside a paragraph, each once."""
        for child in element:
            if child.tag == boxes:
                yield child
            elif child.tag not in gone:
                yield from boxes_in(child)

    def lines_in(part: Any) -> Iterator[Line]:
        for child in part:
            if child.tag == qn("w:p"):
                style = child.find(qn("w:pPr") + "/" + qn("w:pStyle"))
                yield (
                    named.get(style.get(qn("w:val")), "") if style is not None else "",
                    text_of(child),
                )
                for box in boxes_in(child):
                    yield from lines_in(box)
            elif child.tag == qn("w:tbl"):
                # Translations stand beside the text, which is in the first column.
                for number, row in enumerate(child.findall(qn("w:tr"))):
                    cell = row.find(qn("w:tc"))
                    if number and cell is not None:
                        yield from lines_in(cell)
            elif child.tag in within:
                yield from lines_in(child)

    within = {qn(f"w:{name}") for name in ("sdt", "sdtContent", "ins", "moveTo", "customXml")}
    yield from lines_in(document.element.body)


def _odt(data: bytes) -> Iterator[Line]:
    from odf.element import Text
    from odf.opendocument import load
    from odf.style import Style

    document = load(io.BytesIO(data))
    styles = {}
    for part in (document.styles, document.automaticstyles):
        for style in part.getElementsByType(Style):
            shown = style.getAttribute("displayname") or style.getAttribute("name")
            styles[style.getAttribute("name")] = shown, style.getAttribute("parentstylename")

    def name_of(code: str | None) -> str:
        """What a style is called, or the one that it was made from as a person worked."""
        ours = {BODY_STYLE, SPEAKER, STAMP, *_LEFT_OUT}
        for _ in range(MOST_STYLES):
            shown, parent = styles.get(code, ("", None))
            if shown in ours or not parent:
                return shown or str(code or "").replace("_20_", " ")
            code = parent
        return ""

    def text_of(element: Any) -> str:
        letters = []
        for child in element.childNodes:
            if child.nodeType == Text.nodeType:
                letters.append(str(child.data))
            elif child.qname[1] in ("s", "tab", "line-break"):
                letters.append(" ")
            elif child.qname[1] == "span" and name_of(child.getAttribute("stylename")) == STAMP:
                continue
            elif child.qname[1] not in ("note", "annotation", "ruby-text", *_FRAMES):
                letters.append(text_of(child))
        return "".join(letters)

    def lines_in(element: Any) -> Iterator[Line]:
        for child in element.childNodes:
            if child.nodeType == Text.nodeType:
                continue
            kind = child.qname[1]
            if kind in ("p", "h"):
                yield name_of(child.getAttribute("stylename")), text_of(child)
                for frame in frames_in(child):
                    yield from lines_in(frame)
            elif kind == "table-row":
                cells = [one for one in child.childNodes if one.qname[1] == "table-cell"]
                yield from lines_in(cells[0]) if cells else ()
            elif kind not in ("tracked-changes", "table-header-rows"):
                yield from lines_in(child)

    def frames_in(element: Any) -> Iterator[Any]:
        """What floats beside a paragraph."""
        for child in element.childNodes:
            if child.nodeType == Text.nodeType:
                continue
            if child.qname[1] in _FRAMES:
                yield child
            else:
                yield from frames_in(child)

    yield from lines_in(document.text)


_FRAMES = ("frame", "custom-shape")
_FALLBACK = "{http://schemas.openxmlformats.org/markup-compatibility/2006}Fallback"
"""The same once more, for programs that do not know the first."""

MOST_STYLES = 20
READERS: dict[str, Callable[[bytes], Iterator[Line]]] = {"docx": _docx, "odt": _odt}
"""By suffix."""
