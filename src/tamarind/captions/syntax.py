"""Score how much a reader stumbles over a line or caption that ends between two words.

The scale goes from 0 (a sentence ends) to 6 (the border tears a phrase apart). It follows what
the literature on subtitle segmentation agrees on: break at sentence ends, then at clauses, then
before prepositions and conjunctions; never within a noun phrase, a name, or a verb with its
auxiliary (Karamitroglou, "A Proposed Set of Subtitling Standards in Europe", 1998; Perego, "What
would we read best?", 2008). Phrases are told from closed classes of words and from spelling.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tamarind.captions.functionwords import NUMBER_WORDS, UNITS, FunctionWords, function_words
from tamarind.transcript.sentences import OPENERS, bare, ends_clause, ends_sentence

SENTENCE, CLAUSE, PHRASE, PLAIN = 0.0, 0.3, 0.9, 1.6
NEAR, TORN = 3.0, 6.0
"""Costs of a border: at a sentence end, a clause end, before a phrase, between words of no known
kind, between words that are close, and within a phrase."""

MAYBE_A_NOUN = 2.7
"""After a determiner and one more word, which may be an adjective ("the long | pool") or not."""

ALONE = 1.2
"""More for leaving the first or last word of a sentence alone on its side of the border."""

_NUMBER = re.compile(r"^[£$€]?\d[\d.,:/]*$")
_ADJECTIVE = re.compile(r".{3,}(?:ous|ful|less|ive|able|ible|ical|ish|ary)$")


def border_costs(
    words: Sequence[str], language: str = "en", before: str | None = None
) -> NDArray[np.float64]:
    """Return the cost of a border before each word, shape (words + 1,), 0 at both ends; ``before``
    is the word in front of them, if they do not begin the text."""
    known = function_words(language)
    plain = [bare(word) for word in words]
    costs = np.zeros(len(words) + 1)
    memory: dict[tuple[str, str, str, bool], float] = {}
    starts = before is None or ends_sentence(before)
    for place in range(1, len(words)):
        left, right = words[place - 1], words[place]
        # A capital says nothing where a sentence begins.
        key = (left, right, plain[place], starts)
        cost = memory.get(key)
        if cost is None:
            cost = _cost(left, right, plain[place - 1], plain[place], known, starts)
            memory[key] = cost
        earlier = plain[place - 2] if place > 1 else bare(before or "")
        if cost == PLAIN and earlier in known.determiners:
            cost = MAYBE_A_NOUN
        if cost >= PHRASE and (starts or ends_sentence(right)):
            cost = min(cost + ALONE, TORN)
        costs[place] = cost
        starts = ends_sentence(left)
    return costs


def _cost(
    left: str, right: str, bare_left: str, bare_right: str, known: FunctionWords, starts: bool
) -> float:
    """Score one border; ``starts`` says that ``left`` begins a sentence, so that its capital says
    nothing."""
    if ends_sentence(left):
        return SENTENCE
    if ends_clause(left):
        return CLAUSE
    if right[:1] in "–—" or left[-1:] == "-":
        return CLAUSE if right[:1] in "–—" else NEAR
    if bare_left in known.determiners or bare_left in known.prepositions:
        return TORN
    if bare_left in known.titles or left.casefold() in known.titles:
        return TORN
    if _is_number(bare_left) and (bare_right in UNITS or _is_number(bare_right)):
        return TORN
    if bare_left in NUMBER_WORDS and bare_right in UNITS | NUMBER_WORDS:
        return TORN
    if _is_name(left) and _is_name(right) and not starts:
        return TORN
    if bare_left in ("hundred", "thousand") and bare_right == "and":
        return NEAR
    if bare_left in known.conjunctions or bare_left in known.pronouns:
        return TORN - 1
    if bare_left in known.auxiliaries:
        return TORN - 1.5 if bare_right not in known.prepositions else NEAR
    if bare_right in known.objects:
        return NEAR
    if bare_right in known.particles:
        return NEAR
    if _is_number(bare_left) or (starts and _is_name(left) and _is_name(right)):
        return NEAR
    if bare_right in known.conjunctions:
        return PHRASE
    if bare_right in known.prepositions:
        return PHRASE + 0.3
    if bare_right in known.pronouns:
        return PHRASE + 0.2
    if bare_right in known.determiners:
        return PHRASE + 0.5
    if bare_left in NUMBER_WORDS:
        return MAYBE_A_NOUN if bare_left == "one" else NEAR
    if bare_left.endswith(("'s", "’s")) and bare_left not in known.pronouns:
        return TORN
    if _ADJECTIVE.match(bare_left):
        return NEAR
    if _is_number(bare_right) or bare_right in NUMBER_WORDS:
        return MAYBE_A_NOUN
    return PLAIN


def _is_number(bare: str) -> bool:
    return bool(_NUMBER.match(bare))


def _is_name(word: str) -> bool:
    letters = word.lstrip(OPENERS)
    return letters[:1].isupper() and letters[1:2].islower()
