"""A multilingual network's vocabulary: convert token numbers to text, and tokens to words.

Its pieces are bytes, joined by byte pairs (Sennrich et al. 2016), written in the file with a letter
for every byte (Radford et al. 2019). Other tokens tell the network what to do, or tell of times.
"""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from pathlib import Path

from tokenizers import Tokenizer

from tamarind.speech.recognisers.modelfile import ModelFileError
from tamarind.speech.recognisers.vocabulary import words_of

BEGIN = "<|startoftranscript|>"
TRANSCRIBE, TRANSLATE = "<|transcribe|>", "<|translate|>"
NO_TIMES = "<|notimestamps|>"
END = "<|endoftext|>"
_LANGUAGE = re.compile(r"<\|([a-z]{2,3})\|>")


class MultilingualVocabulary:
    """All tokens of a model. Raises ModelFileError if its files cannot be read."""

    def __init__(self, folder: Path) -> None:
        try:
            self._tokenizer = Tokenizer.from_file(str(folder / "tokenizer.json"))
            data = json.loads((folder / "config.json").read_text(encoding="utf-8"))
            self._suppressed = [int(token) for token in data.get("suppress_ids", ())]
        except Exception as error:  # the library has no class of its own for its reasons
            raise ModelFileError("its vocabulary cannot be read") from error
        pieces = self._tokenizer.get_vocab(with_added_tokens=True)
        self._numbers: dict[str, int] = pieces
        self.begin, self.end = self._number(BEGIN), self._number(END)
        letters = _bytes_of_letters()
        self._pieces: list[bytes] = [b""] * (max(pieces.values()) + 1)
        for piece, number in pieces.items():
            if number < self.end:
                self._pieces[number] = bytes(letters.get(letter, 63) for letter in piece)
        found = ((match, number) for piece, number in pieces.items()
                 if (match := _LANGUAGE.fullmatch(piece)))  # fmt: skip
        self.languages = {match[1]: number for match, number in found}

    def __len__(self) -> int:
        return len(self._pieces)

    def prompt(self, language: str, into_english: bool = False) -> list[int]:
        """Return the tokens that tell the network the language and the task."""
        told = [self.begin]
        if self.languages:
            task = TRANSLATE if into_english else TRANSCRIBE
            told += [self.languages[language], self._number(task)]
        return [*told, self._number(NO_TIMES)]

    @property
    def barred(self) -> list[int]:
        """Return tokens that are no text: times, tasks, and signs for sounds."""
        return [*self._suppressed, *range(self.end + 1, len(self._pieces))]

    def piece(self, token: int) -> bytes:
        """Return the bytes of one token; none if it is no text."""
        return self._pieces[token]

    def encode(self, text: str) -> list[int]:
        """Return the tokens of a text that begins with a space or in the middle of a word."""
        ids: list[int] = self._tokenizer.encode(text, add_special_tokens=False).ids
        return ids

    def words(self, tokens: Sequence[int]) -> list[tuple[str, range]]:
        """Cut a token sequence into words, each with the indices of its tokens."""
        return words_of(tokens, self.piece)

    def _number(self, name: str) -> int:
        if name not in self._numbers:
            raise ModelFileError(f"its vocabulary has no {name}")
        return self._numbers[name]


def _bytes_of_letters() -> dict[str, int]:
    """Return the letter that stands for each byte: itself if visible, else one from 256 on."""
    seen = [*range(33, 127), *range(161, 173), *range(174, 256)]
    unseen = [byte for byte in range(256) if byte not in seen]
    return {chr(byte): byte for byte in seen} | {
        chr(256 + place): byte for place, byte in enumerate(unseen)
    }
