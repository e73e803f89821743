"""What every network's vocabulary can tell of its tokens."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Protocol

_DOUBLED_MARKS = re.compile(r"([,;:!?])\1+")


class Vocabulary(Protocol):
    """Token numbers and their text."""

    def __len__(self) -> int: ...

    def piece(self, token: int) -> bytes:
        """The bytes of one token; sentinels have none."""

    def encode(self, text: str) -> list[int]:
        """The tokens of a text that begins with a space or in the middle of a word."""

    def words(self, tokens: Sequence[int]) -> list[tuple[str, range]]:
        """Cut a token sequence into words; each with the places of its tokens."""


def words_of(tokens: Sequence[int], piece: Callable[[int], bytes]) -> list[tuple[str, range]]:
    """Words begin with a space; ``piece`` gives the bytes of a token."""
    starts = [
        place for place, token in enumerate(tokens) if place == 0 or piece(token).startswith(b" ")
    ]
    result: list[tuple[str, range]] = []
    for start, stop in pairwise([*starts, len(tokens)]):
        joined = b"".join(piece(token) for token in tokens[start:stop])
        text = _DOUBLED_MARKS.sub(r"\1", joined.decode("utf-8", "replace").strip())
        result.extend((part, range(start, stop)) for part in text.split())
    return result
