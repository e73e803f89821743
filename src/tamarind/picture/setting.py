"""Typeset a caption: which glyphs stand where on a picture of a size.

Words are shaped by HarfBuzz one by one and set beside one another in the order in which they are
seen: a line of a script that runs from right to left is turned by the rule of the Unicode
Bidirectional Algorithm (UAX 9, L2) on whole words.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from tamarind.picture.caption import Caption, Line
from tamarind.picture.faces import GlyphRun, opened, opened_emoji, runs, usual
from tamarind.picture.looks import Box, Letters, Look, Place, Side, SpeakerSign

Size = tuple[int, int]

SMALLEST = 0.55
"""Letters of lines that are too long get smaller, but not more than by this; then words go on to
lines of their own."""

SMALLEST_SIZE = 2.0
"""In pixels; smaller letters are not drawn."""

BOX_ABOVE = 0.5
"""How much of the padding stands above and below the letters."""

BETWEEN_LANGUAGES = 0.25
DASH = "–"
_RIGHT_TO_LEFT, _NUMBER = ("R", "AL"), ("EN", "AN")


@dataclass(frozen=True, slots=True)
class SetLine:
    """A typeset line: its words with their left edges, and its width.

    ``number`` of a word is its place in the caption, None for what nobody says (a dash, a name)."""

    words: tuple[tuple[float, SetWord], ...]
    width: float
    letters: Letters
    size: float


@dataclass(frozen=True, slots=True)
class SetWord:
    runs: tuple[GlyphRun, ...]
    widths: tuple[float, ...]
    number: int | None

    @property
    def width(self) -> float:
        return sum(self.widths)


@dataclass(frozen=True, slots=True)
class PlacedLine:
    """A line on the picture: its left edge and its baseline."""

    line: SetLine
    left: float
    baseline: float
    is_first: bool


def placed_lines(caption: Caption, look: Look, size: Size) -> list[PlacedLine]:
    """Return the lines of a caption on a picture (width, height), in both languages."""
    width, height = size
    em, most = look.letters.size * height, look.standing.width * width
    if em < SMALLEST_SIZE:
        return []
    first = _set_lines(_spoken(caption, look), look.letters, em, most)
    own = replace(
        look.letters, colour=look.second.colour, weight=look.second.weight, capitals=False
    )
    lines = [_numbered(line, None) for line in caption.second]
    second = _set_lines(lines, own, em * look.second.size, most)
    blocks = [second, first] if look.second.above else [first, second]
    return _placed([block for block in blocks if block], look, size, caption.place)


# What is written


_Written = list[tuple[str, bool, bool, int | None]]
"""Words of a line: text, whether in italics, whether glued, number."""


def _spoken(caption: Caption, look: Look) -> list[_Written]:
    lines: list[_Written] = []
    number = 0
    for line in caption.lines:
        lines.append(_numbered(line, number))
        number += len(line)
    sign = look.words.speakers
    if lines and sign is SpeakerSign.COLOUR and caption.changes and caption.voice is not None:
        lines[0].insert(0, (DASH, False, False, None))
    elif lines and sign is SpeakerSign.NAME and caption.changes and caption.speaker:
        name = [(word, False, False, None) for word in f"{caption.speaker}:".split()]
        lines[0][:0] = name
    if look.letters.capitals:
        lines = [[(_capitals(text), *rest) for text, *rest in line] for line in lines]  # type: ignore[misc]
    return lines


def _capitals(text: str) -> str:
    """Return a text in capitals; letters without a single capital stay ("ß" would become two)."""
    return "".join(letter.upper() if len(letter.upper()) == 1 else letter for letter in text)


def _numbered(line: Line, first: int | None) -> _Written:
    return [
        (word.text, word.italic, word.glued, None if first is None else first + place)
        for place, word in enumerate(line)
    ]


# Where words stand


def _set_lines(
    lines: Sequence[_Written], letters: Letters, em: float, most: float
) -> list[SetLine]:
    """Typeset lines in letters of a size, or of a smaller one if they are wider than ``most``."""
    lines = [line for line in lines if line]
    if not lines:
        return []
    set_ = [_set(line, letters, em) for line in lines]
    widest = max(one.width for one in set_)
    if widest <= most:
        return set_
    share = max(most / widest, SMALLEST)
    return [_set(line, letters, em * share) for line in _wrapped(lines, letters, em * share, most)]


def _wrapped(
    lines: Sequence[_Written], letters: Letters, em: float, most: float
) -> Iterator[_Written]:
    """Return lines that fit, with words moved to the next where they do not."""
    for line in lines:
        own: _Written = []
        for word in line:
            if own and _set([*own, word], letters, em).width > most * 1.0001:
                yield own
                own = []
            own.append(word)
        yield own


def _set(line: _Written, letters: Letters, em: float) -> SetLine:
    space = _length(" ", letters, em)
    words = [_word(*word, letters, em) for word in line]
    order = _order([text for text, *_ in line])
    at = 0.0
    placed: list[tuple[float, SetWord]] = []
    for position, place in enumerate(order):
        if position:
            before = order[position - 1]
            glued = line[max(place, before)][2] and abs(place - before) == 1
            at += 0.0 if glued else space
        placed.append((at, words[place]))
        at += words[place].width
    return SetLine(tuple(placed), at, letters, em)


def _word(
    text: str, italic: bool, _glued: bool, number: int | None, letters: Letters, em: float
) -> SetWord:
    found = tuple(runs(text, letters.face, letters.weight, italic))
    return SetWord(found, tuple(_run_length(run, letters, em) for run in found), number)


@lru_cache(4096)
def _run_length(run: GlyphRun, letters: Letters, em: float) -> float:
    if run.font is None:
        return 0.0
    if run.is_emoji:
        font, scale = opened_emoji(run.font, round(em, 2))
        return font.getlength(run.text) * scale
    if letters.spacing and not is_joined(run.text):
        font = opened(run.font, round(em, 2))
        return sum(font.getlength(one) + letters.spacing * em for one in clusters(run.text))
    return opened(run.font, round(em, 2)).getlength(run.text)


def _length(text: str, letters: Letters, em: float) -> float:
    font = opened(usual(letters.face, letters.weight), round(em, 2))
    return font.getlength(text) + letters.spacing * em


def is_joined(text: str) -> bool:
    """Whether letters are written joined, so that nothing may come between them."""
    return any(unicodedata.bidirectional(one) == "AL" or _is_brahmic(one) for one in text)


def _is_brahmic(letter: str) -> bool:
    return "\u0900" <= letter <= "\u0dff"


def clusters(text: str) -> list[str]:
    """Return letters together with their combining marks."""
    found: list[str] = []
    for letter in text:
        if found and unicodedata.combining(letter):
            found[-1] += letter
        else:
            found.append(letter)
    return found


def _order(words: Sequence[str]) -> list[int]:
    """Return the indices of words from left to right."""
    kinds = [_direction(word) for word in words]
    strong = [kind for kind in kinds if kind in "lr"]
    base = strong[0] if strong else "l"
    resolved = list(kinds)
    for place, kind in enumerate(kinds):
        if kind == "-":
            before = next((k for k in reversed(resolved[:place]) if k != "-"), base)
            after = next((k for k in kinds[place + 1 :] if k != "-"), base)
            resolved[place] = before if before == after and before in "lr" else base
        elif kind == "n":
            resolved[place] = "n"
    level = {"l": 0, "r": 1, "n": 0} if base == "l" else {"r": 1, "l": 2, "n": 2}
    levels = [level[kind] for kind in resolved]
    if base == "l":
        # A number after words from right to left goes with them.
        for place in range(1, len(levels)):
            if resolved[place] == "n" and levels[place - 1] > 0:
                levels[place] = 2
    order = list(range(len(words)))
    for lowest in range(max(levels, default=0), 0, -1):
        place = 0
        while place < len(order):
            end = place
            while end < len(order) and levels[order[end]] >= lowest:
                end += 1
            order[place:end] = order[place:end][::-1]
            place = max(end, place + 1)
    return order


def _direction(word: str) -> str:
    """Return the direction of a word: left to right, right to left, a number, or neutral."""
    number = False
    for letter in word:
        kind = unicodedata.bidirectional(letter)
        if kind == "L":
            return "l"
        if kind in _RIGHT_TO_LEFT:
            return "r"
        number = number or kind in _NUMBER
    return "n" if number else "-"


def _placed(
    blocks: Sequence[list[SetLine]], look: Look, size: Size, own: Place | None
) -> list[PlacedLine]:
    width, height = size
    standing = look.standing
    lines = [(line, block is blocks[0]) for block in blocks for line in block]
    if not lines:
        return []
    steps = [line.size * standing.line_height for line, _ in lines]
    gaps = [0.0] * len(lines)
    if len(blocks) > 1:
        gaps[len(blocks[0])] = BETWEEN_LANGUAGES * blocks[0][0].size
    total = sum(steps) + sum(gaps)
    widest = max(line.width for line, _ in lines)
    pad = look.ground.padding * lines[0][0].size if look.ground.box is not Box.NONE else 0.0
    margin = standing.safe * height + pad * BOX_ABOVE
    place = own if own is not None and standing.place is not Place.FREE else standing.place
    middle = width * (standing.across if place is Place.FREE else 0.5)
    if place is Place.TOP:
        top = margin
    elif place is Place.BOTTOM:
        top = height - margin - total
    else:
        top = standing.down * height - total / 2
    left = middle - widest / 2
    if place is not Place.FREE and standing.side is not Side.CENTRE:
        side = standing.safe * width + pad
        left = side if standing.side is Side.LEFT else width - side - widest
    edge = standing.safe * min(width, height) + pad
    left = min(max(left, edge), max(width - edge - widest, pad))
    top = min(max(top, margin), max(height - margin - total, 0.0))
    placed = []
    at = top
    for (line, _), step, gap in zip(lines, steps, gaps, strict=True):
        room = widest - line.width
        share = {Side.LEFT: 0.0, Side.CENTRE: 0.5, Side.RIGHT: 1.0}[standing.side]
        at += gap
        ascent, descent = extent(line)
        baseline = at + (step - ascent - descent) / 2 + ascent
        placed.append(PlacedLine(line, left + room * share, baseline, line.letters is look.letters))
        at += step
    return placed


def extent(line: SetLine) -> tuple[float, float]:
    """Return how far ordinary letters reach above and below the baseline: capitals and a "p"."""
    font = opened(usual(line.letters.face, line.letters.weight), round(line.size, 2))
    _, top, _, _ = font.getbbox("Hd", anchor="ls")
    _, _, _, bottom = font.getbbox("gp", anchor="ls")
    return -float(top), float(bottom)
