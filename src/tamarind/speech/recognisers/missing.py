"""Find words that may be missing: where a token that begins another word was nearly chosen, and the
text with that word inserted is likely too."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import exp

import regex

from tamarind.speech.recognisers.base import HeardWord
from tamarind.speech.recognisers.vocabulary import Vocabulary
from tamarind.speech.search import TokenHypothesis
from tamarind.transcript.tokens import joined

LEAST_LIKELY = 0.03
"""Of the token in its place."""

MOST = 4
"""Of one text, the likeliest."""

LEAST_ODDS = -2.2
"""A text with one more word is a doubt from this natural log of its probability on, beside the text
without it. Of 26 that were so in 18 642 words, 11 were missing, and 8 stood beside a wrong word."""

_WORD = regex.compile(r"\p{L}+")


@dataclass(frozen=True, slots=True)
class Insertion:
    """The text with another word before that at ``index`` (or after the last)."""

    index: int
    word: str
    tokens: tuple[int, ...]
    likelihood: float


def insertions(
    text: TokenHypothesis, words: Sequence[tuple[str, range]], vocabulary: Vocabulary
) -> list[Insertion]:
    """Return what may be missing before each word; ``words`` have the indices of their tokens."""
    found = []
    for index, (_, places) in enumerate(words):
        at = places.start
        for token, log in text.near[at]:
            piece = vocabulary.piece(token)
            word = piece.decode("utf-8", "replace").strip()
            if (
                token != text.tokens[at]
                and exp(log) >= LEAST_LIKELY
                and piece.startswith(b" ")
                and _WORD.fullmatch(word)
            ):
                tokens = (*text.tokens[:at], token, *text.tokens[at:])
                found.append(Insertion(index, word, tokens, exp(log)))
    return sorted(found, key=lambda one: -one.likelihood)[:MOST]


def with_missing(
    words: Sequence[HeardWord], found: Sequence[tuple[Insertion, float]]
) -> list[HeardWord]:
    """Return the words, with those probably missing as alternatives of the next word, which becomes
    a doubt; each insertion has the natural log of its odds."""
    result = list(words)
    for insertion, odds in sorted(found, key=lambda pair: pair[1]):
        if odds < LEAST_ODDS or insertion.index >= len(result):
            continue
        word = result[insertion.index]
        reading = joined((insertion.word, word.text))
        others = (reading, *(other for other in word.others if other != reading))
        result[insertion.index] = replace(word, others=others, at_most=1 / (1 + exp(odds / 2)))
    return result
