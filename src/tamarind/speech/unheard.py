"""Find speech without text: somebody speaks, and the recogniser wrote nothing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tamarind.transcript.model import Word

SHORTEST_MS = 1_000
"""Less than this is a breath, a laugh, or the tail of a word."""

BESIDE_WORD_MS = 150


def unheard(speech: Sequence[tuple[int, int]], words: Sequence[Word]) -> list[tuple[int, int]]:
    """Return the parts of ``speech`` (from, to, in ms, in order) without words, if they are
    long."""
    return [
        (start, end)
        for stretch in speech
        for start, end in _between(stretch, words)
        if end - start >= SHORTEST_MS
    ]


def _between(stretch: tuple[int, int], words: Sequence[Word]) -> Iterator[tuple[int, int]]:
    at, last = stretch
    for word in words:
        if word.end + BESIDE_WORD_MS > at and word.start - BESIDE_WORD_MS < last:
            yield at, word.start - BESIDE_WORD_MS
            at = max(at, word.end + BESIDE_WORD_MS)
    yield at, last
