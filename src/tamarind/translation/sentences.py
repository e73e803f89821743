"""Sentences across the borders of cues, the units of translation.

A sentence ends with its mark, where another speaker begins, with its paragraph, or at a long pause.
One that goes on and on is cut where its grammar allows. A remark in brackets, such as
"[inaudible 00:12:03]", is never part of a sentence that begins or ends with it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from tamarind.captions.syntax import border_costs
from tamarind.transcript.model import Cue, Word, text_of
from tamarind.transcript.sentences import ends_sentence

MOST_WORDS = 40
"""A longer sentence is cut: small models lose their way in it."""

PAUSE_MS = 2_000
"""After so long a pause a new sentence begins even without a mark."""

SHORT_PAUSE_MS = 700
"""After such a one a capital is taken for the start of a sentence, as in texts without marks."""

_SONG = "♪♫"
_STARTS = f"-–—{_SONG}"
"""With these a speaker or a song begins."""


@dataclass(frozen=True, slots=True)
class SentencePiece:
    """The words [``first``, ``last``) of a cue, which belong to one sentence."""

    cue: Cue
    first: int
    last: int

    @property
    def words(self) -> tuple[Word, ...]:
        """Its words."""
        return self.cue.words[self.first : self.last]

    @property
    def text(self) -> str:
        """Its words on one line."""
        return text_of(self.words)


@dataclass(frozen=True, slots=True)
class Sentence:
    """Pieces of successive cues. A remark is translated by a table."""

    pieces: tuple[SentencePiece, ...]
    is_remark: bool = False

    @property
    def text(self) -> str:
        """All its words on one line."""
        return text_of([word for piece in self.pieces for word in piece.words])

    @property
    def language(self) -> str:
        """Its own language if that is not the text's, else ""."""
        return self.pieces[0].cue.language


def sentences_of(cues: Sequence[Cue], language: str) -> list[Sentence]:
    """Return the sentences of some successive cues; each word is in exactly one."""
    found: list[Sentence] = []
    open_pieces: list[SentencePiece] = []

    def close() -> None:
        if open_pieces:
            found.extend(_shorter(tuple(open_pieces), language))
            open_pieces.clear()

    before: Cue | None = None
    for cue in cues:
        if not cue.words:
            continue
        if before is not None and _begins_anew(before, cue):
            close()
        first = 0
        for start, stop in _remarks(cue.words):
            if not _may_stay_within(cue.words, start, stop, bool(open_pieces)):
                if start > first:
                    open_pieces.append(SentencePiece(cue, first, start))
                close()
                found.append(Sentence((SentencePiece(cue, start, stop),), is_remark=True))
                first = stop
        ends = [p + 1 for p in range(first, len(cue.words)) if ends_sentence(cue.words[p].text)]
        for stop in ends:
            open_pieces.append(SentencePiece(cue, first, stop))
            close()
            first = stop
        if first < len(cue.words):
            open_pieces.append(SentencePiece(cue, first, len(cue.words)))
        before = cue
    close()
    return found


def touched(sentences: Sequence[Sentence], cues: Sequence[int]) -> list[Sentence]:
    """Return the sentences that have words in any of the cues with these ids."""
    wanted = set(cues)
    return [s for s in sentences if any(piece.cue.id in wanted for piece in s.pieces)]


def _begins_anew(before: Cue, cue: Cue) -> bool:
    return (
        cue.speaker != before.speaker
        or cue.opens_paragraph
        or cue.language != before.language
        or cue.start - before.end >= PAUSE_MS
        or (cue.start - before.end >= SHORT_PAUSE_MS and cue.words[0].text[:1].isupper())
        or cue.words[0].text[:1] in _STARTS
        or before.words[-1].text[-1:] in _SONG
    )


def _remarks(words: Sequence[Word]) -> Iterator[tuple[int, int]]:
    """Return where remarks in brackets stand among words."""
    begun: int | None = None
    for place, word in enumerate(words):
        if word.text.startswith("["):
            begun = place
        if begun is not None and word.text.rstrip(".,;:").endswith("]"):
            yield begun, place + 1
            begun = None


def _may_stay_within(words: Sequence[Word], start: int, stop: int, is_open: bool) -> bool:
    """Whether a remark stands between words of one sentence."""
    begins = (start == 0 and not is_open) or (start > 0 and ends_sentence(words[start - 1].text))
    return not begins and stop < len(words) and words[stop].text[:1].islower()


def _shorter(pieces: tuple[SentencePiece, ...], language: str) -> list[Sentence]:
    """Split a sentence at the best places while it is too long."""
    words = [(piece, place) for piece in pieces for place in range(piece.first, piece.last)]
    if len(words) <= MOST_WORDS:
        return [Sentence(pieces)]
    costs = border_costs([piece.cue.words[place].text for piece, place in words], language)
    third = len(words) // 3
    at = third + int(np.argmin(costs[third : len(words) - third]))
    return [*_shorter(_run(words[:at]), language), *_shorter(_run(words[at:]), language)]


def _run(words: Sequence[tuple[SentencePiece, int]]) -> tuple[SentencePiece, ...]:
    found: list[SentencePiece] = []
    for piece, place in words:
        if found and found[-1].cue is piece.cue:
            found[-1] = SentencePiece(piece.cue, found[-1].first, place + 1)
        else:
            found.append(SentencePiece(piece.cue, place, place + 1))
    return tuple(found)
