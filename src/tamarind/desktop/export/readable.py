"""Show the bytes of a document as text, for the preview."""

from __future__ import annotations

import io

from tamarind.formats import documents
from tamarind.formats.anydocument import open_document_text
from tamarind.formats.captionfile import FormatError
from tamarind.formats.documents import WRITTEN
from tamarind.formats.timecode import clock

MOST_PAGES = 4
"""Of a PDF, whose pages take their time to be read."""


def readable(suffix: str, name: str, data: bytes, encoding: str) -> str:
    """Return a text file as it is, and the contents of other documents."""
    if suffix == "docx":
        return _words_in(data)
    if suffix == "odt":
        lines = open_document_text(data).split("\n")
        return "\n\n".join(line for line in lines if line.strip())
    if suffix == "pdf":
        return _pages_in(data)
    if WRITTEN[suffix].read_data is not None:
        return _cues_in(data, suffix, name)
    text = data.decode("utf-8-sig" if encoding == "utf-8" else encoding, "replace")
    return text.replace("\r\n", "\n")


def _words_in(data: bytes) -> str:
    """Return the text of a word-processor document, a line a paragraph, with tabs between table
    cells."""
    from docx import Document

    document = Document(io.BytesIO(data))
    lines = [paragraph.text for paragraph in document.paragraphs]
    for table in document.tables:
        lines += ["\t".join(cell.text for cell in row.cells) for row in table.rows]
    return "\n\n".join(lines)


def _pages_in(data: bytes) -> str:
    """Return the first pages of a PDF as they are laid out."""
    from pypdf import PdfReader

    reader = PdfReader(io.BytesIO(data))
    pages = [page.extract_text(extraction_mode="layout") for page in reader.pages[:MOST_PAGES]]
    rest = len(reader.pages) - MOST_PAGES
    if rest > 0:
        pages.append("… and 1 more page" if rest == 1 else f"… and {rest} more pages")
    return "\n\n\n".join(pages)


def _cues_in(data: bytes, suffix: str, name: str) -> str:
    """Return what a reader finds in a binary caption file: each cue with its times and rows."""
    try:
        text = documents.read_bytes(data, suffix, name).transcript
    except FormatError as error:
        return str(error)
    times = (f"{clock(cue.start)} – {clock(cue.end)}" for cue in text.cues)
    bodies = ("\n".join(cue.lines) for cue in text.cues)
    return "\n\n".join(f"{time}\n{body}" for time, body in zip(times, bodies, strict=True))
