"""Write transcripts as a web page (.html): one file that needs nothing else, to be read and
printed."""

from __future__ import annotations

import html
import textwrap
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import count

from tamarind.formats.facts import facts_of, in_words
from tamarind.formats.format import DocumentKind, Format, FormatOption
from tamarind.formats.reading.paragraphs import Paragraph, StampPlace, paragraphs, side_by_side
from tamarind.formats.reading.parts import Reading, front_of, reading_of
from tamarind.formats.reading.ruled import COLUMNS, ruled_lines, ruled_pages
from tamarind.formats.spans import STAMP_LOOK, StyledRun
from tamarind.formats.timecode import clock
from tamarind.transcript.direction import is_right_to_left
from tamarind.transcript.fields import Holds
from tamarind.transcript.model import Transcript

_LOOK = """
 body { max-width: 44rem; margin: 3rem auto; padding: 0 1.5rem; color: #2b2320;
   background: #fffdf8; font: 1.08rem/1.6 Vollkorn, Georgia, "Times New Roman", serif; }
 body.wide { max-width: 68rem; }
 h1 { font-size: 1.7rem; line-height: 1.2; margin: 0 0 .3rem; }
 h2 { font-size: 1.25rem; line-height: 1.3; margin: 2rem 0 .4rem; }
 nav { font: .95rem/1.5 Cabin, "Segoe UI", sans-serif; margin: 0 0 2rem; }
 nav ol { padding-inline-start: 1.4rem; }
 nav a { color: #2f6a4a; }
 .facts { color: #6f655c; margin: 0 0 2.2rem; padding-bottom: 1rem;
   border-bottom: 1px solid #e2d6c6; font: .9rem/1.5 Cabin, "Segoe UI", sans-serif; }
 .speaker { display: block; margin: 1.6rem 0 0; color: #5b3a29;
   font: 600 .92rem/1.5 Cabin, "Segoe UI", sans-serif; }
 p { margin: .35rem 0 .9rem; }
 time { color: #6f655c; font: .82rem "JetBrains Mono", monospace; margin-right: .5rem; }
 table { border-collapse: collapse; width: 100%; }
 th { text-align: start; font: 600 .92rem/1.5 Cabin, sans-serif; color: #5b3a29;
   border-bottom: 1px solid #e2d6c6; padding: .3rem 1.2rem .3rem 0; }
 td { vertical-align: top; padding: .2rem 1.2rem .2rem 0; }
 td p { margin: .2rem 0 .5rem; }
 tr { break-inside: avoid; }
 td.speaker { display: table-cell; line-height: 1.9; }
 td.time { white-space: nowrap; } td.time time { line-height: 1.9; }
 .front { margin: 0 0 2rem; padding: 0; list-style: none; color: #5b3a29; }
 .note { margin-top: 3rem; font-size: .95em; }
 .margin p:not(.facts, .note) { padding-left: 6rem; }
 .margin p > time { float: left; margin-left: -6rem; }
 .mark { display: inline-block; min-width: 2.4em; }
 @media print {
   body { margin: 0; padding: 0; max-width: none; background: none; font-size: 11pt; }
   h1, h2, .facts, .speaker { break-after: avoid; }
   p { orphans: 3; widows: 3; }
 }
"""


def write(transcript: Transcript, reading: Reading) -> str:
    """Write title, facts and paragraphs; as a table if that is asked for, or with translations."""
    found = paragraphs(transcript, reading.options)
    in_margin = reading.options.stamp_place is StampPlace.MARGIN
    classes = "wide " * reading.is_table + "margin" * in_margin
    wide = f' class="{classes.strip()}"' if classes else ""
    lines = [
        "<!DOCTYPE html>",
        f'<html lang="{html.escape(reading.language_of(transcript))}"{direction(_all_of(found))}>',
        "<head>",
        '<meta charset="utf-8">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">',
        f"<title>{html.escape(reading.title)}</title>",
        f'<meta name="author" content="{html.escape(reading.author)}">' if reading.author else "",
        f"<style>{_LOOK} @page {{ size: {reading.paper.name}; margin: 22mm; }}\n</style>",
        "</head>",
        f"<body{wide}>",
        f'<h1 id="title">{html.escape(reading.title)}</h1>',
        f'<p class="facts">{html.escape(_facts(transcript, reading))}</p>',
    ]
    front = front_of(transcript, reading)
    if front:
        items = "".join(f"<li>{html.escape(text)}</li>" for text in front)
        lines.append(f'<ul class="front">{items}</ul>')
    headings = [paragraph.heading for paragraph in found if paragraph.heading]
    lines += _contents(headings) if len(headings) > 1 else []
    if reading.is_table:
        lines += _table(transcript.language, found, reading)
    else:
        anchors = _anchors()
        for paragraph in found:
            lines += _block(paragraph, anchors, reading.options.stamp_place)
    if reading.closing:
        lines.append(f'<p class="note">{html.escape(reading.closing)}</p>')
    return "\n".join([*lines, "</body>", "</html>", ""])


