"""Spans within a caption – italics, classes, another language – attached to its words.

How a part of a word is to be read (ruby) is a span of its own: "rt 0 2 …" is the reading of the
first two letters.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from itertools import accumulate
from typing import NamedTuple

from tamarind.formats.colours import colour_of
from tamarind.transcript.model import Cue, Word
from tamarind.transcript.reconcile import adjoining

ITALICS = "i"
LOOKS = frozenset("biu")
LANGUAGE = "lang"

_SPAN = re.compile(
    r"(?:c(?:\.[^\s.<>&]+)+|[biu](?:\.[^\s.<>&]+)*|lang(?:\.[^\s.<>&]+)* [\w-]+"
    r"|rt \d{1,4} \d{1,4} [^\s<>&]{1,200})"
)
_WORD = re.compile(r"\S+")
_READING = re.compile(r"rt (\d+) (\d+) (\S+)")
READING = "rt "
"""How the span of a piece begins that is to be read as is said behind it."""

Spans = tuple[str, ...]


def as_span(tag: str) -> str | None:
    """Return the contents of a start tag as a span to keep; None if it says nothing."""
    tag = " ".join(tag.split())
    return tag if _SPAN.fullmatch(tag) else None


def only_spans(texts: Sequence[object]) -> Spans:
    """Return those of some texts that are valid spans."""
    return tuple(text for text in texts if isinstance(text, str) and as_span(text) == text)


def head_of(span: str) -> str:
    """Return the name of a span's tag."""
    return re.split(r"[.\s]", span, maxsplit=1)[0]


def opened(spans: Spans, tag: str) -> Spans:
    """Return the spans in force after a start tag."""
    span = as_span(tag)
    return spans if span is None or span in spans else (*spans, span)


def closed(spans: Spans, head: str) -> Spans:
    """Return the spans in force after an end tag."""
    for place in reversed(range(len(spans))):
        if head_of(spans[place]) == head:
            return spans[:place] + spans[place + 1 :]
    return spans


def without_last(spans: Spans, span: str | None) -> Spans:
    """Return the spans without the innermost one of this kind."""
    for place in reversed(range(len(spans))):
        if spans[place] == span:
            return spans[:place] + spans[place + 1 :]
    return spans


def on_words(pieces: Sequence[tuple[str, Spans]]) -> tuple[Spans, ...]:
    """Return the spans of each word of a text in pieces: those where it begins; empty if no word
    has any."""
    if not any(spans for _, spans in pieces):
        return ()
    starts = [0, *accumulate(len(text) for text, _ in pieces)]
    text = "".join(text for text, _ in pieces)
    plain = [tuple(s for s in spans if not s.startswith(READING)) for _, spans in pieces]
    read = [
        (start, start + len(own), span[len(READING) :])
        for start, (own, spans) in zip(starts, pieces, strict=False)
        for span in spans
        if span.startswith(READING)
    ]
    return tuple(
        plain[bisect_right(starts, match.start()) - 1]
        + tuple(
            f"{READING}{max(first - match.start(), 0)} {min(last, match.end()) - match.start()}"
            f" {reading}"
            for first, last, reading in read
            if match.start() <= first < match.end()
        )
        for match in _WORD.finditer(text)
    )


def as_reading(text: str) -> str | None:
    """Return the span for a ruby annotation; None for an empty one."""
    joined = "\u00a0".join(text.replace("<", "").replace(">", "").replace("&", "").split())
    return f"{READING}{joined[:200]}" if joined else None


def readings_of(word: Word) -> list[tuple[int, int, str]]:
    """Return the parts of a word (from, to) with their ruby annotations, in order, not
    overlapping."""
    found: list[tuple[int, int, str]] = []
    for match in filter(None, map(_READING.fullmatch, word.spans)):
        first, last = int(match[1]), min(int(match[2]), len(word.text))
        if first < last and (not found or first >= found[-1][1]):
            found.append((first, last, match[3].replace("\u00a0", " ")))
    return found


def with_readings(
    word: Word, escaped: Callable[[str], str], ruby: Callable[[str, str], str]
) -> str:
    """Return a word's text, with annotated parts as ``ruby`` makes them of text and annotation."""
    parts, place = [], 0
    for first, last, reading in readings_of(word):
        parts.append(escaped(word.text[place:first]))
        parts.append(ruby(escaped(word.text[first:last]), escaped(reading)))
        place = last
    return "".join([*parts, escaped(word.text[place:])])


