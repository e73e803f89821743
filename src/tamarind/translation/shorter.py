"""Shorten the wording of a cue by words that it can do without."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from importlib import resources

from tamarind.language.clean import disfluencies
from tamarind.transcript.languages import base_of
from tamarind.transcript.model import Cue, Word
from tamarind.transcript.sentences import bare

MOST_SHARE = 0.5
"""If more of the words than this were left out, little would be left of what is said."""


def left_out(words: Sequence[Word], language: str) -> list[int]:
    """Return the indices of fillers, repetitions and padding among the words of a cue, in order."""
    tokens = [word.text for word in words]
    said = [bare(token) for token in tokens]
    gone = {place for found in disfluencies(tokens, ()) for place in range(found.first, found.last)}
    for phrase in _padding(base_of(language)):
        for first in range(len(said) - len(phrase) + 1):
            if said[first : first + len(phrase)] == list(phrase):
                gone.update(range(first, first + len(phrase)))
    return sorted(gone) if 0 < len(gone) <= MOST_SHARE * len(words) else []


def without(cue: Cue, places: Sequence[int]) -> Cue:
    """Return the cue without those words; the sentence keeps its final mark and its capital."""
    kept: list[Word] = []
    capital = False
    for place, word in enumerate(cue.words):
        if place in places:
            capital = capital or (not kept and word.text[:1].isupper())
            if kept and word.text[-1:] in ".?!…":
                text = kept[-1].text.rstrip(",;") + word.text[-1]
                kept[-1] = replace(kept[-1], text=text)
            continue
        if capital and not kept:
            word = replace(word, text=word.text[:1].upper() + word.text[1:])
        kept.append(word)
    return replace(cue, words=tuple(kept), breaks=None)


@cache
def _padding(language: str) -> tuple[tuple[str, ...], ...]:
    table = json.loads(resources.files(__package__).joinpath("padding.json").read_text("utf-8"))
    phrases = [tuple(phrase.split()) for phrase in table.get(language, ())]
    return tuple(sorted(phrases, key=len, reverse=True))
