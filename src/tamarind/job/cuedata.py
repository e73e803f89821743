"""A cue as plain data, for the job's tables: numbers, and its words as JSON."""

from __future__ import annotations

import json
from typing import Any

from tamarind.transcript.model import Cue, Word


def row_of(cue: Cue) -> tuple[Any, ...]:
    """Id, start, end, speaker, opens a paragraph, settled, breaks, words, shaped, placement,
    note."""
    words = [
        [word.text, word.start, word.end, word.certainty, *_seldom(word)] for word in cue.words
    ]
    breaks = None if cue.breaks is None else json.dumps(cue.breaks)
    return (
        cue.id, cue.start, cue.end, cue.speaker, cue.opens_paragraph, cue.settled, breaks,
        json.dumps(words, ensure_ascii=False, separators=(",", ":")),
        cue.shaped, cue.placement, cue.note,
    )  # fmt: skip


def _seldom(word: Word) -> list[tuple[str, ...]]:
    """Readings and spans of a word, as far as there are any."""
    if word.spans:
        return [word.readings, word.spans]
    return [word.readings] if word.readings else []


def cue_of(row: tuple[Any, ...]) -> Cue:
    """The cue that ``row_of`` made a row of; rows of older versions lack the last three."""
    words = tuple(
        Word(text, start, end, certainty, *map(tuple, rest))
        for text, start, end, certainty, *rest in json.loads(row[7])
    )
    breaks = None if row[6] is None else tuple(json.loads(row[6]))
    shaped, placement = (bool(row[8]), row[9]) if len(row) > 9 else (False, "")
    note = row[10] if len(row) > 10 else ""
    return Cue(
        row[0], row[1], row[2], words, row[3], bool(row[4]), bool(row[5]), breaks, shaped,
        placement, note,
    )  # fmt: skip
