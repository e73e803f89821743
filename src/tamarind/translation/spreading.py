"""Spread the translation of a sentence over the cues of its source.

Where the target is cut is decided for all borders together, by a dynamic program. It weighs:

- its own grammar, by the costs of a border that captions are laid out with (``captions.syntax``);
- what is said when: the share of letters that each cue has of the source;
- what matches by itself: numbers, names and words of the same origin, in source and target;
- where there is one, a translation of each cue's words alone (a hint). As a text it is worse, since
  it knows nothing of the rest of the sentence, but most of its words return in the whole and say
  which cue they belong to.

The idea of scoring monotone segmentations by lengths and by words that match goes back to Gale and
Church, "A Program for Aligning Sentences in Bilingual Corpora" (1993), and Wu, "Aligning a Parallel
English-Chinese Corpus Statistically with Lexical Criteria" (1994).
"""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tamarind.captions.functionwords import function_words
from tamarind.captions.syntax import border_costs
from tamarind.transcript.sentences import bare
from tamarind.transcript.tokens import joined, tokens_of

BORDER, LENGTH, MATCH, EMPTY = 0.5, 3.0, 1.0, 50.0
"""Weights of a border's grammar, of lengths out of proportion, and of words that match; what it
costs to leave a cue without words."""

FUNCTION_WORD = 0.4
"""A word of these classes may return anywhere, and counts so much."""

COGNATE_LETTERS, COGNATE_LIKENESS = 4, 0.75
SHORTEST_SHARE = 12.0
"""Letters below which a share's deviation counts no more."""


def spread_text(
    pieces: Sequence[str], target: str, language: str, hints: Sequence[str] | None = None
) -> list[str]:
    """Return a text for each piece of the source, together the target; ``hints`` are translations
    of the pieces alone, ``language`` is the target's."""
    tokens = tokens_of(target)
    if len(pieces) <= 1 or not tokens:
        return [target if place == 0 else "" for place in range(len(pieces))]
    cuts = _cuts(pieces, tokens, language, hints)
    edges = [0, *cuts, len(tokens)]
    return [joined(tokens[a:b]) for a, b in pairwise(edges)]


def _cuts(
    pieces: Sequence[str], tokens: Sequence[str], language: str, hints: Sequence[str] | None
) -> list[int]:
    """Return the tokens before which to cut, by the cheapest path over (piece, place)."""
    count, size = len(pieces), len(tokens)
    borders = BORDER * border_costs(tokens, language)
    ends = np.concatenate([[0], np.cumsum([len(token) + 1 for token in tokens])]).astype(float)
    said = np.array([max(len(piece), 1) for piece in pieces], float)
    expected = said / said.sum() * ends[-1]
    gains = np.zeros((count, size + 1))
    for place in range(count):
        hint = hints[place] if hints is not None else ""
        gains[place, 1:] = np.cumsum(MATCH * _evidence(tokens, pieces[place], hint, language))
    best = np.full((count + 1, size + 1), np.inf)
    best[0, 0] = 0.0
    origins = np.zeros((count + 1, size + 1), int)
    for place in range(count):
        last = place == count - 1
        for stop in [size] if last else range(size + 1):
            starts = np.arange(stop + 1)
            letters = ends[stop] - ends[starts]
            off = (letters - expected[place]) / max(expected[place], SHORTEST_SHARE)
            cost = best[place, starts] + LENGTH * np.square(off)
            cost -= gains[place, stop] - gains[place, starts]
            cost += np.where(starts == stop, EMPTY, 0.0)
            cost += 0.0 if last else borders[stop]
            origins[place + 1, stop] = int(np.argmin(cost))
            best[place + 1, stop] = float(cost.min())
    at, cuts = size, []
    for place in range(count, 1, -1):
        at = int(origins[place, at])
        cuts.append(at)
    return cuts[::-1]


def _evidence(tokens: Sequence[str], source: str, hint: str, language: str) -> NDArray[np.float64]:
    """Return the evidence for each target token belonging to a piece, from 0 to 1."""
    known = function_words(language)
    small = known.determiners | known.prepositions | known.conjunctions | known.pronouns
    hinted = {_plain(word) for word in tokens_of(hint)} - {""}
    said = {_plain(word) for word in tokens_of(source)} - {""}
    result = np.zeros(len(tokens))
    for place, token in enumerate(tokens):
        word = _plain(token)
        if not word:
            continue
        weight = FUNCTION_WORD if bare(token) in small else 1.0
        if word in hinted or (word in said and (weight == 1.0 or word.isdigit())):
            result[place] = weight
        elif weight == 1.0:
            alike = max((_likeness(word, other) for other in hinted | said), default=0.0)
            result[place] = alike if alike >= COGNATE_LIKENESS else 0.0
    return result


def _plain(word: str) -> str:
    """Return a text in lower case without accents and punctuation."""
    parts = unicodedata.normalize("NFKD", bare(word).strip("—–-"))
    return "".join(letter for letter in parts if not unicodedata.combining(letter))


def _likeness(one: str, other: str) -> float:
    """Return the share of initial letters that two words have in common; cognates have many."""
    if min(len(one), len(other)) < COGNATE_LETTERS:
        return 0.0
    common = 0
    for a, b in zip(one, other, strict=False):
        if a != b:
            break
        common += 1
    return common / ((len(one) + len(other)) / 2) if common >= COGNATE_LETTERS else 0.0
