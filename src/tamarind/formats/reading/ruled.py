"""Lay paragraphs out on ruled pages: a set number of lines a page, each with its number, as
hearings have them."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence

from tamarind.formats.reading.paragraphs import Paragraph, StampPlace

COLUMNS = 60
FIRST, MARKED = " " * 5, 5
"""A paragraph begins so far to the right, and its text so many columns behind a mark."""


def ruled_lines(found: Sequence[Paragraph], place: StampPlace) -> list[str]:
    """Return the lines of paragraphs, none longer than ``COLUMNS``, with their times at
    ``place``."""
    lines: list[str] = []
    for paragraph in found:
        if paragraph.heading:
            lines += textwrap.wrap(paragraph.heading.upper(), COLUMNS)
        stamp = paragraph.stamp or ""
        if stamp and place is not StampPlace.TEXT:
            lines.append(stamp)
            stamp = ""
        mark = paragraph.mark or paragraph.label or ""
        lead = FIRST + (f"{mark:<{MARKED}}" if len(mark) < MARKED else f"{mark} " if mark else "")
        said = " ".join(filter(None, (stamp, paragraph.text)))
        lines += textwrap.wrap(said, COLUMNS, initial_indent=lead) or [lead.rstrip()]
    return lines


def ruled_pages(lines: Sequence[str], each: int) -> list[list[str]]:
    """Return lines in pages of so many ``each``; the last is filled up with empty ones."""
    pages = [list(lines[at : at + each]) for at in range(0, len(lines), each)] or [[]]
    return [page + [""] * (each - len(page)) for page in pages]


def as_plain_text(pages: Sequence[Sequence[str]]) -> str:
    """Return pages as text: the page's number, its numbered lines, and a form feed between two."""
    texts = []
    for number, page in enumerate(pages, 1):
        head = f"{number:>{COLUMNS + 4}}"
        lines = [f"{at:>2}  {line}".rstrip() for at, line in enumerate(page, 1)]
        texts.append("\n".join([head, "", *lines]))
    return "\n\f\n".join(texts) + "\n"
