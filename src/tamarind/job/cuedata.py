"""Convert a cue to and from table rows: numbers, and its words as JSON."""

from __future__ import annotations

import json
import re
import zlib
from collections.abc import Sequence
from itertools import accumulate, chain, pairwise
from operator import lt
from typing import Any

import msgspec

from tamarind.transcript.bounds import (
    LATEST,
    LONGEST_WORD,
    clean_text,
    is_clean,
    is_placement,
)
from tamarind.transcript.codec import (
    BREAKS,
    CUE_FIELDS,
    data_of,
    with_data,
    word_of,
    word_row,
)
from tamarind.transcript.fields import Field
from tamarind.transcript.model import Cue, Word
from tamarind.transcript.reconcile import held
from tamarind.transcript.tokens import Glued, tokens_of

_decoded = msgspec.json.Decoder().decode
LONGEST_KEPT = 20 * LONGEST_WORD
"""Letters of a word in a job of an earlier version, which did not part them."""


def checksum(row: Sequence[Any]) -> int:
    """Return the CRC-32 of a row: a flipped bit makes another word, which nothing else would
    notice.

    An empty column at its end, which rows of earlier versions lack, does not count.
    """
    row = row[:-1] if len(row) == CUE_COLUMNS and not row[-1] else row
    return zlib.crc32("\x1f".join(map(str, row)).encode("utf-8", "surrogateescape"))


CUE_COLUMNS = 12


class DamagedError(ValueError):
    """Data is not as it was written; the message says in a few words what is wrong."""


COLUMNS = ("opens_paragraph", "settled", "locked", "placement", "note")
"""The fields that have a column of their own; all others lie together in one."""

_LATER = tuple(one for one in CUE_FIELDS if one.name not in COLUMNS)


def row_of(cue: Cue) -> tuple[Any, ...]:
    """Return id, start, end, speaker, opens a paragraph, settled, breaks, words, shaped, placement,
    note, and the fields without a column as JSON, "" if they have their defaults."""
    breaks = None if cue.breaks is None else json.dumps(cue.breaks)
    return (
        cue.id, cue.start, cue.end, cue.speaker, int(cue.opens_paragraph), int(cue.settled), breaks,
        _json(list(map(word_row, cue.words))),
        int(cue.locked), cue.placement, cue.note, _more(cue, _LATER),
    )  # fmt: skip


def cues_of(rows: Sequence[Sequence[Any]]) -> list[Cue]:
    """Return the cues of a whole text, as ``cue_of`` does one by one, but checking all words at
    once, for speed.

    Raises DamagedError if any of them is not as any cue is, without saying which.
    """
    words = _words_of_all([row[7] for row in rows])
    return [_cue_with(row, own) for row, own in zip(rows, words, strict=True)]


def cue_of(row: Sequence[Any]) -> Cue:
    """Return the cue of a row of ``row_of``; rows of older versions lack the last four.

    Raises DamagedError unless all of it is as any cue is.
    """
    try:
        words = words_of(row[7])
    except (ValueError, TypeError, LookupError, RecursionError, AttributeError) as error:
        raise DamagedError(str(error)) from None
    return _cue_with(row, words)


def _cue_with(row: Sequence[Any], words: tuple[Word, ...]) -> Cue:
    try:
        number, start, end, speaker, opens, settled, breaks, _words, *rest = row
        locked, placement, note, more = rest if len(rest) == 4 else [*rest, 0, "", "", ""][:4]
        cue = Cue(
            whole(number, 1),
            whole(start),
            whole(end),
            words,
            None if speaker is None else whole(speaker, 0),
            bool(opens),
            bool(settled),
            None,
            bool(locked),
            placement if placement == "" else _placement(placement),
            note if note == "" else text(note),
        )
        if more:
            cue = _with_more(cue, more, _LATER)
    except (ValueError, TypeError, LookupError, RecursionError, AttributeError) as error:
        raise DamagedError(str(error)) from None
    if cue.end <= cue.start:
        raise DamagedError("it ends before it begins")
    if breaks is None:
        return cue
    return _with_breaks(cue, breaks)


