"""The state of each cue of a track, and by how much a text is too long for its time."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum
from math import ceil

from tamarind.captions.limits import Limits
from tamarind.transcript.model import Cue
from tamarind.translation.tracks import Track


class CueState(Enum):
    """The state of a cue's translation; the value is what a person reads."""

    NOTHING = ""
    MISSING = "not translated yet"
    STALE = "source changed since"
    DOUBTFUL = "marked for review"
    TOO_LONG = "too long"
    MACHINE = "to check"
    EDITED = "edited"
    APPROVED = "approved"

    @property
    def is_open(self) -> bool:
        """Whether a person still has something to do."""
        return self not in (CueState.NOTHING, CueState.EDITED, CueState.APPROVED)


def state_of(track: Track, cue: Cue, limits: Limits) -> CueState:
    """Return the most important state. A person who approves a text that is too long knows it."""
    entry = track.texts.get(cue.id)
    if not cue.words and (entry is None or not entry.text):
        return CueState.NOTHING
    if entry is None or not entry.text:
        return CueState.MISSING
    if track.is_stale(cue):
        return CueState.STALE
    if entry.doubtful:
        return CueState.DOUBTFUL
    if entry.approved:
        return CueState.APPROVED
    if letters_over(entry.text, cue, limits) > 0:
        return CueState.TOO_LONG
    return CueState.EDITED if entry.by_person else CueState.MACHINE


def letters_over(text: str, cue: Cue, limits: Limits) -> int:
    """Return how many characters a text has beyond what can be read in a cue's time and fits its
    lines."""
    seconds = (cue.end - cue.start) / 1000
    over = limits.width(text) - limits.lines * limits.line_length
    if limits.is_too_fast(text, cue.start, cue.end):
        over = max(over, limits.letters(text) - limits.reading_speed * seconds)
    return max(ceil(over), 0)


def next_open(
    track: Track, cues: Sequence[Cue], limits: Limits, place: int, direction: int = 1
) -> int | None:
    """Return the nearest cue from ``place`` on, round the ends, that has something to do; not the
    one there itself."""
    for step in range(1, len(cues)):
        at = (place + step * direction) % len(cues)
        if state_of(track, cues[at], limits).is_open:
            return at
    return None