def ruled_page(transcript: Transcript, reading: Reading) -> str:
    """Write ruled pages with numbers at their lines, to be printed."""
    options = reading.options
    front = [reading.title, *front_of(transcript, reading)]
    lines = [*front, "", *ruled_lines(paragraphs(transcript, options), options.stamp_place)]
    lines += textwrap.wrap(reading.closing, COLUMNS)
    sheets = []
    for own in ruled_pages(lines, options.page_lines):
        numbered = (f"{number:>2}  {line}" for number, line in enumerate(own, 1))
        sheets.append(f'<pre class="sheet">{html.escape(chr(10).join(numbered))}</pre>')
    head = (
        f'<!DOCTYPE html><html lang="{html.escape(reading.language_of(transcript))}"><head>'
        f'<meta charset="utf-8"><title>{html.escape(reading.title)}</title></head>'
    )
    return "\n".join([head, "<body>", *sheets, "</body>", "</html>", ""])


def _contents(headings: Sequence[str]) -> list[str]:
    """Return links to the headings, labelled with the title of the page."""
    links = [
        f'<li{direction(heading)}><a href="#{anchor}">{html.escape(heading)}</a></li>'
        for heading, anchor in zip(headings, _anchors(), strict=False)
    ]
    return ['<nav aria-labelledby="title">', "<ol>", *links, "</ol>", "</nav>"]


def _anchors() -> Iterator[str]:
    """Return the ids of headings in order."""
    return (f"part-{number}" for number in count(1))


def _facts(transcript: Transcript, reading: Reading) -> str:
    order = " · ".join(filter(None, (reading.client, reading.date)))
    facts = in_words(facts_of(transcript, reading.duration))
    return f"{order} · {facts}" if order else facts


def _block(
    paragraph: Paragraph, anchors: Iterator[str], place: StampPlace = StampPlace.TEXT
) -> list[str]:
    """Return a paragraph, with its time at ``place``; a heading takes the next of the
    ``anchors``."""
    lines = []
    if paragraph.heading:
        heading = html.escape(paragraph.heading)
        anchor = next(anchors)
        lines.append(f'<h2 id="{anchor}"{direction(paragraph.heading)}>{heading}</h2>')
    if paragraph.label:
        label = paragraph.label.rstrip(":")
        named = f'class="speaker"{direction(label)}>{html.escape(label)}'
        lines.append(f"<div {named}</div>")
    stamp = ""
    if paragraph.stamp:
        time = clock(paragraph.start, 0)
        stamp = f'<time datetime="PT{paragraph.start / 1000:.3f}S">{time}</time>'
    if stamp and place is StampPlace.LINE:
        lines.append(f"<div>{stamp}</div>")
        stamp = ""
    if paragraph.mark:
        stamp += f'<span class="mark">{html.escape(paragraph.mark)}</span> '
    text = "".join(map(dressed, paragraph.pieces))
    lines.append(f"<p{direction(paragraph.text)}>{stamp}{text}</p>")
    return lines


def direction(text: str) -> str:
    """Return the attribute of an element whose text runs from right to left."""
    return ' dir="rtl"' if is_right_to_left(text) else ""


def _all_of(found: Sequence[Paragraph]) -> str:
    return " ".join(paragraph.text for paragraph in found[:3])


def dressed(run: StyledRun) -> str:
    """Return a run of words with its formats and language."""
    text = html.escape(run.text)
    if run.looks == STAMP_LOOK:
        return f"<time>{text}</time>"
    for look in reversed(run.looks):
        text = f"<{look}>{text}</{look}>"
    return f'<span lang="{html.escape(run.language)}">{text}</span>' if run.language else text


def _table(
    language: str,
    found: Sequence[Paragraph],
    reading: Reading,
) -> list[str]:
    heads = "".join(f"<th>{html.escape(head)}</th>" for head in reading.table_heads(language))
    anchors = _anchors()
    lines = ["<table>", f"<thead><tr>{heads}</tr></thead>", "<tbody>"]
    for paragraph, others in zip(found, side_by_side(found, reading.translations), strict=True):
        cells = []
        if reading.heads:
            time = f"<time>{(paragraph.stamp or '').strip('[]')}</time>"
            name = html.escape((paragraph.label or "").rstrip(":"))
            cells = [f'<td class="time">{time}</td>', f'<td class="speaker">{name}</td>']
            paragraph = replace(paragraph, stamp=None, label=None)
        cells.append("<td>" + "".join(_block(paragraph, anchors)) + "</td>")
        for tag, text in others.items():
            lead = "<h2>&nbsp;</h2>" if paragraph.heading else ""
            lead += '<span class="speaker">&nbsp;</span>' if paragraph.label else ""
            said = f"<p{direction(text)}>{html.escape(text)}</p>"
            cells.append(f'<td lang="{html.escape(tag)}">{lead}{said}</td>')
        lines.append("<tr>" + "".join(cells) + "</tr>")
    return [*lines, "</tbody>", "</table>"]


FORMAT = Format(
    ("html",),
    "Web page",
    DocumentKind.READING,
    write=lambda transcript, source, options: write(transcript, reading_of(source, options)),
    holds=frozenset({Holds.LOOK, Holds.SPEAKER, Holds.LANGUAGE, Holds.HEADING}),
    choices=frozenset({FormatOption.SIDE_BY_SIDE}),
    is_utf8=True,
    may_mark=False,
    rank=5,
)
FORMATS = (FORMAT,)