def draft_row_of(cue: Cue) -> tuple[Any, ...]:
    """Return start, end, speaker, opens a paragraph, words, and all else as JSON."""
    row = row_of(cue)
    return (*row[1:5], row[7], _more(cue, _IN_DRAFTS))


def draft_cue_of(row: Sequence[Any]) -> Cue:
    """Return the cue of a number and a row of ``draft_row_of``. Raises DamagedError."""
    *first, words, more = row
    cue = cue_of((*first, 0, None, words))
    try:
        return _with_more(cue, more, _IN_DRAFTS) if more else cue
    except (ValueError, TypeError, RecursionError, AttributeError) as error:
        raise DamagedError(str(error)) from None


_IN_DRAFTS = (BREAKS, *(one for one in CUE_FIELDS if one.name != "opens_paragraph"))


def _more(cue: Cue, fields: Sequence[Field]) -> str:
    found = data_of(cue, fields)
    return _json(found) if found else ""


def _with_more(cue: Cue, more: Any, fields: Sequence[Field]) -> Cue:
    return with_data(cue, json.loads(more), fields)


def _json(data: Any) -> str:
    return json.dumps(data, ensure_ascii=False, separators=(",", ":"))


def _with_breaks(cue: Cue, data: object) -> Cue:
    try:
        return with_data(cue, {"breaks": json.loads(str(data))}, (BREAKS,))
    except (ValueError, RecursionError):
        raise DamagedError("its lines") from None


def words_of(data: object) -> tuple[Word, ...]:
    """Return the words in a row's JSON. Raises ValueError or TypeError."""
    if not isinstance(data, str):
        raise DamagedError("its words are no text")
    rows = json.loads(data)
    if not isinstance(rows, list):
        raise DamagedError("its words")
    if not is_clean(data) or ("\\u" in data and not all(is_clean(row[0]) for row in rows)):
        raise DamagedError("its letters")
    _check_words(rows, frozenset())
    return tuple([Word(*row) if len(row) == 4 else word_of(row) for row in rows])


def _words_of_all(data: Sequence[Any]) -> list[tuple[Word, ...]]:
    """Return the words of many rows at once."""
    if set(map(type, data)) - {str}:
        raise DamagedError("words that are no text")
    whole_text = "".join(data)
    try:
        texts = list(map(_decoded, data))
    except (msgspec.DecodeError, RecursionError):
        raise DamagedError("some words") from None
    if set(map(type, texts)) - {list}:
        raise DamagedError("some words")
    rows = list(chain.from_iterable(texts))
    try:
        has_escapes = "\\u" in whole_text and not all(is_clean(row[0]) for row in rows)
        if not is_clean(whole_text) or has_escapes:
            raise DamagedError("some letters")
        _check_words(rows, frozenset(accumulate(map(len, texts))))
        words = [Word(*row) if len(row) == 4 else word_of(row) for row in rows]
    except (ValueError, TypeError, LookupError, RecursionError, AttributeError) as error:
        raise DamagedError(str(error)) from None
    ends = list(accumulate(map(len, texts), initial=0))
    return [tuple(words[first:last]) for first, last in pairwise(ends)]


def _check_words(rows: Sequence[Any], begins: frozenset[int]) -> None:
    """Raise DamagedError unless rows are those of words in order; another cue's words begin at each
    of the indices ``begins``."""
    if not rows:
        return
    # This is done for every word of a job at its opening, hence by columns.
    texts, starts, ends, sure = ([row[place] for row in rows] for place in range(4))
    if (
        set(map(type, texts)) != {str}
        or set(map(type, starts)) != {int}
        or set(map(type, ends)) != {int}
        or not all(map(lt, starts, ends))
        or any(n not in begins for n, (a, b) in enumerate(pairwise(starts), 1) if a > b)
        or min(starts) < 0
        or max(ends) > LATEST
        or "" in texts
        or max(map(len, texts)) > LONGEST_KEPT
    ):
        raise DamagedError("a word or its time")
    known = [one for one in sure if one is not None]
    if known and (not set(map(type, known)) <= {int, float} or not _are_shares(known)):
        raise DamagedError("a certainty")


