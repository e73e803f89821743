"""Split texts into tokens, and join them: words between spaces, and phrases of scripts without
spaces.

``joined(tokens_of(text))`` is the text with single spaces, whatever its script.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from tamarind.transcript.bounds import LONGEST_WORD
from tamarind.transcript.unspaced import is_unspaced, letters_in, phrases_of

BLANKS = " \t\r\f\v\u00a0"
"""What counts for nothing at the ends of a line; the wide space of Chinese and Japanese does."""

_WORD = re.compile(r"(?:\S|[\u3000\u00a0\u202f])+")
_PLAIN_SPACE = re.compile(
    r"(?<![\d«‹„“–—-])[\u00a0\u202f](?![\d»›”;:!?%‰°€$£–—-])|^[\u00a0\u202f]+|[\u00a0\u202f]+$"
)
"""A no-break space that keeps no mark or figure with what it belongs to is one like others."""


class Glued(str):
    """A token that follows the one before without a space."""

    __slots__ = ()


def tokens_of(text: str) -> list[str]:
    """Return the tokens of a text, none longer than ``LONGEST_WORD``. A mark or number that a
    no-break space ties to a word is in one token with it."""
    if "\u00a0" in text or "\u202f" in text:
        text = _PLAIN_SPACE.sub(" ", text)
    if is_unspaced(text) or "\u00a0" in text or "\u202f" in text:
        # The wide space of these scripts is a mark of theirs, and stays where it is.
        return [token for word in _WORD.findall(text) for token in _parted(word)]
    words = text.split()
    if max(map(len, words), default=0) <= LONGEST_WORD:
        return words
    return [token for word in words for token in _parted(word)]


def joined(tokens: Iterable[str]) -> str:
    """Return the text of tokens."""
    parts: list[str] = []
    for token in tokens:
        if parts and not isinstance(token, Glued):
            parts.append(" ")
        parts.append(token)
    return "".join(parts)


def spans_of(text: str, tokens: Iterable[str]) -> tuple[tuple[int, int], ...]:
    """Return the ranges of tokens in a text that has them in order, with any spaces between."""
    spans: list[tuple[int, int]] = []
    at = 0
    for token in tokens:
        at = text.find(token[:1], at) if token else at
        if at < 0:
            break
        spans.append((at, min(at + len(token), len(text))))
        at += len(token)
    return tuple(spans)


def words_in(text: str) -> int:
    """Return how many words a token counts for: in a script without spaces every letter is one."""
    return max(letters_in(text), 1)


def _parted(word: str) -> list[str]:
    parts = phrases_of(word) if is_unspaced(word) else [word]
    short = [
        part[at : at + LONGEST_WORD] for part in parts for at in range(0, len(part), LONGEST_WORD)
    ]
    return [short[0], *map(Glued, short[1:])] if is_unspaced(word) else short
