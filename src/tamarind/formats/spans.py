"""Spans within a caption – italics, classes, another language – on the words that stand in them."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Sequence
from itertools import accumulate

from tamarind.transcript.model import Cue, Word

ITALICS = "i"

_SPAN = re.compile(r"(?:c(?:\.[^\s.<>&]+)+|[biu](?:\.[^\s.<>&]+)*|lang(?:\.[^\s.<>&]+)* [\w-]+)")
_WORD = re.compile(r"\S+")

Spans = tuple[str, ...]


def as_span(tag: str) -> str | None:
    """What stands in a start tag as a span that is kept, None for one that says nothing."""
    tag = " ".join(tag.split())
    return tag if _SPAN.fullmatch(tag) else None


def only_spans(texts: Sequence[object]) -> Spans:
    """Those of some texts that are spans."""
    return tuple(text for text in texts if isinstance(text, str) and as_span(text) == text)


def head_of(span: str) -> str:
    """The name of a span's tag."""
    return re.split(r"[.\s]", span, maxsplit=1)[0]


def opened(spans: Spans, tag: str) -> Spans:
    """The spans that text stands in after a start tag."""
    span = as_span(tag)
    return spans if span is None or span in spans else (*spans, span)


def closed(spans: Spans, head: str) -> Spans:
    """The spans that text stands in after an end tag."""
    for place in reversed(range(len(spans))):
        if head_of(spans[place]) == head:
            return spans[:place] + spans[place + 1 :]
    return spans


def on_words(pieces: Sequence[tuple[str, Spans]]) -> tuple[Spans, ...]:
    """The spans of each word of a text that comes in pieces: those where it begins; nothing if no
    word has any."""
    if not any(spans for _, spans in pieces):
        return ()
    starts = [0, *accumulate(len(text) for text, _ in pieces)]
    text = "".join(text for text, _ in pieces)
    return tuple(
        pieces[bisect_right(starts, match.start()) - 1][1] for match in _WORD.finditer(text)
    )


def with_tags(
    cue: Cue,
    escaped: Callable[[str], str],
    before: Callable[[int, Word], str] = lambda _place, _word: "",
    is_kept: Callable[[str], bool] = lambda _span: True,
) -> str:
    """A cue's lines with the tags of its spans; ``before`` is put before each word within them."""
    parts: list[str] = []
    within: Spans = ()
    breaks = set(cue.breaks or ())
    for place, word in enumerate(cue.words):
        spans = tuple(filter(is_kept, word.spans)) if word.spans else ()
        same = 0
        while same < min(len(within), len(spans)) and within[same] == spans[same]:
            same += 1
        parts += [f"</{head_of(span)}>" for span in reversed(within[same:])]
        if place:
            parts.append("\n" if place in breaks else " ")
        parts += [f"<{span}>" for span in spans[same:]]
        parts += [before(place, word), escaped(word.text)]
        within = spans
    parts += [f"</{head_of(span)}>" for span in reversed(within)]
    return "".join(parts)
