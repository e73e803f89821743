"""The HTML of a published page: one file with its own styles and script, without the network;
without the script it is still a player with captions, and the text.

A content security policy lets nothing run but that script, by its digest (W3C, Content Security
Policy Level 3); every text is escaped.
"""

from __future__ import annotations

import base64
import hashlib
import html
import json
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from tamarind.formats.data.chapters import as_webvtt
from tamarind.formats.data.described import as_webvtt as as_descriptions
from tamarind.formats.playerpage.content import PageContent, PageText, timed_words
from tamarind.formats.playerpage.words import page_language, page_words
from tamarind.formats.reading.page import direction, dressed
from tamarind.formats.reading.paragraphs import Paragraph
from tamarind.formats.timecode import clock

_BUTTONS = ("next", "copy", "link")


def write(content: PageContent) -> str:
    """Return the HTML."""
    style, script = _shipped("page.css"), _shipped("page.js")
    policy = (
        f"default-src 'none'; script-src '{_digest(script)}'; style-src '{_digest(style)}';"
        " media-src 'self' file: data: blob:; img-src data:; base-uri 'none'; form-action 'none'"
    )
    main = content.texts[0]
    words, ours = page_words(main.language), f'lang="{page_language(main.language)}"'
    lines = [
        "<!DOCTYPE html>",
        f'<html lang="{html.escape(main.language or "und")}">',
        "<head>",
        '<meta charset="utf-8">',
        f'<meta http-equiv="Content-Security-Policy" content="{html.escape(policy)}">',
        '<meta name="viewport" content="width=device-width, initial-scale=1">',
        f"<title>{html.escape(content.title)}</title>",
        f"<style>{style}</style>",
        "</head>",
        "<body>",
        f'<a class="skip" href="#transcript" {ours}>{words["skip"]}</a>',
        "<header>",
        f"<h1>{html.escape(content.title)}</h1>",
        f'<p class="facts" {ours}>{html.escape(content.facts)}</p>',
        "</header>",
        "<main>",
        '<div class="side">',
        *_player(content, words),
        *_tools(content, words, ours),
        *_chapters(content, words, ours),
        *_downloads(content, words, ours),
        "</div>",
        '<div id="transcript" tabindex="-1">',
    ]
    for number, text in enumerate(content.texts):
        lines += _text(text, number, f"<span {ours}>{words['transcript']}</span>")
    lines += [
        "</div>",
        "</main>",
        _data(content, words),
        f"<script>{script}</script>",
        "</body>",
        "</html>",
    ]
    return "\n".join([*lines, ""])


def _player(content: PageContent, words: Mapping[str, str]) -> list[str]:
    kind = "" if content.has_picture else ' class="sound"'
    lines = [
        f'<div class="player{" sound" * (not content.has_picture)}">',
        f'<video id="media" controls preload="metadata" playsinline{kind}'
        f' aria-label="{html.escape(content.title)}">',
        f'<source src="{html.escape(content.media)}" type="{html.escape(content.media_type)}">',
    ]
    for number, text in enumerate(content.texts):
        usual = " default" if not number else ""
        lines.append(_track("captions", text.captions, text.language, text.name, usual))
    if content.chapters:
        main = content.texts[0]
        lines.append(
            _track("chapters", as_webvtt(content.chapters), main.language, words["chapters"])
        )
    if content.descriptions:
        main = content.texts[0]
        seen = as_descriptions(content.descriptions)
        lines.append(_track("descriptions", seen, main.language, words["descriptions"]))
    # It is the same text as below, for the eyes only.
    line = ['<p id="line" aria-hidden="true"></p>'] * (not content.has_picture)
    return [*lines, "</video>", *line, "</div>"]


def _track(kind: str, text: str, language: str, name: str, usual: str = "") -> str:
    """Return a track inside the page, since browsers load none from a file beside it without a
    server."""
    packed = base64.b64encode(text.encode()).decode()
    return (
        f'<track kind="{kind}" srclang="{html.escape(language or "und")}"'
        f' label="{html.escape(name)}" src="data:text/vtt;base64,{packed}"{usual}>'
    )


