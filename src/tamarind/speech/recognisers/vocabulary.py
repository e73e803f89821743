"""The interface of vocabularies: token numbers and their text."""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from itertools import accumulate, pairwise
from typing import Protocol

from tamarind.transcript.tokens import tokens_of
from tamarind.transcript.unspaced import is_unspaced

_DOUBLED_MARKS = re.compile(r"([,;:!?])\1+")


class Vocabulary(Protocol):
    """Token numbers and their text."""

    def __len__(self) -> int: ...

    def piece(self, token: int) -> bytes:
        """Return the bytes of one token; none for sentinels."""

    def encode(self, text: str) -> list[int]:
        """Return the tokens of a text that begins with a space or in the middle of a word."""

    def words(self, tokens: Sequence[int]) -> list[tuple[str, range]]:
        """Cut a token sequence into words, each with the indices of its tokens."""


def words_of(tokens: Sequence[int], piece: Callable[[int], bytes]) -> list[tuple[str, range]]:
    """Cut tokens into words, which begin with a space; ``piece`` returns the bytes of a token."""
    starts = [
        place for place, token in enumerate(tokens) if place == 0 or piece(token).startswith(b" ")
    ]
    result: list[tuple[str, range]] = []
    for start, stop in pairwise([*starts, len(tokens)]):
        joined = b"".join(piece(token) for token in tokens[start:stop])
        text = _DOUBLED_MARKS.sub(r"\1", joined.decode("utf-8", "replace").strip())
        if is_unspaced(text):
            result.extend(_phrases(tokens, range(start, stop), piece))
        else:
            result.extend((part, range(start, stop)) for part in text.split())
    return result


def _phrases(
    tokens: Sequence[int], places: range, piece: Callable[[int], bytes]
) -> list[tuple[str, range]]:
    """Cut text without spaces into phrases, each with all tokens that have bytes of it."""
    pieces = [piece(tokens[place]) for place in places]
    ends = list(accumulate(map(len, pieces)))
    data = b"".join(pieces)
    result: list[tuple[str, range]] = []
    at = 0
    for part in tokens_of(data.decode("utf-8", "replace")):
        own = part.encode()
        at = max(data.find(own, at), at)
        first, last = bisect_right(ends, at), bisect_left(ends, at + len(own))
        last = min(last, len(pieces) - 1)
        result.append((part, range(places.start + min(first, last), places.start + last + 1)))
        at += len(own)
    return result
