"""Extract timed paragraphs from any document that ttconv has read, with their text by format."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from tamarind.formats.captionfile import Repairs
from tamarind.formats.colours import colour_of, colour_span
from tamarind.formats.spans import LANGUAGE, Spans, as_reading, head_of
from tamarind.transcript.bounds import is_language

OPEN, BETWEEN, CLOSE = "\ue000", "\ue001", "\ue002"
"""Marks around a piece of text, what it is read as, and their end, which ttconv passes on."""

_RUBY = re.compile(f"{OPEN}([^{CLOSE}]*){CLOSE}")
_LONE_MARK = re.compile(r" ([,.])(?= |$)")


@dataclass(frozen=True, slots=True)
class TimedParagraph:
    """A paragraph or span that is a cue: start, end (s), and its text by format."""

    start: Fraction
    end: Fraction | None
    pieces: tuple[tuple[str, Spans], ...]
    region: Any = None
    """What it stands in, as ttconv has it."""

    align: str = "center"

    @property
    def lines(self) -> tuple[str, ...]:
        """Its lines without the file's white space."""
        text = "".join(piece for piece, _ in self.pieces)
        lines = (" ".join(line.split()) for line in text.split("\n"))
        # A mark is not parted from its word by the indent of a span.
        return tuple(filter(None, (_LONE_MARK.sub(r"\1", line) for line in lines)))


def paragraphs_of(body: Any, repairs: Repairs) -> list[TimedParagraph]:
    """Return the timed paragraphs of a body. Times count from the parent's start, unless that puts
    them past its end and counting from zero does not."""
    zero = _counts_from_zero(body)
    if zero:
        repairs.note("Times within timed parts were counted from the start of the file.")
    return list(_paragraphs(body, Fraction(0), None, zero, ()))


def _counts_from_zero(body: Any) -> bool:
    """Whether paragraphs in timed parts make sense only if their times count from zero."""
    spans = list(_spans_within(body))
    return any(begin >= last - first for first, last, begin in spans) and all(
        first <= begin <= last for first, last, begin in spans
    )


def _spans_within(element: Any) -> Iterator[tuple[Fraction, Fraction, Fraction]]:
    """Return start and end of each part that has both, with the starts of its paragraphs (s)."""
    import ttconv.model as model

    first, last = element.get_begin(), element.get_end()
    if isinstance(element, model.P):
        return
    for child in element:
        begin = child.get_begin()
        if first and last is not None and begin is not None:
            yield first, last, begin
        yield from _spans_within(child)


def _paragraphs(
    element: Any, origin: Fraction, end: Fraction | None, zero: bool, looks: Spans
) -> Iterator[TimedParagraph]:
    """Yield the timed paragraphs in an element; times count from its parent's start, or, with
    ``zero``, from that of the file. ``looks`` are its parent's formats."""
    import ttconv.model as model

    own_looks = _looks(element, looks)
    if _is_whole(element):
        # How heavy and of what colour all text is, is what captions are anyhow.
        own_looks = tuple(one for one in own_looks if one != "b" and colour_of(one) is None)
    looks = own_looks
    start, own = element.get_begin(), element.get_end()
    base = Fraction(0) if zero else origin
    start = origin if start is None else base + start
    if own is not None:
        end = base + own if end is None else min(end, base + own)
    if not isinstance(element, model.P):
        for child in element:
            yield from _paragraphs(child, start, end, zero, looks)
        return
    spans = [span for span in element if _has_time(span)]
    rest = [child for child in element if child not in spans]
    if spans and element.get_begin() is None and not any(map(_text, rest)):
        # Captions that carry their times on spans: each is a cue of its own.
        for span in spans:
            until = span.get_end()
            begun = start + (span.get_begin() or 0)
            pieces = tuple(_pieces(span, _looks(span, looks)))
            yield TimedParagraph(begun, None if until is None else start + until, pieces)
        return
    pieces = tuple(_pieces(element, looks))
    yield TimedParagraph(start, end, pieces, element.get_region(), _align(element))


def _is_whole(element: Any) -> bool:
    """Whether all text of a document stands in an element."""
    import ttconv.model as model

    parent = element.parent()
    alone = isinstance(element, model.Div) and isinstance(parent, model.Body) and len(parent) == 1
    return isinstance(element, model.Body) or alone


def _align(element: Any) -> str:
    from ttconv.style_properties import StyleProperties

    align = element.get_style(StyleProperties.TextAlign)
    return "center" if align is None else str(align.value)


def _has_time(element: Any) -> bool:
    import ttconv.model as model

    timed = element.get_begin() is not None or element.get_end() is not None
    return isinstance(element, model.Span) and timed


def _text(element: Any) -> str:
    import ttconv.model as model

    if isinstance(element, model.Text):
        return (element.get_text() or "").strip()
    return "".join(piece for piece, _ in _pieces(element, ())).strip()


def _pieces(element: Any, looks: Spans) -> Iterator[tuple[str, Spans]]:
    """Yield the text below an element with its format; a break is a newline, white space one
    space."""
    import ttconv.model as model

    for child in element:
        if isinstance(child, model.Br):
            yield "\n", looks
        elif isinstance(child, model.Text):
            text = " ".join(re.split(r"\s", child.get_text() or ""))
            for place, part in enumerate(_RUBY.split(text)):
                base, _, reading = part.partition(BETWEEN)
                span = as_reading(reading) if place % 2 else None
                yield base, (*looks, span) if span else looks
        else:
            yield from _pieces(child, _looks(child, looks))


def _looks(element: Any, looks: Spans) -> Spans:
    """Return the format of an element's text, from its own attributes and its parent's format."""
    from ttconv.style_properties import StyleProperties

    style, weight = StyleProperties.FontStyle, StyleProperties.FontWeight
    decoration = element.get_style(StyleProperties.TextDecoration)
    for head, says in (
        ("i", _value(element.get_style(style), ("italic", "oblique"))),
        ("b", _value(element.get_style(weight), ("bold",))),
        ("u", decoration.underline if decoration is not None else None),
    ):
        if says is not None:
            looks = tuple(look for look in looks if look != head) + ((head,) if says else ())
    tag = element.get_lang()
    if tag and is_language(tag):
        looks = tuple(look for look in looks if head_of(look) != LANGUAGE)
        looks = (f"{LANGUAGE} {tag}", *looks)
    colour = element.get_style(StyleProperties.Color)
    if colour is not None:
        span = colour_span("#" + "".join(f"{part:02x}" for part in colour.components[:3]))
        looks = tuple(look for look in looks if not colour_of(look))
        # White is what captions are anyhow.
        looks += (span,) if span and span != "c.white" else ()
    return looks


def _value(said: Any, meant: tuple[str, ...]) -> bool | None:
    return None if said is None else said.value in meant


def ms_of(seconds: Fraction) -> int:
    return max(round(seconds * 1000), 0)