def _tools(content: PageContent, words: Mapping[str, str], ours: str) -> list[str]:
    """Return the controls that only the script can serve."""
    lines = [f'<div class="tools" {ours} role="group" aria-label="{words["transcript"]}" hidden>']
    if len(content.texts) > 1:
        lines.append(f'<label>{words["language"]} <select id="language">')
        lines += [
            f'<option lang="{html.escape(text.language)}">{html.escape(text.name)}</option>'
            for text in content.texts
        ]
        lines.append("</select></label>")
    names = list(dict.fromkeys(p.speaker for p in content.texts[0].paragraphs if p.speaker))
    if len(names) > 1:
        lines.append(
            f'<label>{words["speaker"]} <select id="speaker">'
            f'<option value="">{words["all"]}</option>'
        )
        lines += [f"<option>{html.escape(name)}</option>" for name in names]
        lines.append("</select></label>")
    return [
        *lines,
        f'<label>{words["find"]} <input type="search" id="sought" autocomplete="off"></label>',
        *(f'<button type="button" id="{name}">{words[name]}</button>' for name in _BUTTONS),
        *([] if content.has_picture else [_tick("captioned", words["captions"], "checked")]),
        _tick("follow", words["follow"], "checked"),
        *([_tick("aloud", words["aloud"])] if content.descriptions else []),
        "</div>",
        f'<p class="note" id="told" role="status" {ours}></p>',
    ]


def _tick(name: str, words: str, *state: str) -> str:
    given = " ".join(['type="checkbox"', f'id="{name}"', *state])
    return f'<label class="tick"><input {given}> {words}</label>'


def _chapters(content: PageContent, words: Mapping[str, str], ours: str) -> list[str]:
    if not content.chapters:
        return []
    lines = ['<nav class="chapters" aria-labelledby="chapters">',
             f'<h2 id="chapters" {ours}>{words["chapters"]}</h2>', "<ol>"]  # fmt: skip
    for one in content.chapters:
        title = html.escape(one.title)
        lines.append(
            f"<li{direction(one.title)}><a {_jump(one.start)}>"
            f'<span class="clock">{_short(one.start)}</span> {title}</a></li>'
        )
    return [*lines, "</ol>", "</nav>"]


def _downloads(content: PageContent, words: Mapping[str, str], ours: str) -> list[str]:
    if not content.captions:
        return []
    lines = [
        f'<details class="downloads" {ours}>',
        f"<summary>{words['files']}</summary>",
        "<ul>",
    ]
    lines += [
        f'<li><a href="{html.escape(name)}" download>{html.escape(language)} (WebVTT)</a></li>'
        for language, name in content.captions
    ]
    return [*lines, "</ul>", "</details>"]


def _text(text: PageText, number: int, title: str) -> list[str]:
    first = ' data-first="yes"' if not number else ""
    lang = html.escape(text.language or "und")
    lines = [
        f'<section class="text" lang="{lang}"{first} aria-labelledby="text-{number}">',
        f'<h2 id="text-{number}">{title} – {html.escape(text.name)}</h2>',
    ]
    level = 4 if any(paragraph.heading for paragraph in text.paragraphs) else 3
    for paragraph in text.paragraphs:
        lines += _paragraph(paragraph, level)
    return [*lines, "</section>"]


def _paragraph(paragraph: Paragraph, level: int) -> list[str]:
    lines = []
    if paragraph.heading:
        lines.append(f"<h3{direction(paragraph.heading)}>{html.escape(paragraph.heading)}</h3>")
    if paragraph.label:
        name = html.escape(paragraph.label.rstrip(":"))
        lines.append(f'<h{level} class="speaker"{direction(name)}>{name}</h{level}>')
    who = f' data-speaker="{html.escape(paragraph.speaker)}"' if paragraph.speaker else ""
    said = "".join(map(dressed, paragraph.pieces))
    return [
        *lines,
        f'<div class="part"{who}><a class="time" {_jump(paragraph.start)}>{_short(paragraph.start)}'
        f'</a><p class="said"{direction(paragraph.text)}>{said}</p></div>',
    ]


def _jump(start: int) -> str:
    """Return the attributes of a link to a time, which can be shared."""
    return f'href="#t={start / 1000:.1f}" data-start="{start}"'


def _short(time: int) -> str:
    told = clock(time, 0, hours=False)
    return told[1:] if told.startswith("0") else told


def _data(content: PageContent, words: Mapping[str, str]) -> str:
    """Return the times of all words and the script's words, as JSON that cannot end its element."""
    times = [
        [[number for word in timed_words(text.text, one) for number in word]
         for one in text.paragraphs]
        for text in content.texts
    ]  # fmt: skip
    seen = [[one.start, one.text] for one in sorted(content.descriptions, key=lambda o: o.start)]
    said = {name: words[name] for name in ("found", "place", "linked", "copied")}
    packed = json.dumps({"texts": times, "seen": seen, "say": said}, separators=(",", ":"))
    # Nothing in it may end the element that it stands in.
    packed = packed.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")
    return f'<script type="application/json" id="times">{packed}</script>'


def _digest(text: str) -> str:
    return f"sha256-{base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()}"


@cache
def _shipped(name: str) -> str:
    return files("tamarind.formats.playerpage").joinpath(name).read_text("utf-8")
