"""Shift and stretch all times of a text, as for another cut or speed of the picture."""

from __future__ import annotations

from dataclasses import dataclass, replace

from tamarind.transcript.bounds import LATEST
from tamarind.transcript.model import Cue, Transcript
from tamarind.transcript.reconcile import held

_HOUR_MS = 3_600_000


@dataclass(frozen=True, slots=True)
class Retiming:
    """Every time becomes ``time * rate + shift`` (ms). Raises ValueError for a rate not above 0."""

    shift: int = 0
    rate: float = 1.0

    def __post_init__(self) -> None:
        if not 0 < self.rate < 1000:
            raise ValueError("Times can be stretched by more than 0 and less than 1000.")

    def of(self, text: Transcript) -> tuple[Transcript, int]:
        """Return the text with new times, and how many cues have no place any more.

        What would begin before the start begins there.
        """
        cues = [self._moved(cue) for cue in text.cues]
        kept = tuple(cue for cue in cues if cue.end > 0 and cue.start < LATEST)
        return replace(text, cues=tuple(map(_within, kept))), len(cues) - len(kept)

    def time(self, time: int) -> int:
        """Return the new time (ms)."""
        return round(time * self.rate) + self.shift

    def _moved(self, cue: Cue) -> Cue:
        words = tuple(
            replace(word, start=self.time(word.start), end=self.time(word.end))
            for word in cue.words
        )
        return replace(cue, start=self.time(cue.start), end=self.time(cue.end), words=words)


def from_its_hour(text: Transcript, duration: int) -> tuple[Transcript, int]:
    """Return a text whose timecodes begin at a whole hour with times from the recording's start,
    and the hours removed: none if it lies within the recording's ``duration`` (ms)."""
    first = min((cue.start for cue in text.cues), default=0)
    hours = first // _HOUR_MS
    if not hours or duration <= 0 or first < duration:
        return text, 0
    return Retiming(-hours * _HOUR_MS).of(text)[0], hours


def _within(cue: Cue) -> Cue:
    start = max(cue.start, 0)
    end = max(cue.end, start + max(len(cue.words), 1))
    return replace(cue, start=start, end=end, words=held(cue.words, start, end))
