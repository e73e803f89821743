"""Convert cues, words and speakers to and from plain data, by the table of their fields."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from tamarind.transcript.fields import OF_A_CUE, OF_A_WORD, Field, read_text
from tamarind.transcript.model import Cue, Speaker, Word

BREAKS = next(one for one in OF_A_CUE if one.name == "breaks")
CUE_FIELDS = tuple(one for one in OF_A_CUE if one.key and one is not BREAKS)
"""Those that are kept by their keys; every format writes the others in its own way."""

WORD_FIELDS = tuple(one for one in OF_A_WORD if one.key)


def data_of(thing: Cue | Word, fields: Sequence[Field]) -> dict[str, Any]:
    """Return the fields that differ from their defaults, by key."""
    found = {one.key: getattr(thing, one.name) for one in fields}
    usual = {one.key: one.default for one in fields}
    return {
        key: list(value) if isinstance(value, tuple) else value
        for key, value in found.items()
        if value != usual[key]
    }


def read_fields(
    data: Mapping[str, Any], fields: Sequence[Field], is_foreign: bool = False
) -> dict[str, Any]:
    """Return values by attribute name. Missing fields, and wrong ones in a foreign file where that
    is allowed, have their defaults. Raises ValueError."""
    found: dict[str, Any] = {}
    for one in fields:
        value = data.get(one.key)
        if value is None:
            continue
        try:
            found[one.name] = one.read(value)
        except ValueError:
            if not (is_foreign and one.lenient):
                raise
    return found


def with_data(cue: Cue, data: Mapping[str, Any], fields: Sequence[Field]) -> Cue:
    """Return a cue with some fields from data. Raises ValueError."""
    read = read_fields(data, fields)
    breaks = read.get("breaks")
    if breaks and breaks[-1] >= len(cue.words):
        raise ValueError("its lines")
    return replace(cue, **read)


def word_row(word: Word) -> list[Any]:
    """Return text, start, end, confidence, then the other fields up to the last that is not
    default."""
    more = [getattr(word, one.name) for one in WORD_FIELDS]
    while more and more[-1] == WORD_FIELDS[len(more) - 1].default:
        more.pop()
    return [word.text, word.start, word.end, word.confidence, *more]


def word_of(row: Sequence[Any]) -> Word:
    """Return the word of a row whose first four are checked. Raises ValueError."""
    if len(row) == 4:
        return Word(*row)
    if len(row) > 4 + len(WORD_FIELDS):
        raise ValueError("more than is known of a word")
    more = zip(WORD_FIELDS, row[4:], strict=False)
    return Word(*row[:4], **{one.name: one.read(value) for one, value in more})


def speaker_row(speaker: Speaker) -> list[Any]:
    """Return number and name."""
    return [speaker.id, speaker.name]


def speaker_of(row: Sequence[Any]) -> Speaker:
    """Return the speaker of a row. Raises ValueError."""
    number, name = row
    if type(number) is not int or number < 0:
        raise ValueError("the number of a speaker")
    return Speaker(number, read_text(name))
