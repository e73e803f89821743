"""Write two versions of a text as one, with what was left out and put in marked: as a document with
tracked changes for word processors, a web page, or a list."""

from __future__ import annotations

import html
import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from itertools import groupby
from typing import Any

from tamarind.formats.captionfile import FormatError, names_of
from tamarind.formats.reading.office import SPEAKER, TITLE, legal, same_each_time
from tamarind.formats.timecode import clock
from tamarind.transcript.comparison import compare
from tamarind.transcript.model import Transcript, Word, text_of
from tamarind.transcript.reconcile import runs

KEPT, LEFT_OUT, PUT_IN = "kept", "left out", "put in"
SUFFIXES = ("docx", "html", "txt")


@dataclass(frozen=True, slots=True)
class Versions:
    """Two versions of a text under a name."""

    name: str
    before: Transcript
    after: Transcript


@dataclass(slots=True)
class MarkedParagraph:
    """A paragraph of the later version: its start (ms), who speaks, and runs of words, each kept,
    left out or put in."""

    start: int
    speaker: str
    runs: list[tuple[str, str]] = field(default_factory=list)


def marked(versions: Versions) -> list[MarkedParagraph]:
    """Return the paragraphs of the later version with what changed marked, word by word."""
    old = [word for cue in versions.before.cues for word in cue.words]
    cues = versions.after.cues
    new = [(place, word) for place, cue in enumerate(cues) for word in cue.words]
    names = names_of(versions.after)
    found: list[MarkedParagraph] = []
    previous: int | None = None

    def opened(place: int) -> MarkedParagraph:
        nonlocal previous
        cue = cues[place]
        begins = previous is None or (
            place != previous and (cue.opens_paragraph or cue.speaker != cues[previous].speaker)
        )
        if begins:
            found.append(MarkedParagraph(cue.start, names.get(cue.speaker) or ""))
        previous = place
        return found[-1]

    at = 0
    for old_run, new_run in runs(old, [word.text for _, word in new]):
        own = new[at : at + len(new_run)]
        at += len(new_run)
        if [word.text for word in old_run] == list(new_run):
            _add(opened, own, KEPT)
            continue
        if old_run:
            where = found[-1] if found and not own else opened(own[0][0]) if own else None
            if where is None:
                where = MarkedParagraph(old_run[0].start, "")
                found.append(where)
            where.runs.append((LEFT_OUT, text_of(old_run)))
        _add(opened, own, PUT_IN)
    return found


def _add(opened: Any, words: Sequence[tuple[int, Word]], kind: str) -> None:
    for place, run in groupby(words, key=lambda pair: pair[0]):
        paragraph = opened(place)
        text = text_of([word for _, word in run])
        if paragraph.runs and paragraph.runs[-1][0] == kind == KEPT:
            text = f"{paragraph.runs.pop()[1]} {text}"
        paragraph.runs.append((kind, text))


def change_lines(versions: Versions) -> list[str]:
    """Return a line for each change: time, what was, what is."""
    return [
        f"{clock(one.start)}  {one.before or '(nothing)'}  →  {one.after or '(left out)'}"
        for one in compare(versions.before.cues, versions.after.cues).changes
    ]


def write_compared(suffix: str, versions: Sequence[Versions], when: datetime) -> bytes:
    """Return a document of one of ``SUFFIXES``. Raises FormatError for another."""
    if suffix == "docx":
        return _docx(versions, when)
    if suffix == "html":
        return _page(versions).encode()
    if suffix == "txt":
        lines = [line for one in versions for line in (one.name, *change_lines(one), "")]
        return "\n".join(lines).encode()
    raise FormatError(f"Changes are written as {', '.join(f'.{one}' for one in SUFFIXES)}.")


def _page(versions: Sequence[Versions]) -> str:
    tags = {KEPT: "", LEFT_OUT: "del", PUT_IN: "ins"}
    title = html.escape(", ".join(one.name for one in versions))
    lines = [
        f'<!DOCTYPE html><html lang="{html.escape(versions[0].after.language)}"><head>'
        f'<meta charset="utf-8"><title>{title}</title><style>'
        "body { max-width: 44rem; margin: 3rem auto; font: 1.05rem/1.6 Georgia, serif; }"
        " ins { background: #dcebdf; } del { color: #7a3550; }"
        " time { color: #6f655c; font: .82rem monospace; margin-right: .5rem; }"
        "</style></head><body>"
    ]
    for one in versions:
        lines.append(f"<h1>{html.escape(one.name)}</h1>")
        for paragraph in marked(one):
            said = " ".join(
                f"<{tags[kind]}>{html.escape(text)}</{tags[kind]}>"
                if tags[kind]
                else html.escape(text)
                for kind, text in paragraph.runs
            )
            who = f"<b>{html.escape(paragraph.speaker)}:</b> " if paragraph.speaker else ""
            lines.append(f"<p><time>{clock(paragraph.start, 0)}</time>{who}{said}</p>")
    return "\n".join([*lines, "</body></html>", ""])


def _docx(versions: Sequence[Versions], when: datetime) -> bytes:
    """Return a document whose changes are tracked, so that a word processor can accept or reject
    each."""
    from docx import Document
    from docx.enum.style import WD_STYLE_TYPE
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    document = Document()
    for name in (TITLE, SPEAKER):
        style = document.styles.add_style(name, WD_STYLE_TYPE.PARAGRAPH)
        style.base_style = document.styles["Heading 1" if name == TITLE else "Normal"]
        style.font.bold = True
    properties = document.core_properties
    properties.title, properties.author, properties.comments = versions[0].name, "", ""
    properties.created = properties.modified = when.replace(microsecond=0)
    number = 0
    for one in versions:
        document.add_paragraph(legal(one.name), style=TITLE)
        for paragraph in marked(one):
            if paragraph.speaker:
                document.add_paragraph(legal(paragraph.speaker), style=SPEAKER)
            line = document.add_paragraph()
            for kind, text in paragraph.runs:
                run = line.add_run(f"{legal(text)} ")
                if kind == KEPT:
                    continue
                number += 1
                change = OxmlElement("w:del" if kind == LEFT_OUT else "w:ins")
                change.set(qn("w:id"), str(number))
                change.set(qn("w:author"), "Tamarind")
                change.set(qn("w:date"), f"{when:%Y-%m-%dT%H:%M:%SZ}")
                run._r.addprevious(change)
                change.append(run._r)
                if kind == LEFT_OUT:
                    for said in run._r.findall(qn("w:t")):
                        said.tag = qn("w:delText")
    out = io.BytesIO()
    document.save(out)
    return same_each_time(out.getvalue())
