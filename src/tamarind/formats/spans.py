"""Spans within a caption – italics, classes, another language – on the words that stand in them."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from itertools import accumulate

from tamarind.transcript.model import Cue, Word

ITALICS = "i"
LOOKS = frozenset("biu")

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


def looks_of(word: Word) -> str:
    """Of "biu" (bold, italics, underlined) how a word looks, the outermost span first."""
    if not word.spans:
        return ""
    return "".join(dict.fromkeys(head for head in map(head_of, word.spans) if head in LOOKS))


def with_looks_only(cue: Cue) -> Cue:
    """A cue whose words stand in no spans but those that every format has: "b", "i", "u"."""
    words = tuple(replace(word, spans=tuple(looks_of(word))) for word in cue.words)
    return cue if words == cue.words else replace(cue, words=words)


def by_looks(words: Iterable[Word]) -> list[tuple[str, str]]:
    """Words as runs of text that look alike, with their looks; the spaces between them are in."""
    runs: list[tuple[str, list[str]]] = []
    for word in words:
        looks = looks_of(word)
        if not runs or runs[-1][0] != looks:
            runs.append((looks, []))
        runs[-1][1].append(word.text)
    pieces = [(" ".join(texts), looks) for looks, texts in runs]
    return [
        (text if place + 1 == len(pieces) else text + " ", looks)
        for place, (text, looks) in enumerate(pieces)
    ]


def _tags(span: str) -> tuple[str, str]:
    return f"<{span}>", f"</{head_of(span)}>"


def with_tags(
    cue: Cue,
    escaped: Callable[[str], str],
    before: Callable[[int, Word], str] = lambda _place, _word: "",
    is_kept: Callable[[str], bool] = lambda _span: True,
    tags: Callable[[str], tuple[str, str]] = _tags,
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
        parts += [tags(span)[1] for span in reversed(within[same:])]
        if place:
            parts.append("\n" if place in breaks else " ")
        parts += [tags(span)[0] for span in spans[same:]]
        parts += [before(place, word), escaped(word.text)]
        within = spans
    parts += [tags(span)[1] for span in reversed(within)]
    return "".join(parts)
