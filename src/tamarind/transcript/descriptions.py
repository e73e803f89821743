"""Audio descriptions: what is seen, read aloud where nobody speaks.

How fast such descriptions are read, and that they keep clear of speech, is as in the guidelines for
audio description (ITC Guidance on Standards for Audio Description, 2000; ISO/IEC TS 20071-21).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import floor
from typing import Any

from tamarind.transcript.bounds import LATEST, clean_text, is_clean
from tamarind.transcript.model import Cue, Speaker, Transcript
from tamarind.transcript.reconcile import spread
from tamarind.transcript.tokens import tokens_of

Span = tuple[int, int]
"""From and to, in ms."""

WORDS_A_MINUTE = 160
BREATH_MS = 120
"""What is left between a description and speech."""

SHORTEST_MS = 750
"""No shorter gap has room for a description, of two words."""

LONGEST_TEXT = 10_000
SPEAKER_NAME = "Description"


@dataclass(frozen=True, slots=True)
class Description:
    """The ``text`` is read from ``start`` (ms) on."""

    id: int
    start: int
    text: str

    @property
    def reading_time(self) -> int:
        """About how long reading it takes (ms)."""
        return reading_time(self.text)

    @property
    def end(self) -> int:
        """About when it has been read (ms)."""
        return self.start + self.reading_time


def reading_time(text: str) -> int:
    """Estimate how long reading a text aloud takes (ms): by words, or by letters where words are
    long or not separated."""
    words = max(len(text.split()), len(text) / 7)
    return round(words * 60_000 / WORDS_A_MINUTE)


def words_that_fit(length: int) -> int:
    """Return how many words can be read in a time (ms)."""
    return max(floor(length * WORDS_A_MINUTE / 60_000), 0)


def gaps(text: Transcript, length: int) -> list[Span]:
    """Return the gaps between words in a recording of a length (ms), less a breath on both
    sides."""
    found: list[Span] = []
    said = 0
    for start, end in sorted((word.start, word.end) for cue in text.cues for word in cue.words):
        low = said + BREATH_MS if said else 0
        if start - BREATH_MS - low >= SHORTEST_MS:
            found.append((low, start - BREATH_MS))
        said = max(said, end)
    low = said + BREATH_MS if said else 0
    if length - low >= SHORTEST_MS:
        found.append((low, length))
    return found


def room_for(one: Description, there: Sequence[Span]) -> Span | None:
    """Return the gap in which a description is read; None if somebody speaks as it begins."""
    return next(((a, b) for a, b in there if a - BREATH_MS <= one.start < b), None)


def problem_of(one: Description, there: Sequence[Span], spoken: int | None = None) -> str:
    """Say what is wrong with a description's place; "" if nothing. ``spoken`` is its exact reading
    time (ms), if known."""
    room = room_for(one, there)
    if room is None:
        return "begins while somebody speaks"
    needed = one.reading_time if spoken is None else spoken
    over = one.start + needed - room[1] - BREATH_MS
    if over <= 0:
        return ""
    words = -(-over * WORDS_A_MINUTE // 60_000)
    noun = "1 word" if words == 1 else f"{words} words"
    return f"is {noun} too long: it goes on into speech"


def interleaved(text: Transcript, descriptions: Sequence[Description]) -> Transcript:
    """Return a text with the descriptions as paragraphs of their own: a descriptive transcript.
    Cues keep their numbers."""
    if not descriptions:
        return text
    number = max((speaker.id for speaker in text.speakers), default=0) + 1
    next_id = text.next_id()
    described = [
        Cue(
            next_id + place, one.start, max(one.end, one.start + 1),
            tuple(spread(tokens_of(f"[{one.text}]"), one.start, max(one.end, one.start + 1))),
            number, True, True,
        )
        for place, one in enumerate(sorted(descriptions, key=lambda one: one.start))
    ]  # fmt: skip
    cues: list[Cue] = []
    for cue in _merged(text.cues, described):
        after = cues[-1] if cues else None
        if after is not None and after.speaker == number and cue.speaker != number:
            cue = replace(cue, opens_paragraph=True)
        cues.append(cue)
    return replace(text, cues=tuple(cues), speakers=(*text.speakers, Speaker(number, SPEAKER_NAME)))


def _merged(cues: Sequence[Cue], described: Sequence[Cue]) -> Iterator[Cue]:
    """Merge both, sorted by start; no description is put inside a cue."""
    waiting = list(described)
    for cue in cues:
        while waiting and waiting[0].start < cue.start:
            yield waiting.pop(0)
        yield cue
    yield from waiting


def row_of(one: Description) -> list[Any]:
    """Return a description as plain data."""
    return [one.id, one.start, one.text]


def description_of(row: Any) -> Description:
    """Return a description from plain data. Raises ValueError or TypeError."""
    number, start, text = row
    if type(number) is not int or number < 1 or type(start) is not int or not 0 <= start <= LATEST:
        raise ValueError("a description")
    if not isinstance(text, str) or not 0 < len(text) <= LONGEST_TEXT or not is_clean(text):
        raise ValueError("the text of a description")
    return Description(number, start, text)


def tidied(text: str) -> str:
    """Return what a person typed on one line."""
    return " ".join(clean_text(text).split())[:LONGEST_TEXT]
