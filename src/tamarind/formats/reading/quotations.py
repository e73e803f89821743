"""Write the quotation sheet: quotes with speaker, recording and time, grouped by tag."""

from __future__ import annotations

import csv
import html
import io
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from tamarind.formats.data.table import inert
from tamarind.formats.reading.office import GREY, legal, same_each_time
from tamarind.formats.reading.paper import usual_paper
from tamarind.transcript.direction import is_right_to_left

UNTAGGED = "Without a tag"
COLUMNS = ("tag", "quote", "speaker", "recording", "from", "to", "name", "note")


@dataclass(frozen=True, slots=True)
class Quotation:
    """One quote; ``begins`` and ``ends`` are times as written; ``language`` a BCP 47 tag."""

    quote: str
    speaker: str
    recording: str
    begins: str
    ends: str
    name: str = ""
    note: str = ""
    tags: tuple[str, ...] = ()
    language: str = ""


def grouped(quotations: Sequence[Quotation]) -> Iterator[tuple[str, list[Quotation]]]:
    """Return each tag with its quotations, in order of first use; one with several tags stands
    under each. Those without one come last, under "" if nothing has a tag."""
    tags = dict.fromkeys(tag for one in quotations for tag in one.tags)
    for tag in tags:
        yield tag, [one for one in quotations if tag in one.tags]
    rest = [one for one in quotations if not one.tags]
    if rest:
        yield UNTAGGED if tags else "", rest


def as_text(title: str, quotations: Sequence[Quotation]) -> str:
    """Return plain text."""
    lines = [title, "=" * len(title), ""]
    for tag, group in grouped(quotations):
        if tag:
            lines += [tag, "-" * len(tag), ""]
        for one in group:
            lines += [f"“{one.quote}”", f"    {source_of(one)}"]
            lines += [f"    {text}" for text in (one.name, one.note) if text]
            lines.append("")
    return "\n".join(lines)


def as_csv(title: str, quotations: Sequence[Quotation]) -> str:
    """Return a row for each quotation under each of its tags (RFC 4180), safe in spreadsheets."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for tag, group in grouped(quotations):
        for one in group:
            row = [tag if one.tags else "", one.quote, one.speaker, one.recording]
            table.writerow(map(inert, [*row, one.begins, one.ends, one.name, one.note]))
    return out.getvalue()


_LOOK = """
 body { max-width: 44rem; margin: 3rem auto; padding: 0 1.5rem; color: #2b2320;
   background: #fffdf8; font: 1.08rem/1.6 Vollkorn, Georgia, "Times New Roman", serif; }
 h1 { font-size: 1.7rem; line-height: 1.2; margin: 0 0 1.6rem; }
 h2 { font-size: 1.2rem; margin: 2.2rem 0 .6rem; color: #5b3a29; }
 figure { margin: 0 0 1.6rem; break-inside: avoid; }
 blockquote { margin: 0; padding-inline-start: 1rem; border-inline-start: 3px solid #e2d6c6; }
 figcaption { margin: .3rem 0 0 1.2rem; color: #6f655c;
   font: .9rem/1.5 Cabin, "Segoe UI", sans-serif; }
 .note { color: #2b2320; }
"""


def as_html(title: str, quotations: Sequence[Quotation]) -> str:
    """Return one page that needs nothing else, to be read and printed."""
    lines = [
        "<!DOCTYPE html>",
        '<html lang="en">',
        "<head>",
        '<meta charset="utf-8">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">',
        f"<title>{html.escape(title)}</title>",
        f"<style>{_LOOK} @page {{ size: {usual_paper().name}; margin: 22mm; }}\n</style>",
        "</head>",
        "<body>",
        f"<h1>{html.escape(title)}</h1>",
    ]
    for tag, group in grouped(quotations):
        lines += [f"<h2>{html.escape(tag)}</h2>"] * bool(tag)
        for one in group:
            run = ' dir="rtl"' if is_right_to_left(one.quote) else ""
            lang = f' lang="{html.escape(one.language)}"' if one.language else ""
            lines += [
                "<figure>",
                f"<blockquote{lang}{run}><p>“{html.escape(one.quote)}”</p></blockquote>",
                f"<figcaption>{html.escape(source_of(one))}",
                *(
                    f'<br><span class="note">{html.escape(text)}</span>'
                    for text in (one.name, one.note)
                    if text
                ),
                "</figcaption>",
                "</figure>",
            ]
    return "\n".join([*lines, "</body>", "</html>", ""])


def as_docx(title: str, quotations: Sequence[Quotation]) -> bytes:
    """Return a document with a heading for each tag, and styles of its own."""
    from docx import Document
    from docx.enum.style import WD_STYLE_TYPE
    from docx.shared import Mm, Pt, RGBColor

    document = Document()
    paper, section = usual_paper(), document.sections[0]
    section.page_width, section.page_height = Mm(paper.width), Mm(paper.height)

    def style(name: str, base: str, size: float, after: float) -> Any:
        made = document.styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH)
        made.base_style, made.quick_style = document.styles[base], True
        made.font.size, made.paragraph_format.space_after = Pt(size), Pt(after)
        made.paragraph_format.left_indent = Mm(8)
        return made

    quote = style("Quotation", "Normal", 11, 2)
    quote.paragraph_format.keep_with_next = True
    source = style("Quotation Source", "Normal", 9, 12)
    source.font.color.rgb = RGBColor.from_string(GREY)
    document.add_heading(legal(title), 0)
    for tag, group in grouped(quotations):
        if tag:
            document.add_heading(legal(tag), 1)
        for one in group:
            document.add_paragraph(legal(f"“{one.quote}”"), style="Quotation")
            line = document.add_paragraph(legal(source_of(one)), style="Quotation Source")
            for text in filter(None, (one.name, one.note)):
                line.add_run().add_break()
                line.add_run(legal(text)).italic = True
    document.core_properties.title = legal(title)[:255]
    document.core_properties.author = ""
    out = io.BytesIO()
    document.save(out)
    return same_each_time(out.getvalue())


def source_of(one: Quotation) -> str:
    """Return a line that says who said it, where and when."""
    return ", ".join(filter(None, (one.speaker, one.recording, f"{one.begins}–{one.ends}")))


WRITERS: dict[str, Callable[[str, Sequence[Quotation]], str | bytes]] = {
    "docx": as_docx, "html": as_html, "csv": as_csv, "txt": as_text,
}  # fmt: skip
"""By suffix."""