def _are_shares(numbers: Sequence[float]) -> bool:
    """Whether all numbers are from 0 to 1; NaN is not."""
    return all(0 <= number <= 1 for number in numbers)


def whole(value: object, least: int = 0, most: int = LATEST) -> int:
    """Return a whole number within bounds. Raises DamagedError for anything else."""
    if type(value) is not int or not least <= value <= most:
        raise DamagedError(f"{str(value)[:40]!r} where a whole number should be")
    return value


def text(value: object, longest: int = 10_000_000) -> str:
    """Return a text of valid characters. Raises DamagedError for anything else."""
    if not isinstance(value, str) or len(value) > longest or not is_clean(value):
        raise DamagedError("a text that is none")
    return value


def _placement(value: object) -> str:
    if not isinstance(value, str) or not is_placement(value):
        raise DamagedError("its place on the picture")
    return value


def cue_saved_from(row: Sequence[Any]) -> Cue | None:
    """Return as much of a damaged row as is valid, at least its words; else None."""
    values = [*row, *[None] * CUE_COLUMNS][:CUE_COLUMNS]
    start = _whole_or(values[1], 0)
    end = max(_whole_or(values[2], start), start + 1)
    words = _words_saved_from(values[7], start, end)
    if words is None:
        return None
    end = min(max(end, start + len(words)), LATEST)
    speaker = values[3] if type(values[3]) is int and values[3] >= 0 else None
    note = clean_text(values[10]) if isinstance(values[10], str) else ""
    cue = Cue(
        _whole_or(values[0], 0), start, end, held(words, start, end), speaker,
        bool(values[4]), bool(values[5]), None, bool(values[8]), "", note,
    )  # fmt: skip
    try:
        return cue if values[6] is None else _with_breaks(cue, values[6])
    except (ValueError, RecursionError):
        return cue


def _words_saved_from(data: object, start: int, end: int) -> tuple[Word, ...] | None:
    """Place words with invalid times between those with valid ones."""
    if isinstance(data, bytes):
        data = data.decode("utf-8", "replace")
    if not isinstance(data, str):
        return None
    try:
        rows = json.loads(data)
    except (ValueError, RecursionError):
        # The texts are what matters, and they stand in quotes at the start of each word.
        rows = [[said] for said in _strings_of(data)] or None
    if rows is None:
        return None
    words: list[Word] = []
    last = start
    for row in rows if isinstance(rows, list) else ():
        if not isinstance(row, list) or not row or not isinstance(row[0], str):
            continue
        begun = _whole_or(row[1] if len(row) > 1 else None, last)
        until = _whole_or(row[2] if len(row) > 2 else None, begun + 1)
        sure = row[3] if len(row) > 3 else None
        confidence = float(sure) if isinstance(sure, int | float) and 0 <= sure <= 1 else None
        for said in tokens_of(clean_text(row[0])):
            begin = max(begun, last)
            words.append(
                Word(str(said), begin, max(until, begin + 1), confidence, glued=type(said) is Glued)
            )
            last = min(words[-1].end, LATEST - 1)
    return tuple(words)


def _strings_of(data: str) -> list[str]:
    found = []
    for quoted in re.findall(r'\[("(?:[^"\\]|\\.)*"),\d', data):
        try:
            found.append(str(json.loads(quoted)))
        except ValueError:
            continue
    return found


def _whole_or(value: object, otherwise: int) -> int:
    return value if type(value) is int and 0 <= value <= LATEST else otherwise
