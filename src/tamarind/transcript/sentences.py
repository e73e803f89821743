"""Punctuation around words, and which marks end a sentence or clause."""

from __future__ import annotations

OPENERS = "\"'“‘«([¿¡"
CLOSERS = "\"'”’)]»」』）】"
MARKS = ".,;:?!…"

_CLAUSE_ENDS = (",", ";", ":", "–", "—", "、", "，", "；", "：", "،", "؛")
_SENTENCE_ENDS = (".", "?", "!", "…", "。", "？", "！", "؟", "۔", "।", "॥", "።", "։")
_ABBREVIATIONS = frozenset("mr. mrs. ms. dr. prof. st. no. vs. e.g. i.e. approx. sr. sra.".split())


def ends_sentence(word: str) -> bool:
    """Whether a word has a full stop, question or exclamation mark that ends a sentence."""
    bare = word.rstrip(CLOSERS)
    return bare.endswith(_SENTENCE_ENDS) and bare.casefold() not in _ABBREVIATIONS


def ends_clause(word: str) -> bool:
    """Whether a word has a mark at which a reader breathes."""
    return word.rstrip(CLOSERS).endswith(_CLAUSE_ENDS)


def bare(word: str) -> str:
    """Return a word in lower case without the punctuation around it."""
    return word.strip(OPENERS + CLOSERS).rstrip(MARKS).casefold()
