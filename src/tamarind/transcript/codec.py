"""The fields of cues and words as plain data: what each is called where it is kept, and how it is
checked. A field that is added to ``model`` is added here, and kept everywhere by that: in jobs,
drafts, undo, bookmarks and JSON.

Numbers, times and texts of cues and words are not here: every format writes them in its own way.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from tamarind.transcript.bounds import is_clean, is_language, is_placement
from tamarind.transcript.model import Cue, Speaker, Word

LONGEST_TEXT = 10_000_000


@dataclass(frozen=True, slots=True)
class Field:
    """``name`` in the model, ``key`` in data; ``read`` checks a plain value and gives that of the
    model, or raises ValueError. A ``lenient`` one is left out of a foreign file that has it
    wrong."""

    name: str
    key: str
    default: Any
    read: Callable[[Any], Any]
    lenient: bool = False


def _yes(value: Any) -> bool:
    if value not in (True, False, 0, 1):
        raise ValueError("yes or no")
    return bool(value)


def _text(value: Any) -> str:
    if not isinstance(value, str) or len(value) > LONGEST_TEXT or not is_clean(value):
        raise ValueError("a text that is none")
    return value


def _placement(value: Any) -> str:
    if not isinstance(value, str) or not is_placement(value):
        raise ValueError("its place on the picture")
    return value


def _language(value: Any) -> str:
    if not isinstance(value, str) or not (value == "" or is_language(value)):
        raise ValueError("its language")
    return value


def _heading(value: Any) -> str:
    if _text(value) != " ".join(value.split()):
        raise ValueError("a heading of one line")
    return str(value)


def _texts(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list | tuple) or not all(isinstance(one, str) for one in value):
        raise ValueError("a list of texts")
    return tuple(value)


def _places(value: Any) -> tuple[int, ...] | None:
    if value is None:
        return None
    last = 0
    if not isinstance(value, list | tuple):
        raise ValueError("its lines")
    for place in value:
        if type(place) is not int or not last < place:
            raise ValueError("its lines")
        last = place
    return tuple(value)


BREAKS = Field("breaks", "breaks", None, _places)
CUE_FIELDS = (
    Field("opens_paragraph", "paragraph", False, _yes),
    Field("settled", "settled", False, _yes),
    Field("locked", "shaped", False, _yes),
    Field("placement", "placement", "", _placement, lenient=True),
    Field("note", "note", "", _text),
    Field("language", "language", "", _language, lenient=True),
    Field("paragraph_set", "paragraph set", False, _yes),
    Field("heading", "heading", "", _heading),
    Field("look", "look", "", _heading, lenient=True),
)
WORD_FIELDS = (
    Field("alternatives", "readings", (), _texts),
    Field("spans", "spans", (), _texts),
    Field("glued", "glued", False, _yes, lenient=True),
)


def data_of(thing: Cue | Word, fields: Sequence[Field]) -> dict[str, Any]:
    """The fields that are not as usual, by their keys."""
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
    """The values by their names in the model; raises ValueError. What a field does not say, or
    says wrongly in a foreign file where that may be, is as usual."""
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
    """A cue with what data say of some fields; raises ValueError."""
    read = read_fields(data, fields)
    breaks = read.get("breaks")
    if breaks and breaks[-1] >= len(cue.words):
        raise ValueError("its lines")
    return replace(cue, **read)


def word_row(word: Word) -> list[Any]:
    """Text, start, end, confidence; then the other fields up to the last that is not as usual."""
    more = [getattr(word, one.name) for one in WORD_FIELDS]
    while more and more[-1] == WORD_FIELDS[len(more) - 1].default:
        more.pop()
    return [word.text, word.start, word.end, word.confidence, *more]


def word_of(row: Sequence[Any]) -> Word:
    """The word of a row whose first four are checked already; raises ValueError for others."""
    if len(row) == 4:
        return Word(*row)
    if len(row) > 4 + len(WORD_FIELDS):
        raise ValueError("more than is known of a word")
    more = zip(WORD_FIELDS, row[4:], strict=False)
    return Word(*row[:4], **{one.name: one.read(value) for one, value in more})


def speaker_row(speaker: Speaker) -> list[Any]:
    """Number and name."""
    return [speaker.id, speaker.name]


def speaker_of(row: Sequence[Any]) -> Speaker:
    """The speaker of a row; raises ValueError."""
    number, name = row
    if type(number) is not int or number < 0:
        raise ValueError("the number of a speaker")
    return Speaker(number, _text(name))
