"""What else a word may have been, from the tokens that nearly stood in its place.

Where another token was nearly as likely, the text that it leads to was perhaps never followed by
the search; but when it makes another word of the dictionary, that word is a hypothesis: "their" for
"there", "walk" or "walked" for "walks".
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from math import exp

from tamarind.speech.consensus import bare
from tamarind.speech.recognisers.vocabulary import Vocabulary
from tamarind.speech.search import TokenHypothesis

LEAST_LIKELY = 0.01

_LETTERS_THAT_ARE_WORDS = ("a", "A", "I")
_VOWEL = re.compile(r"[AEIOUYaeiouy]")
_WORD = re.compile(r"[A-Za-z]+(?:['’][A-Za-z]+)?")


def neighbours(
    text: TokenHypothesis,
    places: range,
    vocabulary: Vocabulary,
    is_word: Callable[[str], bool] | None,
) -> dict[str, float]:
    """Other words for the one at ``places`` of a text's tokens, with the likelihood of each.

    ``is_word`` tells of lower-case letters whether they are a word; without it none are found.
    """
    if is_word is None:
        return {}
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
    """The word with another token from some place on, and longer by a token that nearly came."""
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
