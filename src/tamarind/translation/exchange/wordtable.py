"""Write and read a translation as a table of a word processor (.docx), source and translation side
by side."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence

from tamarind.formats.captionfile import FormatError
from tamarind.formats.timecode import clock
from tamarind.translation.exchange.handing import COLUMNS, Handed, from_cells
from tamarind.translation.exchange.returned import Returned

_WIDTHS_MM = (12, 22, 22, 24, 76, 76, 34)


def as_document(rows: Sequence[Handed], title: str) -> bytes:
    """Return a landscape document, whose last two columns are for writing."""
    from docx import Document
    from docx.enum.section import WD_ORIENT
    from docx.shared import Mm

    document = Document()
    section = document.sections[0]
    section.orientation = WD_ORIENT.LANDSCAPE
    section.page_width, section.page_height = Mm(297), Mm(210)
    section.left_margin = section.right_margin = Mm(15)
    document.add_heading(title, level=1)
    table = document.add_table(rows=1 + len(rows), cols=len(COLUMNS), style="Table Grid")
    table.autofit = False
    # Cells are looked up in the whole table each time when asked for one by one.
    cells = table._cells
    texts = [
        *COLUMNS,
        *(
            text
            for row in rows
            for text in (
                str(row.number), clock(row.cue.start), clock(row.cue.end), row.speaker,
                row.cue.text, row.text, row.comment,
            )
        ),
    ]  # fmt: skip
    for place, (cell, text) in enumerate(zip(cells, texts, strict=True)):
        cell.width = Mm(_WIDTHS_MM[place % len(COLUMNS)])
        cell.paragraphs[0].text = text
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def from_document(data: bytes) -> list[Returned]:
    """Return the rows of the first table with a translation. Raises FormatError."""
    from docx import Document
    from docx.opc.exceptions import PackageNotFoundError

    try:
        document = Document(io.BytesIO(data))
        tables = [
            [[cell.text for cell in row.cells] for row in table.rows] for table in document.tables
        ]
    except (PackageNotFoundError, zipfile.BadZipFile, KeyError, ValueError, AttributeError):
        raise FormatError("The document cannot be read: it is damaged, or no .docx.") from None
    for lines in tables:
        if lines and "translation" in (cell.strip().casefold() for cell in lines[0]):
            return from_cells(lines)
    raise FormatError("The document has no table with a column “translation”.")
