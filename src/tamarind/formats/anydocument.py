"""Extract the words of any document – an agenda, a list, slides.

Only words are taken: no pictures, no layout, nothing that runs. Word-processor and presentation
files are read through python-docx and as zipped XML, pages through pypdf, all else as text.
"""

from __future__ import annotations

import html
import io
import logging
import re
from collections.abc import Callable
from pathlib import Path

from tamarind.formats.captionfile import FormatError
from tamarind.formats.decoding import decode
from tamarind.formats.zipped import checked
from tamarind.system.files import read_file

LARGEST = 64 << 20
MOST_PAGES = 400
SUFFIXES = frozenset("docx odt odp ods pptx pdf csv tsv txt md html htm".split())
"""Of documents that are known by their name."""

_PRESENTED = re.compile(r"ppt/(?:slides|notesSlides)/[^/]+\.xml")
_BREAK = re.compile(
    r"</(?:a:p|text:p|text:h|table:table-cell|p|h\d|li|td|th|tr|div)>|<br\s*/?>", re.I
)
_HIDDEN = re.compile(r"<(script|style)\b.*?</\1\s*>", re.I | re.S)
_TAG = re.compile(r"<[^>]*>")


def words_of(path: Path) -> str:
    """Return a document's text, a line for each paragraph, cell or point. Raises FormatError with a
    sentence."""
    try:
        data = read_file(path, LARGEST)
    except OSError as error:
        raise FormatError(f"“{path.name}” cannot be read: {error.strerror}.") from None
    suffix = path.suffix.lower().lstrip(".")
    try:
        text = _READERS.get(suffix, _plain)(data)
    except FormatError:
        raise
    except Exception as error:  # each library has errors of its own, and damaged files find all
        raise FormatError(
            f"“{path.name}” cannot be read: it is damaged, or no {suffix}."
        ) from error
    if not text.strip():
        raise FormatError(f"“{path.name}” holds no text. If it is a scan, its words are a picture.")
    return text


def _plain(data: bytes) -> str:
    return decode(data).text


def _page(data: bytes) -> str:
    return _from_marked(decode(data).text)


def _from_marked(text: str) -> str:
    """Return the text between the tags of XML or HTML, ignoring their meaning."""
    text = _BREAK.sub("\n", _HIDDEN.sub(" ", text))
    return html.unescape(_TAG.sub("", text))


def _word_processor(data: bytes) -> str:
    from docx import Document  # slow to import, and not always needed

    checked(data)
    document = Document(io.BytesIO(data))
    lines = [paragraph.text for paragraph in document.paragraphs]
    for table in document.tables:
        lines += [cell.text for row in table.rows for cell in row.cells]
    return "\n".join(lines)


def open_document_text(data: bytes) -> str:
    """Return the text of an OpenDocument file, a line for each paragraph or cell."""
    with checked(data) as file:
        return _from_marked(file.read("content.xml").decode("utf-8"))


def _presentation(data: bytes) -> str:
    with checked(data) as file:
        names = sorted(name for name in file.namelist() if _PRESENTED.fullmatch(name))
        return "\n".join(_from_marked(file.read(name).decode("utf-8")) for name in names)


def _pages(data: bytes) -> str:
    from pypdf import PdfReader

    logging.getLogger("pypdf").setLevel(logging.CRITICAL)  # what it mends is nobody's concern
    reader = PdfReader(io.BytesIO(data))
    if reader.is_encrypted and not reader.decrypt(""):
        raise FormatError("The file is locked with a password.")
    return "\n".join(page.extract_text() for page in reader.pages[:MOST_PAGES])


_READERS: dict[str, Callable[[bytes], str]] = {
    "docx": _word_processor,
    "odt": open_document_text,
    "odp": open_document_text,
    "ods": open_document_text,
    "pptx": _presentation,
    "pdf": _pages,
    "html": _page,
    "htm": _page,
}
