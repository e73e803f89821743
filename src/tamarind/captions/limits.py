"""The numbers that captions are held to; times in milliseconds."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

ROUNDING = 0.5
"""So many characters a second beyond the reading speed are within the rounding of times to whole
milliseconds and frames, and no breach."""


class SpeakerMarks(StrEnum):
    """How captions show who speaks: not at all; a dash each where two share a cue; the name at
    every change (NAME: or [Name]); a colour each."""

    NONE = "none"
    DASHES = "dashes"
    NAME = "name"
    BRACKETS = "brackets"
    COLOURS = "colours"


@dataclass(frozen=True, slots=True)
class Limits:
    """Ordinary captions: 42 letters, two lines, one to seven seconds, 20 characters a second.

    ``reading_speed`` is in characters per second, spaces counted if ``counts_spaces``; a line
    border counts as a space. ``frame_rate`` is None unless times must sit on frames.
    """

    line_length: int = 42
    lines: int = 2
    shortest: int = 1_000
    longest: int = 7_000
    gap: int = 40
    lead_in: int = 60
    lead_out: int = 240
    reading_speed: float = 20.0
    counts_spaces: bool = True
    frame_rate: float | None = None
    speakers: SpeakerMarks = SpeakerMarks.NONE

    def letters(self, text: str) -> int:
        """How many characters of a text count for its reading speed."""
        return len(text) if self.counts_spaces else len(text) - text.count(" ")

    def speed(self, text: str, start: int, end: int) -> float:
        """Characters per second of a text that is shown from start to end (ms)."""
        return 1000 * self.letters(text) / max(end - start, 1)

    def is_too_fast(self, text: str, start: int, end: int) -> bool:
        """Whether a text cannot be read while it is shown."""
        return self.speed(text, start, end) > self.reading_speed + ROUNDING

    def reading_time(self, text: str) -> int:
        """How long (ms) a text must stand to be read at the style's speed."""
        return -int(-1000 * self.letters(text) // self.reading_speed)


ORDINARY = Limits()
