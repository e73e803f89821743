"""Split words of scripts without spaces, which older jobs keep as whole runs, into phrases."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tamarind.transcript.model import Word
from tamarind.transcript.reconcile import held
from tamarind.transcript.tokens import Glued, tokens_of


def in_phrases(words: Sequence[Word]) -> tuple[Word, ...]:
    """Return the words, with those that hold several phrases split; the phrases share the word's
    time."""
    result: list[Word] = []
    for word in words:
        parts = [word.text] if word.text.isascii() else tokens_of(word.text)
        if len(parts) < 2:
            result.append(word)
            continue
        length, at = word.end - word.start, 0
        own: list[Word] = []
        for part in parts:
            start = word.start + length * at // len(word.text)
            at += len(part)
            end = word.start + length * at // len(word.text)
            glued = isinstance(part, Glued) or (not own and word.glued)
            own.append(
                replace(word, text=str(part), start=start, end=end, alternatives=(), glued=glued)
            )
        result += held(own, word.start, max(word.end, word.start + len(own)))
    return tuple(result)
