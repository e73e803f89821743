"""What every network's vocabulary can tell of its tokens."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol


class Vocabulary(Protocol):
    """Token numbers and their text."""

    def __len__(self) -> int: ...

    def piece(self, token: int) -> bytes:
        """The bytes of one token; sentinels have none."""

    def encode(self, text: str) -> list[int]:
        """The tokens of a text that begins with a space or in the middle of a word."""

    def words(self, tokens: Sequence[int]) -> list[tuple[str, range]]:
        """Cut a token sequence into words; each with the places of its tokens."""
