"""The data of a text: immutable words, cues and transcripts, shared between versions.

All times are whole milliseconds from the start of the recording.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from operator import attrgetter

from tamarind.transcript.changed import changed_range
from tamarind.transcript.tokens import Glued, joined

_ID = attrgetter("id")
_IS_GLUED = attrgetter("glued")
_TEXT = attrgetter("text")

DOUBTFUL_BELOW = 0.92
"""A word heard with less confidence than this is a doubt until a person settles it."""


@dataclass(frozen=True, slots=True)
class Word:
    """A word with its punctuation ("museum,"); ``confidence`` None means that a person wrote it.

    ``spans`` are the WebVTT spans that it stands in, the outermost first, as in their start tags:
    "i" (italics), "c.loud" (a class), "lang es". It is ``glued`` where no space stands between it
    and the word before, as in scripts that have none.
    """

    text: str
    start: int
    end: int
    confidence: float | None = None
    alternatives: tuple[str, ...] = ()
    spans: tuple[str, ...] = ()
    glued: bool = False

    @property
    def token(self) -> str:
        """Its text, which knows whether a space precedes it."""
        return Glued(self.text) if self.glued else self.text

    @property
    def missing(self) -> str:
        """The words that may be missing before it: its first alternative is the word itself with
        more in front."""
        first = self.alternatives[0] if self.alternatives else ""
        head, _, last = first.rpartition(" ")
        return head if last.casefold() == self.text.casefold() else ""

    def is_doubt(self, threshold: float = DOUBTFUL_BELOW) -> bool:
        """Whether the recogniser was unsure of it and nobody has settled it."""
        return self.confidence is not None and self.confidence < threshold


def text_of(words: Sequence[Word]) -> str:
    """Return the text of some words."""
    if any(map(_IS_GLUED, words)):
        return joined(word.token for word in words)
    return " ".join(map(_TEXT, words))


@dataclass(frozen=True, slots=True)
class Cue:
    """A timed piece of text.

    ``breaks`` are the places of the words that begin a new line, None if the lines are to be
    laid out by rule. ``settled`` says that a person has proofed it, ``locked`` that its borders,
    times or lines are a person's choice, which laying out anew respects. ``placement`` is where a
    caption stands on the picture, as WebVTT cue settings ("line:0"); empty for the usual place.
    ``note`` is a remark that stands before it in a caption file and is never shown. ``language``
    is the BCP 47 tag of the language it is in, if that is not the text's. ``paragraph_set`` says
    that whether a paragraph opens with it is a person's choice. ``heading`` stands before the
    paragraph that it opens. ``look`` is the key of a look of its own on the picture, if it has one.
    """

    id: int
    start: int
    end: int
    words: tuple[Word, ...] = ()
    speaker: int | None = None
    opens_paragraph: bool = False
    settled: bool = False
    breaks: tuple[int, ...] | None = None
    locked: bool = False
    placement: str = ""
    note: str = ""
    language: str = ""
    paragraph_set: bool = False
    heading: str = ""
    look: str = ""

    @property
    def text(self) -> str:
        """The words on one line."""
        return text_of(self.words)

    @property
    def lines(self) -> tuple[str, ...]:
        """The words in their lines; one line if no breaks are set."""
        if not self.breaks:
            return (self.text,)
        if any(map(_IS_GLUED, self.words)):
            edges = [0, *self.breaks, len(self.words)]
            return tuple(text_of(self.words[a:b]) for a, b in pairwise(edges))
        texts, first, lines = [*map(_TEXT, self.words)], 0, []
        for last in (*self.breaks, len(texts)):
            lines.append(" ".join(texts[first:last]))
            first = last
        return tuple(lines)


@dataclass(frozen=True, slots=True)
class Speaker:
    """Someone who talks in a recording; ``name`` is "" for a voice that nobody has named yet."""

    id: int
    name: str

    @property
    def label(self) -> str:
        """The name, or "Voice 2" for a voice without one."""
        return self.name or f"Speaker {self.id}"


@dataclass(frozen=True, slots=True)
class Transcript:
    """The whole text of a recording in one language (a BCP 47 tag).

    ``preamble`` has the style and region blocks of a WebVTT file that it came from, as they stood.
    """

    language: str
    cues: tuple[Cue, ...] = ()
    speakers: tuple[Speaker, ...] = field(default=())
    preamble: str = ""

    def speaker(self, speaker_id: int | None) -> Speaker | None:
        """Return the speaker with an id, or None."""
        return next((s for s in self.speakers if s.id == speaker_id), None)

    def place_of(self, cue_id: int) -> int:
        """Return the index of the cue with an id. Raises KeyError."""
        for place, cue in enumerate(self.cues):
            if cue.id == cue_id:
                return place
        raise KeyError(cue_id)

    def place_at(self, time: int) -> int | None:
        """Return the index of the last cue that has begun at ``time`` (ms); None before the
        first."""
        low, high = 0, len(self.cues)
        while low < high:
            middle = (low + high) // 2
            if self.cues[middle].start <= time:
                low = middle + 1
            else:
                high = middle
        return low - 1 if low else None

    def next_id(self) -> int:
        """An unused cue id."""
        return _highest_id(self.cues) + 1


_counted: tuple[tuple[Cue, ...], int] = ((), 0)
"""The cues that were asked for last, and their highest id."""


def _highest_id(cues: tuple[Cue, ...]) -> int:
    """Return the highest cue id, from what has changed since it was asked for last, if that is the
    same text."""
    global _counted
    before, highest = _counted
    first, old_last, new_last = changed_range(before, cues)
    goes_on = first or old_last < len(before)
    if goes_on and max(map(_ID, before[first:old_last]), default=0) < highest:
        highest = max(highest, *map(_ID, cues[first:new_last]), 0)
    else:
        highest = max(map(_ID, cues), default=0)
    _counted = cues, highest
    return highest
