"""Find alternatives of a word from the tokens that were nearly chosen in its place.

Where another token was nearly as likely, the text that it leads to was perhaps never followed by
the search; but when it makes another word of the dictionary, that word is a hypothesis: "their" for
"there", "walk" or "walked" for "walks". In a language without a dictionary the network is asked
how likely the rest of the text is after it: a token that only begins a longer word, which is not
there, makes that unlikely.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from math import exp

from tamarind.speech.consensus import bare
from tamarind.speech.recognisers.vocabulary import Vocabulary
from tamarind.speech.search import TokenHypothesis
from tamarind.transcript.unspaced import is_unspaced

LEAST_LIKELY = 0.01
LEAST_LIKELY_SWAP = 0.08
MOST_SWAPS = 12
"""Of one text, the likeliest."""

_LETTERS_THAT_ARE_WORDS = ("a", "A", "I")
_VOWEL = re.compile(r"[AEIOUYaeiouy]")
_WORD = re.compile(r"[A-Za-z]+(?:['’][A-Za-z]+)?")
_LETTERS = re.compile(r"[^\W\d_]+(?:['’-][^\W\d_]+)*['’]?")


@dataclass(frozen=True, slots=True)
class Swap:
    """The text with another token: the word at ``index`` would be ``word``."""

    index: int
    word: str
    tokens: tuple[int, ...]
    likelihood: float
    """Of that token in its place, before what follows is known."""


def swaps(
    text: TokenHypothesis, words: Sequence[tuple[str, range]], vocabulary: Vocabulary
) -> list[Swap]:
    """Return what the last token of each word may have been, for words between spaces.

    ``words`` are those of the text with the places of their tokens. The likeliest come first.
    """
    found = []
    for index, (word, places) in enumerate(words):
        lettered = [at for at in places if _has_letters(vocabulary.piece(text.tokens[at]))]
        if not lettered or is_unspaced(word) or not _LETTERS.search(word):
            continue
        last = lettered[-1]
        begun = b"".join(vocabulary.piece(token) for token in text.tokens[places.start : last])
        ended = b"".join(vocabulary.piece(token) for token in text.tokens[last + 1 : places.stop])
        for token, log in text.near[last]:
            piece = vocabulary.piece(token)
            other = (begun + piece).decode("utf-8", "replace").strip()
            if (
                token != text.tokens[last]
                and exp(log) >= LEAST_LIKELY_SWAP
                and piece.startswith(b" ") == (last == places.start)
                and _LETTERS.fullmatch(other)
                and bare(other) != bare(word)
            ):
                whole = other + ended.decode("utf-8", "replace").rstrip()
                tokens = (*text.tokens[:last], token, *text.tokens[last + 1 :])
                found.append(Swap(index, whole, tokens, exp(log)))
    return sorted(found, key=lambda swap: -swap.likelihood)[:MOST_SWAPS]


def _has_letters(piece: bytes) -> bool:
    return any(chr(b).isalnum() or b >= 128 for b in piece)


def neighbours(
    text: TokenHypothesis,
    places: range,
    vocabulary: Vocabulary,
    is_word: Callable[[str], bool],
) -> dict[str, float]:
    """Return alternatives for the word of the tokens at ``places``, with the likelihood of each.

    ``is_word`` tells of lower-case letters whether they are a word.
    """
    pieces = [vocabulary.piece(text.tokens[place]) for place in places]
    word = b"".join(pieces).decode("utf-8", "replace").strip()
    found = _WORD.search(word)
    if found is None:
        return {}
    before, after = word[: found.start()], word[found.end() :]
    result: dict[str, float] = {}
    for spelled, likelihood in _spellings(text, places, vocabulary):
        other = spelled.decode("utf-8", "replace").strip()
        if (
            likelihood >= LEAST_LIKELY
            and _WORD.fullmatch(other)
            and _VOWEL.search(other)
            and (len(other) > 1 or other in _LETTERS_THAT_ARE_WORDS)
            and bare(other) != bare(word)
            and is_word(other.lower().replace("’", "'"))
        ):
            whole = f"{before}{other}{after}"
            result[whole] = max(result.get(whole, 0.0), likelihood)
    return result


def _spellings(
    text: TokenHypothesis, places: range, vocabulary: Vocabulary
) -> Iterator[tuple[bytes, float]]:
    """Return the word with another token from some index on, and extended by a token that was
    nearly chosen."""
    begun = b""
    for place in (*places, *range(places.stop, min(places.stop + 1, len(text.tokens)))):
        for token, log in text.near[place]:
            piece = vocabulary.piece(token)
            new_word = piece.startswith(b" ")
            if token == text.tokens[place] or not piece or (place == places.stop and new_word):
                continue
            if place == places.start:
                yield piece, exp(log)
            else:
                yield begun + (b"" if new_word else piece), exp(log)
        if place in places:
            begun += vocabulary.piece(text.tokens[place])
