"""The table of fields of cues, words and speakers: how each is stored, what happens to it when cues
are cut and joined, and what is told where a format cannot hold it.

Jobs, drafts, undo, bookmarks, JSON, edits and the losses of formats all go by these tables, so a
field that is added to ``model`` and here is lost nowhere.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum, StrEnum
from typing import Any

from tamarind.transcript.bounds import is_clean, is_language, is_placement

LONGEST_TEXT = 10_000_000


class Holds(StrEnum):
    """Styling that a format may be able to hold, in words."""

    LOOK = "italics, bold and underlined"
    COLOUR = "colours"
    CLASS = "classes"
    LANGUAGE = "languages of words"
    RUBY = "ruby annotations"
    PLACE = "places on the picture"
    FINE_PLACE = "exact places (the nearest of nine is written)"
    NOTE = "notes"
    BLOCKS = "style and region blocks"
    SPEAKER = "who speaks"
    HEADING = "headings"
    OWN_LOOK = "styles of single captions"


class Fate(StrEnum):
    """What happens to a field in every format."""

    SAID = "said in every format"
    LAYOUT = "paragraphs of documents, lines of captions"
    WORK = "the job's own, which is no part of any document"


class Belongs(Enum):
    """Where a field goes when a cue is cut: into every piece, or to its beginning."""

    TO_ALL = "all"
    TO_BEGINNING = "beginning"
    SET_BY_ACTS = "acts"
    """What is cut or joined is this; every act says itself what becomes of it."""


@dataclass(frozen=True, slots=True)
class Field:
    """``name`` is that in the model, ``default`` its default value.

    ``fate`` is what formats do with it. ``key`` is what it is called in data, where ``read`` checks
    a plain value and gives that of the model, or raises ValueError; without a key every format
    writes it in its own way. A ``lenient`` one is left out of a foreign file that has it wrong.
    ``together`` makes one value of those of the cues that are joined, in order.
    """

    name: str
    fate: Holds | Fate
    default: Any = None
    key: str = ""
    read: Callable[[Any], Any] = lambda value: value
    lenient: bool = False
    belongs: Belongs = Belongs.SET_BY_ACTS
    together: Callable[[Sequence[Any]], Any] = lambda values: values[0]


def _yes(value: Any) -> bool:
    if value not in (True, False, 0, 1):
        raise ValueError("yes or no")
    return bool(value)


def read_text(value: Any) -> str:
    """Return a text of valid characters. Raises ValueError."""
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


def _one_line(value: Any) -> str:
    if read_text(value) != " ".join(value.split()):
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


def _first_said(values: Sequence[Any]) -> Any:
    return next((value for value in values if value), values[0])


def _joined_notes(values: Sequence[str]) -> str:
    return "\n\n".join(value for value in values if value)


_ALL, _BEGINNING = Belongs.TO_ALL, Belongs.TO_BEGINNING

OF_A_CUE = (
    Field("id", Fate.WORK),
    Field("start", Fate.SAID),
    Field("end", Fate.SAID),
    Field("words", Fate.SAID, ()),
    Field("speaker", Holds.SPEAKER, belongs=_ALL),
    Field(
        "opens_paragraph", Fate.LAYOUT, False, key="paragraph", read=_yes, belongs=_BEGINNING
    ),
    Field("settled", Fate.WORK, False, key="settled", read=_yes, belongs=_ALL, together=all),
    Field("breaks", Fate.LAYOUT, key="breaks", read=_places),
    Field("locked", Fate.WORK, False, key="shaped", read=_yes),
    Field(
        "placement", Holds.PLACE, "", key="placement", read=_placement, lenient=True,
        belongs=_ALL, together=_first_said,
    ),
    Field(
        "note", Holds.NOTE, "", key="note", read=read_text, belongs=_BEGINNING,
        together=_joined_notes,
    ),
    Field(
        "language", Holds.LANGUAGE, "", key="language", read=_language, lenient=True, belongs=_ALL
    ),
    Field(
        "paragraph_set", Fate.WORK, False, key="paragraph set", read=_yes, belongs=_BEGINNING,
        together=any,
    ),
    Field(
        "heading", Holds.HEADING, "", key="heading", read=_one_line, belongs=_BEGINNING,
        together=_first_said,
    ),
    Field(
        "look", Holds.OWN_LOOK, "", key="look", read=_one_line, lenient=True, belongs=_ALL,
        together=_first_said,
    ),
)  # fmt: skip
OF_A_WORD = (
    Field("text", Fate.SAID),
    Field("start", Fate.SAID),
    Field("end", Fate.SAID),
    Field("confidence", Fate.WORK),
    Field("alternatives", Fate.WORK, (), key="readings", read=_texts),
    Field("spans", Holds.LOOK, (), key="spans", read=_texts),
    Field("glued", Fate.SAID, False, key="glued", read=_yes, lenient=True),
)
"""Spans are of several kinds: ``losses`` tells which."""