def looks_of(word: Word) -> str:
    """Return how a word looks, as letters of "biu" (bold, italics, underlined), the outermost span
    first."""
    if not word.spans:
        return ""
    return "".join(dict.fromkeys(head for head in map(head_of, word.spans) if head in LOOKS))


def with_language(cue: Cue) -> Cue:
    """Return a cue with its words in a span of its language, if it has one of its own."""
    if not cue.language:
        return cue
    span = f"{LANGUAGE} {cue.language}"
    return replace(cue, words=tuple(replace(w, spans=(span, *w.spans)) for w in cue.words))


def language_of(spans: Spans) -> str:
    """Return the language of the outermost span that says nothing else, or ""."""
    head, _, tag = spans[0].partition(" ") if spans else ("", "", "")
    return tag if head == LANGUAGE else ""


def as_its_language(cue: Cue, usual: str) -> Cue:
    """Return a cue all of whose words are in a span of another language with that as its own."""
    tags = {language_of(word.spans) for word in cue.words}
    if len(tags) != 1 or tags & {"", usual}:
        return cue
    words = tuple(replace(word, spans=word.spans[1:]) for word in cue.words)
    return replace(cue, words=words, language=tags.pop())


def with_common_spans(cue: Cue) -> Cue:
    """Reduce a cue's spans to those that most formats have: "b", "i", "u" and colours, the
    innermost of which counts; with language and ruby annotations."""

    def common(word: Word) -> Spans:
        colours = [span for span in word.spans if colour_of(span)]
        alternatives = [span for span in word.spans if span.startswith(READING)]
        languages = [span for span in word.spans if head_of(span) == LANGUAGE]
        return (*languages[-1:], *colours[-1:], *looks_of(word), *alternatives)

    words = tuple(replace(word, spans=common(word)) if word.spans else word for word in cue.words)
    return cue if words == cue.words else replace(cue, words=words)


STAMP_LOOK = "time"
"""In place of formats: the run is a time stamp."""


class StyledRun(NamedTuple):
    """Text of one format (of "biu") in one language; "" for the text's language."""

    text: str
    looks: str
    language: str


def by_looks(cues: Iterable[Cue]) -> list[StyledRun]:
    """Return the words of cues as runs, including the spaces between them."""
    runs: list[StyledRun] = []
    before: tuple[Word, ...] = ()
    for cue in cues:
        words = adjoining(before, with_language(cue).words)
        for word in words:
            kind = looks_of(word), language_of(word.spans)
            space = " " if runs and not word.glued else ""
            if runs and runs[-1][1:] == kind:
                runs[-1] = runs[-1]._replace(text=f"{runs[-1].text}{space}{word.text}")
                continue
            if runs and space:
                runs[-1] = runs[-1]._replace(text=runs[-1].text + space)
            runs.append(StyledRun(word.text, *kind))
        before = words or before
    return runs


def _tags(span: str) -> tuple[str, str]:
    return f"<{span}>", f"</{head_of(span)}>"


def with_tags(
    cue: Cue,
    text: Callable[[Word], str],
    before: Callable[[int, Word], str] = lambda _place, _word: "",
    is_kept: Callable[[str], bool] = lambda _span: True,
    tags: Callable[[str], tuple[str, str]] = _tags,
) -> str:
    """Return a cue's lines with the tags of its spans; ``before`` is put before each word within
    them."""
    parts: list[str] = []
    within: Spans = ()
    breaks = set(cue.breaks or ())
    for place, word in enumerate(cue.words):
        spans = tuple(s for s in word.spans if is_kept(s) and not s.startswith(READING))
        same = 0
        while same < min(len(within), len(spans)) and within[same] == spans[same]:
            same += 1
        parts += [tags(span)[1] for span in reversed(within[same:])]
        if place in breaks:
            parts.append("\n")
        elif place and not word.glued:
            parts.append(" ")
        parts += [tags(span)[0] for span in spans[same:]]
        parts += [before(place, word), text(word)]
        within = spans
    parts += [tags(span)[1] for span in reversed(within)]
    return "".join(parts)
