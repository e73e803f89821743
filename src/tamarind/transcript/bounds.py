"""The bounds of any text, wherever it came from: times, words and characters.

Whoever takes a text in from outside holds it to these, so that nothing further in need ask.
"""

from __future__ import annotations

import re

LATEST = 1_000_000_000
"""No time lies beyond this (ms): 277 hours, and far below what a drawing can count to."""

LONGEST_WORD = 1_000
"""Letters in a row without a space; a longer run is parted, since no line could ever hold it."""

_NO_TEXT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")
_PLACEMENT = re.compile(r"(?:(?:vertical|line|position|size|align|region):[^\s<>&]{1,100} ?)*")
_LANGUAGE = re.compile(r"[A-Za-z0-9]{1,8}(?:[-_][A-Za-z0-9]{1,8}){0,8}")


def is_placement(text: str) -> bool:
    """Whether a text consists of WebVTT cue settings only."""
    return _PLACEMENT.fullmatch(text) is not None and "-->" not in text


def is_language(text: str) -> bool:
    """Whether a text looks like a language tag (BCP 47)."""
    return _LANGUAGE.fullmatch(text) is not None


def clean_text(text: str) -> str:
    """Return a text without invalid characters: controls, lone surrogates."""
    return _NO_TEXT.sub("", text)


def is_clean(text: str) -> bool:
    """Whether a text has no invalid characters."""
    return _NO_TEXT.search(text) is None
