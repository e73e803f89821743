"""The built-in model's vocabulary: convert token numbers to text, and tokens to words."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path

from tamarind.speech.recognisers.vocabulary import words_of

BEGIN = 1
END = 2

_SPACE = "▁".encode()


class BuiltinVocabulary:
    """All tokens of a model as byte strings; "▁" in the file stands for a space."""

    def __init__(self, path: Path) -> None:
        self._pieces = [piece.replace(_SPACE, b" ") for piece in _read_pieces(path.read_bytes())]
        self._numbers: dict[bytes, int] = {}
        for number, piece in enumerate(self._pieces):
            self._numbers.setdefault(piece, number)

    def __len__(self) -> int:
        return len(self._pieces)

    def piece(self, token: int) -> bytes:
        """Return the bytes of one token; none for the two sentinels."""
        return b"" if token in (BEGIN, END) else self._pieces[token]

    def encode(self, text: str) -> list[int]:
        """Return the tokens of a text that begins with a space or in the middle of a word.

        Byte pairs are joined in the order of their numbers, which is the order in which they were
        learnt ("Neural Machine Translation of Rare Words with Subword Units", Sennrich et al.
        2016). Letters that the vocabulary lacks are left out.
        """
        pieces = [letter.encode() for letter in text]
        while True:
            ranks = [self._numbers.get(a + b) for a, b in pairwise(pieces)]
            known = [rank for rank in ranks if rank is not None]
            if not known:
                return [self._numbers[piece] for piece in pieces if piece in self._numbers]
            place = ranks.index(min(known))
            pieces[place : place + 2] = [pieces[place] + pieces[place + 1]]

    def words(self, tokens: Sequence[int]) -> list[tuple[str, range]]:
        """Cut a token sequence into words, each with the indices of its tokens."""
        return words_of(tokens, self.piece)


def _read_pieces(data: bytes) -> list[bytes]:
    """Read byte strings with their lengths: under 128 in one byte, else low + 128 * high - 128."""
    pieces: list[bytes] = []
    place = 0
    while place < len(data):
        length = data[place]
        place += 1
        if length >= 128:
            length += 128 * data[place] - 128
            place += 1
        pieces.append(data[place : place + length])
        place += length
    return pieces
